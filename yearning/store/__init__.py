"""The project: a folder, and one SQLite file in it."""
