"""What every treatment is built on: the base class, its capabilities, and what it may ask for."""
