"""Renders: whole clips through a look, into files."""
