"""Plates and the other files that looks name."""
