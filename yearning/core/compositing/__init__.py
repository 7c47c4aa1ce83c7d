"""Laying a treated picture back on the one below it."""
