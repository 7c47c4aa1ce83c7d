"""What can be wrong with a file."""


class MediaError(Exception):
    """A file that can't be used; the message says which, why, and what to do, in one line."""
