"""The evaluator: pictures of a look on footage, after any step, at any size.

An operation that needs more than a pixel begins a stretch of the path; the pointwise ones after it,
and the mixes between, run with it over one band of rows while that is in cache. At full size the
first stretch takes its bands straight from the footage's codes, so no whole picture is made but the
result. Pictures given out are read-only: they are shared with the cache.
"""

import hashlib
import math
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Any, Literal, NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.blend import mix
from yearning.core.colour.tables import Prepared
from yearning.core.look import Look
from yearning.core.memory import copy_of, new_array, new_like
from yearning.core.picture import Picture, Size, new_picture
from yearning.core.plan import FOOTAGE, Operation, Plan
from yearning.core.treatment import Band, Moment, Reach

Array = NDArray[np.float32]

Rows = Callable[[int, int], Picture]
"""Gives rows from one to another (exclusive) of a picture, as a new picture of their own."""

PLANS = 64
"""Frames whose plans are kept, of a look that changes with the frame."""

Keep = Literal["every step", "last", "nothing"]
"""Which pictures go into the cache: after every step, those asked for, or none."""


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

    def rows(self, frame: int) -> Rows:
        """Rows of frame `frame` at full size."""

    def ready(self, frame: int) -> None:
        """Have frame `frame` decoded, so that its rows come at once."""


class Cancelled(Exception):
    """A newer request made this one stale."""


Tables = Callable[[str], Prepared]
"""Finds a look-up table by the name a look has it under."""


def no_tables(name: str) -> Prepared:
    """Finds none."""
    raise LookupError(f"no look-up table is called '{name}'")


class PictureCache:
    """Arrays by key, least recently used out first, bounded in bytes. Safe between threads."""

    def __init__(self, most_bytes: int) -> None:
        self.most_bytes = most_bytes
        self._held: OrderedDict[Hashable, Array] = OrderedDict()
        self._making: dict[Hashable, threading.Event] = {}
        self._bytes = 0
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Array | None:
        """The array kept under `key`, or None."""
        with self._lock:
            array = self._held.get(key)
            if array is not None:
                self._held.move_to_end(key)
            return array

    def once(self, key: Hashable, make: Callable[[], Array]) -> Array:
        """The array kept under `key`, made if it is not there, by one thread for all that wait."""
        while (array := self.get(key)) is None:
            with self._lock:
                made = self._making.get(key)
                mine = made is None
                if made is None:
                    made = self._making[key] = threading.Event()
            if not mine:
                made.wait()
                continue
            try:
                return self.put(key, make())
            finally:
                with self._lock:
                    del self._making[key]
                made.set()
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


class _Run(NamedTuple):
    """An operation of a stretch, with what is the same for all bands."""

    number: int
    operation: Operation
    at: Moment
    prepared: Any
    last_used: tuple[int, ...]
    """The pictures that no later run of the stretch asks for."""


class _Stretch(NamedTuple):
    """Operations that run together over a band, and the rows they begin with, by picture."""

    sources: dict[int, Rows]
    runs: list[_Run]
    end: int


class Path:
    """A look on footage at a size.

    Args:
        look: the steps.
        footage: the clip; its pictures are asked for as they are needed.
        size: of every picture given out.
        cache: where pictures are kept between calls, and between paths that share beginnings.
        keep: which pictures are kept.
        tables: finds the look-up tables that steps name.
        stop: asked between bands of work; when it says True, `Cancelled` is raised.
    """

    def __init__(
        self,
        look: Look,
        footage: Footage,
        size: Size,
        cache: PictureCache,
        *,
        keep: Keep = "last",
        tables: Tables = no_tables,
        stop: Callable[[], bool] = lambda: False,
    ) -> None:
        self.look = look
        self.footage = footage
        self.size = size
        self._cache = cache
        self._keep = keep
        self._tables = tables
        self._stop = stop
        self.plan = Plan(look)
        self._plans: OrderedDict[int, Plan] = OrderedDict()

    def plan_at(self, frame: int) -> Plan:
        """The plan at a frame; its numbers are those of `plan`."""
        if not self.plan.timed or frame == self.plan.frame:
            return self.plan
        plan = self._plans.get(frame)
        if plan is None:
            plan = self._plans[frame] = Plan(self.look, frame)
            if len(self._plans) > PLANS:
                self._plans.popitem(last=False)
        return plan

    def reach(self, *frames: int) -> Reach:
        """Frames before and after its own that the whole path's picture of each frame reads."""
        reaches = [plan.reaches[plan.results[-1]] for plan in map(self.plan_at, frames)]
        return Reach(max(reach.before for reach in reaches), max(reach.after for reach in reaches))

    def drive_bytes(self, frame: int) -> int:
        """Memory of what drives the path's steps, for one frame."""
        driven = [o.settings for o in self.plan_at(frame).operations if o and not o.pointwise]
        return sum(4 * math.prod(s.drive(self.size).shape) for s in driven if s)

    def key(self, number: int) -> str:
        """Tells the plan's picture of that number, at all frames, from those of other looks."""
        if not self.plan.timed:
            return self.plan.keys[number]
        said = f"{number} {self.look.model_dump_json()}"
        return hashlib.sha256(said.encode()).hexdigest()

    def picture(self, frame: int, after: int | str | None = None) -> Picture:
        """Frame `frame` after the first `after` steps, or after the step with that id.

        None is after all of them; `as shot` is the footage.

        Raises:
            IndexError: the footage has no such frame.
            KeyError: no step has that id.
            Cancelled: `stop` said so.
        """
        return self.numbered(frame, self.number(after))

    def numbered(self, frame: int, number: int) -> Picture:
        """Frame `frame` of the plan's picture of that number.

        Raises:
            IndexError: the footage has no such frame.
            Cancelled: `stop` said so.
        """
        if not 0 <= frame < self.footage.frames:
            raise IndexError(
                f"frame {frame} is out of range; the clip has frames 0 to {self.footage.frames - 1}"
            )
        return self._after(frame, number)

    def number(self, after: int | str | None) -> int:
        """The plan's number of a picture at any frame, named as `picture` takes it.

        Raises:
            KeyError: no step has that id.
        """
        if isinstance(after, str):
            if after not in self.plan.after:
                raise KeyError(f"no step has the id '{after}'")
            return self.plan.after[after]
        return self.plan.results[-1 if after is None else after]

    def beside(self, look: Look) -> "Path":
        """Another look on the same footage, with all else the same."""
        return Path(
            look,
            self.footage,
            self.size,
            self._cache,
            keep=self._keep,
            tables=self._tables,
            stop=self._stop,
        )

    def fetch(self, frame: int) -> None:
        """Have the footage's frame at hand, if there is such a frame: to be ready in time."""
        if not 0 <= frame < self.footage.frames:
            return
        if self._streams:
            self.footage.ready(frame)
        else:
            self._after(frame, 0)

    @property
    def _streams(self) -> bool:
        """Whether the footage is read in bands, rather than made whole and kept."""
        return self.size == self.footage.size and self._keep != "every step"

    def _key(self, frame: int, number: int) -> Hashable:
        return (self.footage.id, frame, self.size, self.plan_at(frame).keys[number])

    def _held(self, frame: int, number: int) -> Picture | None:
        return self._cache.get(self._key(frame, number))

    def _kept(self, frame: int, number: int, picture: Picture) -> Picture:
        if self._keep == "nothing":
            return picture
        return self._cache.put(self._key(frame, number), picture)

    def _after(self, frame: int, number: int) -> Picture:
        """The whole picture of that number."""
        self._check_stop()
        number = self.plan_at(frame).same[number]
        held = self._held(frame, number)
        if held is not None:
            return held
        if number == FOOTAGE:
            return self._kept(frame, FOOTAGE, self.footage.picture(frame, self.size))
        stretch = self._stretch(frame, number)
        wanted = stretch.runs if self._keep == "every step" else stretch.runs[-1:]
        done = {run.number: new_picture(self.size) for run in wanted}
        rows = self._banded(stretch, done)

        def work(top: int, bottom: int) -> None:
            rows(top, bottom)

        self._each_band(work)
        for made, picture in done.items():
            self._kept(frame, made, picture)
        return done[number]

    def _rows(self, frame: int, number: int) -> Rows:
        """Rows of the picture of that number, to be read once."""
        plan = self.plan_at(frame)
        number = plan.same[number]
        held = self._held(frame, number)
        if held is None and self._streams:
            if number == FOOTAGE:
                return self.footage.rows(frame)
            if plan.light[number]:  # made anew sooner than written whole and read again
                return self._banded(self._stretch(frame, number), {})
        picture = self._after(frame, number) if held is None else held
        return lambda top, bottom: copy_of(picture[:, top:bottom])

    def _stretch(self, frame: int, end: int) -> _Stretch:
        """What runs together to make picture `end`: back to whole pictures, or to the footage."""
        plan = self.plan_at(frame)
        sources: dict[int, Rows] = {}
        numbers: list[int] = []

        def visit(number: int) -> None:
            if number in sources or number in numbers:
                return
            if number == FOOTAGE or (number != end and self._held(frame, number) is not None):
                sources[number] = self._rows(frame, number)
                return
            operation = plan.operation(number)
            if operation.pointwise:
                visit(operation.reads)
            elif operation.reads not in numbers and operation.reads not in sources:
                sources[operation.reads] = self._rows(frame, operation.reads)
            if not operation.plain:
                visit(operation.below)
            numbers.append(number)

        visit(end)
        return _Stretch(sources, self._runs(frame, numbers), end)

    def _runs(self, frame: int, numbers: list[int]) -> list[_Run]:
        """The operations that make those pictures, prepared."""
        plan = self.plan_at(frame)
        operations = [plan.operation(number) for number in numbers]
        runs = []
        for i, (number, operation) in enumerate(zip(numbers, operations, strict=True)):
            later = {n for o in operations[i + 1 :] for n in (o.reads, o.below)}
            settings = operation.settings
            driver = self._driver(frame, operation)
            at = Moment(frame, self.size, self.footage.size, driver, self._tables)
            prepared = None if settings is None else settings.prepare(at)
            last_used = tuple({operation.reads, operation.below} - later)
            runs.append(_Run(number, operation, at, prepared, last_used))
        return runs

    def _banded(self, stretch: _Stretch, done: dict[int, Picture]) -> Rows:
        """Rows after the stretch; those of `done`, by picture, are filled on the way."""

        def rows(top: int, bottom: int) -> Picture:
            self._check_stop()
            seen = {number: source(top, bottom) for number, source in stretch.sources.items()}
            made = next(iter(seen.values()))
            for run in stretch.runs:
                if run.number == stretch.end and done:
                    out, into = done[run.number], top
                else:
                    out, into = new_like(made), 0
                _apply(run, seen, top, out, into)
                made = seen[run.number] = out
                for number in run.last_used:
                    seen.pop(number, None)
                if run.number != stretch.end and run.number in done:
                    done[run.number][:, top:bottom] = made
            return made

        return rows

    def _driver(self, frame: int, operation: Operation) -> Callable[[int], Array]:
        """What drives an operation at a neighbour of `frame`, from the cache where it is."""
        last = self.footage.frames - 1
        settings, reads = operation.settings, operation.reads

        def driven(offset: int) -> Array:
            there = min(max(frame + offset, 0), last)
            assert settings is not None
            drive = settings.drive(self.size)

            def gathered() -> Array:
                values = new_array(drive.shape)
                source = self._rows(there, reads)

                def gather(top: int, bottom: int) -> None:
                    self._check_stop()
                    drive.gather(source(top, bottom), top, values)

                self._each_band(gather, drive.rows)
                return values

            return self._cache.once(("drive", self._key(there, reads), drive.key), gathered)

        return driven

    def _each_band(self, work: Callable[[int, int], None], multiple: int = 1) -> None:
        rows = bands.band_rows(self.size.width, multiple)
        bands.each_band(self.size.height, work, rows, multiple)

    def _check_stop(self) -> None:
        if self._stop():
            raise Cancelled


def _apply(run: _Run, seen: dict[int, Picture], top: int, out: Picture, into: int) -> None:
    """Treat rows from `top` on and mix them back, into the rows of `out` from `into` on."""
    operation, settings = run.operation, run.operation.settings
    read = seen[operation.reads]
    if settings is not None and operation.plain:
        settings.apply(Band(read, top, run.at, run.prepared, out, into))
        return
    treated = read
    if settings is not None:
        treated = new_like(read)
        settings.apply(Band(read, top, run.at, run.prepared, treated, 0))
    mixing = operation.mix
    mix(seen[operation.below], treated, mixing.blend, mixing.amount, out, into, mixing.tones)
