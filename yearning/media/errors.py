"""What can be wrong with a file."""

from yearning.core.errors import YearningError


class MediaError(YearningError):
    """A file that can't be used; the message says which, why, and what to do, in one line."""
