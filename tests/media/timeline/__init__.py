"""Timelines."""
