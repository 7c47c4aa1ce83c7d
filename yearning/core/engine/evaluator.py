"""The evaluator: pictures of a look on footage, after any step, at any size.

An operation that needs more than a pixel begins a stretch of the path; the pointwise ones after it,
and the mixes between, run with it over one band of rows while that is in cache. At full size the
first stretch takes its bands straight from the footage's codes, so no whole picture is made but the
result. Pictures given out are read-only: they are shared with the cache.
"""

import hashlib
import math
from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import cached_property
from typing import Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import copy_of, new_array, new_like
from yearning.core.cache import PictureCache
from yearning.core.engine.fused_pass import Rows, Run, Stretch, applied, blacken
from yearning.core.engine.graph import FOOTAGE, Plan
from yearning.core.engine.statistics import Driving
from yearning.core.image.window import seen_at
from yearning.core.look.document import Look
from yearning.core.motion.temporal_filter import link_shape
from yearning.core.picture import Picture, Size, new_picture
from yearning.core.treatment.assets import NO_MATERIALS, Materials
from yearning.core.treatment.base import Moment, Reach

Array = NDArray[np.float32]

OVERVIEW_LINES = 270
"""Lines of the frames from which what holds for all of a clip is told."""

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


class Path:
    """A look on footage at a size.

    Args:
        look: the steps.
        footage: the clip; its pictures are asked for as they are needed.
        size: of every picture given out.
        cache: where pictures are kept between calls, and between paths that share beginnings.
        keep: which pictures are kept.
        materials: finds the tables and plates that steps name.
        told: where what holds for the whole clip is kept, if not with the pictures: that is little,
            and costs frames from all over the clip.
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
        materials: Materials = NO_MATERIALS,
        told: PictureCache | None = None,
        stop: Callable[[], bool] = lambda: False,
    ) -> None:
        self.look = look
        self.footage = footage
        self.size = size
        self.cache = cache
        self._keep = keep
        self._materials = materials
        self.told = cache if told is None else told
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
        total = 0
        for operation in self.plan_at(frame).operations:
            if operation is None or operation.settings is None or operation.pointwise:
                continue
            if operation.settings.takes_whole():  # kept where other frames read it too
                if any(operation.settings.neighbours()):
                    total += 3 * self.size.width * self.size.height
                continue
            drive = operation.settings.drive(self.size)
            total += math.prod(drive.shape)
            if drive.luma is not None:
                _, _, lines, columns = shape = link_shape(*drive.shape[-2:])
                total += math.prod(shape) + lines * columns
        return 4 * total

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
        return self.whole(frame, number)

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

    def beside(self, look: Look, size: Size | None = None) -> "Path":
        """Another look on the same footage, or another size, with all else the same."""
        return Path(
            look,
            self.footage,
            size or self.size,
            self.cache,
            keep=self._keep,
            materials=self._materials,
            told=self.told,
            stop=self._stop,
        )

    def fetch(self, frame: int) -> None:
        """Have the footage's frame at hand, if there is such a frame: to be ready in time."""
        if not 0 <= frame < self.footage.frames:
            return
        if self._streams:
            self.footage.ready(frame)
        else:
            self.whole(frame, 0)

    @property
    def _streams(self) -> bool:
        """Whether the footage is read in bands, rather than made whole and kept."""
        return self.size == self.footage.size and self._keep != "every step"

    def key_at(self, frame: int, number: int) -> Hashable:
        """Tells that picture at a frame from all others that a cache may hold."""
        return (self.footage.id, frame, self.size, self.plan_at(frame).keys[number])

    def _held(self, frame: int, number: int) -> Picture | None:
        return self.cache.get(self.key_at(frame, number))

    def _kept(self, frame: int, number: int, picture: Picture) -> Picture:
        if self._keep == "nothing":
            return picture
        return self.cache.put(self.key_at(frame, number), picture)

    def whole(self, frame: int, number: int) -> Picture:
        """The whole picture of that number; not to be written to."""
        self.check_stop()
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

        self.each_band(work, stretch.together())
        for made, picture in done.items():
            self._kept(frame, made, picture)
        return done[number]

    def rows_of(self, frame: int, number: int) -> Rows:
        """Rows of the picture of that number, to be read once."""
        plan = self.plan_at(frame)
        number = plan.same[number]
        held = self._held(frame, number)
        if held is None and self._streams:
            if number == FOOTAGE:
                return self.footage.rows(frame)
            if plan.light[number]:  # made anew sooner than written whole and read again
                return self._banded(self._stretch(frame, number), {})
        picture = self.whole(frame, number) if held is None else held
        return lambda top, bottom: copy_of(picture[:, top:bottom])

    def _stretch(self, frame: int, end: int) -> Stretch:
        """What runs together to make picture `end`: back to whole pictures, or to the footage."""
        plan = self.plan_at(frame)
        sources: dict[int, Rows] = {}
        numbers: list[int] = []

        def visit(number: int) -> None:
            if number in sources or number in numbers:
                return
            if number == FOOTAGE or (number != end and self._held(frame, number) is not None):
                sources[number] = self.rows_of(frame, number)
                return
            operation = plan.operation(number)
            if operation.pointwise:
                visit(operation.reads)
            elif operation.settings is not None and operation.settings.takes_whole():
                pass  # it takes whole pictures when it is prepared
            elif operation.reads not in numbers and operation.reads not in sources:
                sources[operation.reads] = self.rows_of(frame, operation.reads)
            if not operation.plain:
                visit(operation.below)
            numbers.append(number)

        visit(end)
        return Stretch(sources, self._runs(frame, numbers), end)

    def _runs(self, frame: int, numbers: list[int]) -> list[Run]:
        """The operations that make those pictures, prepared."""
        plan = self.plan_at(frame)
        operations = [plan.operation(number) for number in numbers]
        runs = []
        for i, (number, operation) in enumerate(zip(numbers, operations, strict=True)):
            later = {n for o in operations[i + 1 :] for n in (o.reads, o.below)}
            settings = operation.settings
            driving = Driving(self, frame, operation)
            full = self.footage.size
            shown = seen_at(plan.shown(operation.below, full), full, self.size)
            at = Moment(frame, self.size, full, driving, shown, self._materials)
            prepared = None if settings is None else settings.prepare(at)
            last_used = tuple({operation.reads, operation.below} - later)
            left = seen_at(plan.shown(operation.below, full, cut=True), full, self.size)
            runs.append(Run(number, operation, at, prepared, left, last_used))
        return runs

    def _banded(self, stretch: Stretch, done: dict[int, Picture]) -> Rows:
        """Rows after the stretch; those of `done`, by picture, are filled on the way."""

        def rows(top: int, bottom: int) -> Picture:
            self.check_stop()
            seen = {number: source(top, bottom) for number, source in stretch.sources.items()}
            made = next(iter(seen.values()), None)
            if made is None:
                made = new_array((3, bottom - top, self.size.width))
            for run in stretch.runs:
                if run.number == stretch.end and done:
                    out, into = done[run.number], top
                else:
                    out, into = new_like(made), 0
                applied(run, seen, seen.get(run.operation.reads, made), top, out, into)
                if run.left.width * run.left.height < self.size.width * self.size.height:
                    blacken(out[:, into : into + bottom - top], top, run.left)
                made = seen[run.number] = out
                for number in run.last_used:
                    seen.pop(number, None)
                if run.number != stretch.end and run.number in done:
                    done[run.number][:, top:bottom] = made
            return made

        return rows

    @cached_property
    def overview(self) -> "Path":
        """The look at the size at which the whole clip is looked over."""
        full = self.footage.size
        size = full.with_height(min(OVERVIEW_LINES, full.height))
        return self.beside(self.look, size)

    def each_band(self, work: Callable[[int, int], None], multiple: int = 1) -> None:
        """Call `work(top, bottom)` for bands of the picture, from multiples of `multiple` on."""
        rows = parallel.band_rows(self.size.width, multiple)
        parallel.each_band(self.size.height, work, rows, multiple)

    def check_stop(self) -> None:
        """Raise `Cancelled` where that is asked for."""
        if self._stop():
            raise Cancelled
