"""Work on a picture in bands of rows, shared among the machine's cores."""

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache

import cv2

cv2.setNumThreads(1)  # the bands are the parallelism; OpenCV's own pool would fight them

BAND_ROWS = 48
"""Rows of a band: three planes of 1920 columns are 1.1 MB, about a core's second-level cache."""


@cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(os.cpu_count() or 1, thread_name_prefix="band")


def each(work: Callable[[int], None], count: int) -> None:
    """Call `work(0)` … `work(count − 1)` on the cores; return when all are done.

    `work` must release the GIL where it is slow, and must not call `each` itself. The first
    exception is raised again here.
    """
    if count == 1:
        work(0)
        return
    for _ in _pool().map(work, range(count)):
        pass


def each_band(height: int, work: Callable[[int, int], None], rows: int = BAND_ROWS) -> None:
    """Call `work(top, bottom)` for every band of `rows` rows of a picture `height` rows high."""
    each(lambda i: work(i * rows, min(height, (i + 1) * rows)), -(-height // rows))
