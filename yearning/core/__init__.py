"""Computation only: pictures in, pictures out. No files, no network, no clock."""
