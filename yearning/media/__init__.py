"""Footage in and results out, through PyAV."""
