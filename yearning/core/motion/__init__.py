"""Optical flow, and what is done along it."""
