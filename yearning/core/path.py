"""The evaluator: pictures of a look on footage, after any step, at any size.

Pointwise steps and the mixes between them run together over one band of rows while it is in
cache. Pictures given out are read-only: they are shared with the cache.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.blend import mix_into
from yearning.core.look import Look, Step
from yearning.core.memory import copy_of
from yearning.core.picture import Picture, Size, new_picture
from yearning.core.treatment import Moment, Reach

Array = NDArray[np.float32]


class Footage(Protocol):
    """What the evaluator asks of a clip."""

    @property
    def id(self) -> str:
        """Tells this footage from every other."""

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0."""

    @property
    def size(self) -> Size:
        """Its full size."""

    def picture(self, frame: int, size: Size) -> Picture:
        """Frame `frame` at `size`."""


class Cancelled(Exception):
    """A newer request made this one stale."""


class PictureCache:
    """Arrays by key, least recently used out first, bounded in bytes. Safe between threads."""

    def __init__(self, most_bytes: int) -> None:
        self.most_bytes = most_bytes
        self._held: OrderedDict[Hashable, Array] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Array | None:
        """The array kept under `key`, or None."""
        with self._lock:
            array = self._held.get(key)
            if array is not None:
                self._held.move_to_end(key)
            return array

    def put(self, key: Hashable, array: Array) -> Array:
        """Keep `array`, made read-only, under `key`; drop the oldest beyond the bound."""
        array.flags.writeable = False
        with self._lock:
            if key not in self._held:
                self._held[key] = array
                self._bytes += array.nbytes
            while self._bytes > self.most_bytes and len(self._held) > 1:
                self._bytes -= self._held.popitem(last=False)[1].nbytes
            return array


class Path:
    """A look on footage at a size.

    Args:
        look: the steps.
        footage: the clip; its pictures are asked for as they are needed.
        size: of every picture given out.
        cache: where pictures are kept between calls, and between paths that share beginnings.
        keep_steps: keep the picture after every step, not only after the last one asked for.
        stop: asked between bands of work; when it says True, `Cancelled` is raised.
    """

    def __init__(
        self,
        look: Look,
        footage: Footage,
        size: Size,
        cache: PictureCache,
        *,
        keep_steps: bool = False,
        stop: Callable[[], bool] = lambda: False,
    ) -> None:
        self.look = look
        self.footage = footage
        self.size = size
        self._cache = cache
        self._keep_steps = keep_steps
        self._stop = stop
        self._keys = look.path_keys()

    def reach(self) -> Reach:
        """Frames before and after its own that a picture of the whole path reads."""
        reaches = [step.settings.reach() for step in self.look.steps if step.on]
        return Reach(sum(r.before for r in reaches), sum(r.after for r in reaches))

    def index_after(self, step_id: str) -> int:
        """How many steps have run after the one with `step_id`.

        Raises:
            KeyError: no step has that id.
        """
        for i, step in enumerate(self.look.steps):
            if step.id == step_id:
                return i + 1
        raise KeyError(f"no step has the id '{step_id}'")

    def picture(self, frame: int, after: int | None = None) -> Picture:
        """Frame `frame` after the first `after` steps; after all of them when None.

        Raises:
            IndexError: the footage has no such frame.
            Cancelled: `stop` said so.
        """
        if not 0 <= frame < self.footage.frames:
            raise IndexError(
                f"frame {frame} is out of range; the clip has frames 0 to {self.footage.frames - 1}"
            )
        end = len(self.look.steps) if after is None else after
        return self._after(frame, end)

    def fetch(self, frame: int) -> None:
        """Have the footage's frame in the cache, if there is such a frame: to be ready in time."""
        key = self._key(frame, 0)
        if 0 <= frame < self.footage.frames and self._cache.get(key) is None:
            self._cache.put(key, self.footage.picture(frame, self.size))

    def _key(self, frame: int, index: int) -> Hashable:
        return (self.footage.id, frame, self.size, self._keys[index])

    def _after(self, frame: int, end: int) -> Picture:
        self._check_stop()
        start = end
        held = self._cache.get(self._key(frame, end))
        while held is None and start > 0:
            start -= 1
            held = self._cache.get(self._key(frame, start))
        if held is None:
            held = self._cache.put(self._key(frame, 0), self.footage.picture(frame, self.size))
        at = start
        while at < end:
            if self._keys[at] == self._keys[at + 1]:  # off: it changes nothing
                at += 1
                continue
            last = at + 1
            while last < end and self._pointwise(last):
                last += 1
            held = self._run(held, frame, at, last)
            at = last
        return held

    def _pointwise(self, index: int) -> bool:
        return self._keys[index] == self._keys[index + 1] or bool(
            self.look.steps[index].settings.pointwise()
        )

    def _run(self, picture: Picture, frame: int, first: int, end: int) -> Picture:
        """Steps `first` to `end` (exclusive), of which all but the first are pointwise."""
        steps = [
            (i, self.look.steps[i]) for i in range(first, end) if self._keys[i] != self._keys[i + 1]
        ]
        moment = Moment(
            picture, frame, self.size, self.footage.size, driver=self._driver(frame, first)
        )
        prepared = steps[0][1].settings.prepare(moment)
        kept = [i for i, _ in steps] if self._keep_steps else [steps[-1][0]]
        results = {i: new_picture(self.size) for i in kept}

        def work(top: int, bottom: int) -> None:
            self._check_stop()
            so_far = copy_of(picture[:, top:bottom])
            for i, step in steps:
                at = moment.band(so_far, top, prepared if i == first else None)
                source = step.settings.apply(at)
                so_far = _mixed(so_far, source, step)
                if i in results:
                    results[i][:, top:bottom] = so_far

        bands.each_band(self.size.height, work)
        for i, result in results.items():
            self._cache.put(self._key(frame, i + 1), result)
        return results[kept[-1]]

    def _driver(self, frame: int, index: int) -> Callable[[int, Callable[[Picture], Array]], Array]:
        """What drives step `index` at a neighbour of `frame`, from the cache where it is."""
        last = self.footage.frames - 1

        def driven(offset: int, drive: Callable[[Picture], Array]) -> Array:
            there = min(max(frame + offset, 0), last)
            key = ("drive", *self._key(there, index + 1))  # type: ignore[misc]
            held = self._cache.get(key)
            if held is None:
                held = self._cache.put(key, drive(self._after(there, index)))
            return held

        return driven

    def _check_stop(self) -> None:
        if self._stop():
            raise Cancelled


def _mixed(so_far: Picture, source: Picture, step: Step) -> Picture:
    if step.mix.blend == "normal" and step.mix.amount == 1:
        return source
    mix_into(so_far, source, step.mix.blend, step.mix.amount)
    return so_far
