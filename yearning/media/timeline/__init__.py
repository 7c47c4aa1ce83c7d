"""Timelines of editors, read and written by OpenTimelineIO."""
