"""Masks: shapes that say where a step shows, and their coverage of each pixel."""
