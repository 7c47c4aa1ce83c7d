"""Full disks: how they are known, and what is said of them."""

import errno

FULL_ERRNOS = (errno.ENOSPC, errno.EDQUOT)

FULL = "the disk is full: make room on it, and do it again"


def is_full(error: OSError) -> bool:
    """Whether an error says that a disk, or one's share of it, is full."""
    return error.errno in FULL_ERRNOS


def reason_of(error: Exception) -> str:
    """What the user is told of an error: of a full disk, what to do."""
    return FULL if isinstance(error, OSError) and is_full(error) else str(error)
