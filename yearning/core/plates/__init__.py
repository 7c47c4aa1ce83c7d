"""Plates that are computed rather than scanned."""
