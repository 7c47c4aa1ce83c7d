"""Work on a picture in bands of rows, shared among the machine's cores."""

import os
import threading
from collections import deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, wait
from functools import cache

import cv2

cv2.setNumThreads(1)  # the bands are the parallelism; OpenCV's own pool would fight them

CORES = os.cpu_count() or 1

BAND_PIXELS = 1 << 15
"""Pixels of a band: three planes of them are 0.4 MB; two such fit a core's second-level cache."""


_here = threading.local()


def use_one_thread() -> None:
    """Make this thread do all of its bands itself, for when each core has a frame of its own."""
    _here.alone = True


@cache
def _helpers() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max(1, CORES - 1), thread_name_prefix="band")


def for_each(work: Callable[[int], None], count: int) -> None:
    """Call `work(0)` … `work(count − 1)` on the cores; return when all are done.

    The calling thread works too, so nothing waits for a core to wake. `work` must release the GIL
    where it is slow. The first exception is raised again here, and what was not begun is left.

    Args:
        work: is given a number.
        count: of the calls.
    """
    if getattr(_here, "alone", False):
        for i in range(count):
            work(i)
        return
    todo = iter(range(count))  # taken by several threads: a step of it can't be torn

    def take() -> None:
        try:
            for i in todo:
                work(i)
        except BaseException:
            deque(todo, maxlen=0)
            raise

    helping = [_helpers().submit(take) for _ in range(min(CORES, count) - 1)]
    try:
        take()
    finally:
        begun = [helper for helper in helping if not helper.cancel()]
        wait(begun)
    for helper in begun:
        helper.result()


def band_rows(width: int, multiple: int = 1) -> int:
    """Return the rows of a band: a whole multiple of `multiple`.

    Args:
        width: of the picture, in pixels.
        multiple: rows that go together.
    """
    return max(1, BAND_PIXELS // (width * multiple)) * multiple


def for_each_band(
    height: int, work: Callable[[int, int], None], rows: int, min_rows: int = 1
) -> None:
    """Call `work(top, bottom)` for every band of `rows` rows of a picture `height` rows high.

    A rest of fewer than `min_rows` rows goes to the last band.

    Args:
        height: of the picture.
        work: is given a band's first row and the one after its last.
        rows: of a band.
        min_rows: of the last.
    """
    count = max(1, -(-(height - min_rows + 1) // rows))
    for_each(lambda i: work(i * rows, height if i == count - 1 else (i + 1) * rows), count)
