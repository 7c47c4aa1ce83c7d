"""Yearning stylizes moving footage: looks made of ordered treatments, steady across time."""

__version__ = "0.1.0"
