"""Names of numbered stills, like `shot.%04d.png`."""

import re

NUMBER = re.compile(r"%0?(\d*)d")

MAX_DIGITS = 18


def is_frame_pattern(name: str) -> bool:
    """Whether a file name stands for numbered stills.

    >>> is_frame_pattern("shot.%04d.png"), is_frame_pattern("shot.png")
    (True, False)
    """
    return NUMBER.search(name) is not None


def has_one_number(pattern: str) -> bool:
    """Whether a pattern has exactly one place for a number, and no other per cent sign."""
    return len(NUMBER.findall(pattern)) == 1 and pattern.count("%") == 1


def frame_number(pattern: str, name: str) -> int | None:
    """Return the number of a still of a pattern, or None where it has none of that name.

    Args:
        pattern: like `shot.%04d.png`.
        name: of the still.

    >>> frame_number("shot.%04d.png", "shot.0012.png")
    12
    """
    before, after = NUMBER.sub("\0", pattern).split("\0")
    if not (name.startswith(before) and name.endswith(after)):
        return None
    digits = name[len(before) : len(name) - len(after)]
    if not (digits.isascii() and digits.isdigit() and len(digits) <= MAX_DIGITS):
        return None
    return int(digits) if pattern % int(digits) == name else None
