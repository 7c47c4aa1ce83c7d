"""What is measured in the background, and kept with the project."""
