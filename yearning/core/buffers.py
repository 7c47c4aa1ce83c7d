"""Large arrays whose memory is used again.

A page fresh from the system costs more than a blur's pass. Small ones the C library keeps by
itself.
"""

import ctypes
import math
import threading
import weakref

import numpy as np
from numpy.typing import NDArray

MAX_FREE_BYTES = 192 << 20
"""Memory kept for arrays to come; beyond it, sizes longest not asked for go to the system first."""

POOLED_BYTES = 1 << 20
"""Arrays from this size on are worth the keeping of books."""

M_ARENA_MAX, ARENAS = -8, 2
"""mallopt(3): how many heaps the threads share. With one for each thread, as glibc has it, what
one gave back is of no use to the others: a server grew by a third."""


def share_heaps() -> None:
    """Have all threads of this process share few heaps, where the C library can do so."""
    mallopt = getattr(ctypes.CDLL(None), "mallopt", None)
    if mallopt is not None:
        mallopt(M_ARENA_MAX, ARENAS)


def return_free_memory() -> None:
    """Give memory back to the system that nothing is in: of arrays to come, and of the heaps.

    The C library keeps what was freed between arrays in use; `malloc_trim(3)` gives back every page
    of it. Not for each picture: pages that are had anew cost more than a blur's pass.
    """
    global _free_bytes
    with _lock:
        _free.clear()
        _free_bytes = 0
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)


_free: dict[int, list[NDArray[np.uint8]]] = {}  # by size, the one longest not used first
_free_bytes = 0
_lock = threading.RLock()  # the collector may give a block back while this thread holds it


def _give_back(block: NDArray[np.uint8]) -> None:
    global _free_bytes
    with _lock:
        blocks = _free.pop(block.nbytes, [])
        blocks.append(block)
        _free[block.nbytes] = blocks
        _free_bytes += block.nbytes
        while _free_bytes > MAX_FREE_BYTES:
            oldest = next(iter(_free))
            _free_bytes -= _free[oldest].pop().nbytes
            if not _free[oldest]:
                del _free[oldest]


def _take(count: int) -> NDArray[np.uint8] | None:
    global _free_bytes
    with _lock:
        blocks = _free.pop(count, None)
        if not blocks:
            return None
        _free_bytes -= count
        block = blocks.pop()
        if blocks:
            _free[count] = blocks
        return block


def new_array(shape: tuple[int, ...]) -> NDArray[np.float32]:
    """An uninitialized float32 array; its memory is used again once no view of it is left."""
    count = 4 * math.prod(shape)
    if count < POOLED_BYTES:
        return np.empty(shape, np.float32)
    block = _take(count)
    if block is None:
        block = np.empty(count, np.uint8)
    # Views keep an array alive whose own base is no array: here, the one over the block's buffer.
    owner = np.frombuffer(block.data, np.float32)
    weakref.finalize(owner, _give_back, block).atexit = False
    return owner.reshape(shape)


def new_like(array: NDArray[np.float32]) -> NDArray[np.float32]:
    """An uninitialized array of the shape of `array`."""
    return new_array(array.shape)


def copy_of(array: NDArray[np.float32]) -> NDArray[np.float32]:
    """A C-contiguous copy of `array`."""
    out = new_array(array.shape)
    out[...] = array
    return out
