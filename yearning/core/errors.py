"""The base of the errors that say what can not be done, and what to do instead."""


class YearningError(Exception):
    """A request that can't be met; the message says where, why and what to do, in one line."""


class InvalidLookError(YearningError, ValueError):
    """A look that can't be used; its message names each place and what is wrong there."""


class TreatmentError(YearningError):
    """A treatment of another package failed; the message says which, at which frame, and how."""
