"""Arrays that kernels make for themselves, and copies of lines.

A kernel that calls `np.empty`, or assigns one array to a part of another, has that compiled anew
for its own types, with the words of its errors: up to a second each time. These are compiled once,
for all kernels.
"""

import numba
import numpy as np
from numpy.typing import NDArray

Integer = int | np.int64
"""A whole number. One that is written in a kernel is passed on as `np.int64`: each number of
Python's would have what it is passed to compiled anew."""


@numba.njit("float32[::1](int64)", nogil=True, cache=True)
def new_line(width: Integer) -> NDArray[np.float32]:
    """Return an array of `width` numbers, whatever they are."""
    return np.empty(width, np.float32)


@numba.njit("float32[:,::1](int64, int64)", nogil=True, cache=True)
def new_lines(count: Integer, width: Integer) -> NDArray[np.float32]:
    """Return an array of shape `(count, width)`, whatever is in it.

    Args:
        count: of the lines.
        width: of each.
    """
    return np.empty((count, width), np.float32)


@numba.njit("int32[::1](int64)", nogil=True, cache=True)
def new_int_line(width: Integer) -> NDArray[np.int32]:
    """Return an array of `width` whole numbers, whatever they are."""
    return np.empty(width, np.int32)


@numba.njit("float64[::1](int64)", nogil=True, cache=True)
def new_double_line(width: Integer) -> NDArray[np.float64]:
    """Return an array of `width` numbers of double precision, whatever they are."""
    return np.empty(width, np.float64)


@numba.njit("uint32[::1](int64)", nogil=True, cache=True)
def new_word_line(width: Integer) -> NDArray[np.uint32]:
    """Return an array of `width` words of 32 bits, whatever they are."""
    return np.empty(width, np.uint32)


_READ_LINE = numba.types.Array(numba.float32, 1, "C", readonly=True)
"""A line that may be one that is not to be written to, as those of kept pictures."""


@numba.njit(numba.void(_READ_LINE, numba.float32[::1]), nogil=True, cache=True)
def copy_line(line: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    """Write to `out` as many numbers of a line, from its first on.

    Args:
        line: at least as long as `out`.
        out: takes as many numbers as it has.
    """
    for x in range(out.shape[0]):
        out[x] = line[x]
