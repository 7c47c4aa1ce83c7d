"""From pictures to files."""
