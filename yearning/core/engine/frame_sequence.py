"""Pictures of many frames in order, each thread at work on a frame of its own."""

from collections import deque
from collections.abc import Generator
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

from yearning.core import parallel
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.engine.statistics import Values
from yearning.core.look.document import Look
from yearning.core.picture import Picture, Size
from yearning.core.treatment.assets import NO_ASSETS, Assets


def frame_sequence(
    look: Look,
    footage: Footage,
    size: Size,
    frames: range,
    at_once: int,
    *,
    assets: Assets = NO_ASSETS,
    clip_cache: Cache[Any] | None = None,
    after: str | None = None,
) -> Generator[tuple[int, Picture], None, None]:
    """Yield frames and their pictures in order; what is to come is worked on meanwhile.

    Memory is bounded by the size, by how far the look reaches in time and by `at_once`, whatever
    the number of frames.

    Args:
        look: the steps.
        footage: the clip.
        size: of the pictures.
        frames: which; at least one, ascending.
        at_once: frames worked on at a time, each by a thread.
        assets: finds the look-up tables and plates that steps name.
        clip_cache: where statistics of the whole clip are kept between calls.
        after: the id of the step after which to stop; None is after all of them.

    Raises:
        IndexError: the footage has no such frame.
        KeyError: no step has the id `after`.
    """

    def evaluator(statistics: Cache[Values]) -> Evaluator:
        return Evaluator(
            look,
            footage,
            size,
            statistics,
            keep="nothing",
            assets=assets,
            clip_cache=Cache(CLIP_CACHE_BYTES) if clip_cache is None else clip_cache,
        )

    planning = evaluator(Cache(0))
    planning.number_after(after)
    reach = planning.reach(*frames)
    around = sum(reach) + 2 * at_once + 2
    footage.reserve_cache(around)
    made = evaluator(Cache(around * max(map(planning.statistics_bytes, frames))))
    with (
        ThreadPoolExecutor(at_once, initializer=parallel.use_one_thread) as workers,
        ThreadPoolExecutor(1) as reader,
    ):
        coming: deque[tuple[int, Future[Picture]]] = deque()
        try:
            for frame in frames:
                reader.submit(made.prefetch, frame + reach.after + 1)
                coming.append((frame, workers.submit(made.picture, frame, after)))
                if len(coming) > at_once:
                    done, picture = coming.popleft()
                    yield done, picture.result()
            while coming:
                done, picture = coming.popleft()
                yield done, picture.result()
        finally:
            for _, picture in coming:
                picture.cancel()


CLIP_CACHE_BYTES = 1 << 20
"""Enough for the statistics of a clip's steps."""
