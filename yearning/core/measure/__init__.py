"""Measuring pictures: readings to judge by."""
