"""Why the store can't do what was asked of it."""

from yearning.core.errors import YearningError


class ProjectError(YearningError):
    """The folder can't be used as a project; the message says why."""


class NotThere(Exception):
    """No clip, look or render has that number."""


class Stale(Exception):
    """The edit was made from a revision that no longer stands."""


class NothingLeft(Exception):
    """There is nothing to undo, or to redo."""


class ClipLost(Exception):
    """The clip's file is gone or holds something else now; the message says what to do."""
