"""Colour: luma, transfer functions, code matrices, curves."""
