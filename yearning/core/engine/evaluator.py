"""The evaluator: pictures of a look on footage, after any step, at any size.

A node that needs more than a pixel begins a fused pass; the pointwise ones after it, and the mixes
between, run with it over one band of rows while that is in cache. At full size the first pass takes
its bands straight from the footage's code values, so no whole picture is made but the result.
Pictures that are given out are read-only: they are shared with the cache.
"""

import hashlib
from collections.abc import Callable, Hashable
from functools import cached_property, partial
from typing import Any, Literal

from yearning.core import parallel
from yearning.core.buffers import copy_of, new_array
from yearning.core.cache import OVERHEAD_BYTES, Cache
from yearning.core.engine.footage import Footage
from yearning.core.engine.fused_pass import (
    FusedPass,
    PassNode,
    RowSource,
    pass_rows,
    prepare_node,
)
from yearning.core.engine.graph import RenderGraph
from yearning.core.engine.node import FOOTAGE
from yearning.core.engine.statistics import NodeStatistics, Values, kept_bytes, with_tone_numbers
from yearning.core.engine.track_motion import track_motion
from yearning.core.image.window import scale_box
from yearning.core.look.clip_seeds import with_clip_seeds
from yearning.core.look.document import Look, steps_digest
from yearning.core.masks.mask import PreparedMask
from yearning.core.picture import Box, Picture, Size, new_picture
from yearning.core.treatment.assets import NO_ASSETS, Assets
from yearning.core.treatment.base import FrameContext, Reach
from yearning.core.treatment.capabilities import ReadsWholePictures
from yearning.core.treatment.statistics import StatisticsSpec

OVERVIEW_LINES = 270
"""Lines of the pictures from which statistics of a whole clip are gathered."""

MAX_GRAPHS = 64
"""Frames whose graphs are kept, of a look that changes with the frame."""

CachePolicy = Literal["every step", "last", "nothing"]
"""Which pictures go into the cache: those after every step, those asked for, or none."""


class Cancelled(Exception):
    """A newer request made this one stale."""


class Evaluator:
    """A look on footage at a size.

    Args:
        look: the steps.
        footage: the clip; its pictures are asked for as they are needed.
        size: of every picture that is given out.
        cache: where pictures are kept between calls, and between evaluators of looks that begin
            with the same steps.
        layer_of: the id of a step whose layer `layer_picture` shows.
        keep: which pictures are kept.
        assets: finds the look-up tables and plates that steps name.
        clip_cache: where statistics of whole clips are kept, if not with the pictures: they are
            small, and cost frames from all over the clip.
        is_cancelled: asked between bands of work; when it says True, `Cancelled` is raised.
    """

    def __init__(
        self,
        look: Look,
        footage: Footage,
        size: Size,
        cache: Cache[Any],
        *,
        keep: CachePolicy = "last",
        assets: Assets = NO_ASSETS,
        clip_cache: Cache[Any] | None = None,
        is_cancelled: Callable[[], bool] = lambda: False,
        layer_of: str | None = None,
    ) -> None:
        self.look = look = with_clip_seeds(look, footage)
        self.footage = footage
        self.size = size
        self.cache = cache
        self.clip_cache = cache if clip_cache is None else clip_cache
        self._layer_of = layer_of
        self.keep = keep
        self._assets = assets
        self._motion = partial(track_motion, footage, assets)
        self.graph = RenderGraph(look, layer_of=layer_of, motions=self._motion)
        self._is_cancelled = is_cancelled
        self._graphs = Cache[RenderGraph](MAX_GRAPHS * OVERHEAD_BYTES)

    @property
    def frames(self) -> int:
        """Frames of the clip."""
        return self.footage.frames

    def graph_at(self, frame: int) -> RenderGraph:
        """The graph with the values of a frame; its numbering is that of `graph`."""
        if not self.graph.timed or frame == self.graph.frame:
            return self.graph
        return self._graphs.get_or_make(
            frame, lambda: RenderGraph(self.look, frame, self._layer_of, self._motion)
        )

    def reach(self, *frames: int) -> Reach:
        """Frames before and after its own that the result at each of `frames` is made from."""
        reaches = [graph.reaches[graph.results[-1]] for graph in map(self.graph_at, frames)]
        return Reach(max(reach.before for reach in reaches), max(reach.after for reach in reaches))

    def statistics_bytes(self, frame: int) -> int:
        """Memory of the statistics of one frame that are kept for other frames."""
        treatments = (node.treatment for node in self.graph_at(frame).nodes if node)
        return sum(kept_bytes(each, self.size) for each in treatments if each is not None)

    def content_key(self, number: int) -> str:
        """Return a key that is equal for equal pictures of looks, at whatever frame."""
        if not self.graph.timed:
            return self.graph.cache_keys[number]
        content = f"{number} {steps_digest(self.look)}"
        return hashlib.sha256(content.encode()).hexdigest()

    def cache_key(self, frame: int, number: int) -> Hashable:
        """Return the key of a picture at a frame, equal only for equal pictures.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """
        return (self.footage.id, frame, self.size, self.graph_at(frame).cache_keys[number])

    def picture(self, frame: int, after: int | str | None = None) -> Picture:
        """The picture at a frame, shape `(3, height, width)`, read-only.

        Args:
            frame: number of the frame, from 0.
            after: after how many of the look's own steps, or after the step with that id; None is
                after all of them, and `footage` is the footage.

        Raises:
            IndexError: the footage has no such frame.
            KeyError: no step has that id.
            Cancelled: `is_cancelled` said so.
        """
        return self.picture_of(frame, self.number_after(after))

    def picture_of(self, frame: int, number: int) -> Picture:
        """Return a picture of the graph at a frame.

        Args:
            frame: of the footage.
            number: of the picture in the graph.

        Raises:
            IndexError: the footage has no such frame.
            Cancelled: `is_cancelled` said so.
        """
        if not 0 <= frame < self.frames:
            raise IndexError(
                f"frame {frame} is out of range; the clip has frames 0 to {self.frames - 1}"
            )
        return self.whole_picture(frame, number)

    def number_after(self, after: int | str | None) -> int:
        """The number in the graph of a picture that is named as `picture` takes it.

        Raises:
            KeyError: no step has that id.
        """
        if isinstance(after, str):
            if after not in self.graph.after_step:
                raise KeyError(f"no step has the id '{after}'")
            return self.graph.after_step[after]
        return self.graph.results[-1 if after is None else after]

    def visible_box(self, frame: int, number: int, *, cropped_only: bool = False) -> Box:
        """Return what bars and crops, or crops only, have left of a picture, in pixels.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
            cropped_only: what bars cover counts as visible.
        """
        graph, full = self.graph_at(frame), self.footage.size
        box = graph.visible_box(number, full, cropped_only=cropped_only)
        return scale_box(box, full, self.size)

    def layer_picture(self, frame: int, step_id: str) -> Picture:
        """Return what a step lays on the picture below it, alone, at a frame.

        It is what the treatment adds, on black or mid-grey, or else the treated picture.

        Args:
            frame: of the footage.
            step_id: of a step of the look.

        Raises:
            IndexError: the footage has no such frame.
            KeyError: no step has that id.
            Cancelled: `is_cancelled` said so.
        """
        self.number_after(step_id)
        evaluator = self.with_look(self.look, layer_of=step_id)
        return evaluator.picture_of(frame, evaluator.graph.layer)

    def with_look(
        self,
        look: Look,
        size: Size | None = None,
        *,
        layer_of: str | None = None,
        cache: Cache[Any] | None = None,
    ) -> "Evaluator":
        """Return an evaluator of another look, or at another size, with all else the same.

        Args:
            look: as it is on the clip.
            size: None for the same.
            layer_of: id of the step whose layer alone is wanted.
            cache: where its pictures are kept; None for the same.
        """
        return Evaluator(
            look,
            self.footage,
            size or self.size,
            self.cache if cache is None else cache,
            keep=self.keep,
            assets=self._assets,
            clip_cache=self.clip_cache,
            is_cancelled=self._is_cancelled,
            layer_of=layer_of,
        )

    def with_cache(self, cache: Cache[Any]) -> "Evaluator":
        """The same, its pictures kept in another cache; not so statistics of the whole clip."""
        return self.with_look(self.look, cache=cache)

    @cached_property
    def overview(self) -> "Evaluator":
        """Return this look at the small size at which whole clips are analysed."""
        full = self.footage.size
        return self.with_look(self.look, full.with_height(min(OVERVIEW_LINES, full.height)))

    def prefetch(self, frame: int) -> None:
        """Decode a frame of the footage ahead of time, if there is such a frame."""
        if not 0 <= frame < self.frames:
            return
        if self._streams_footage:
            self.footage.prefetch(frame)
        else:
            self.whole_picture(frame, FOOTAGE)

    def whole_picture(self, frame: int, number: int) -> Picture:
        """Return the whole picture of a number at a frame; not to be written to.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """
        self._check_cancelled()
        number = self.graph_at(frame).aliases[number]
        cached = self._cached_picture(frame, number)
        if cached is not None:
            return cached
        if number == FOOTAGE:
            return self._keep_picture(frame, FOOTAGE, self.footage.picture(frame, self.size))
        fused = self._fused_pass(frame, number)
        wanted = fused.nodes if self.keep == "every step" else fused.nodes[-1:]
        pictures = {node.number: new_picture(self.size) for node in wanted}
        rows = self._run_pass(fused, pictures)

        def fill(top: int, bottom: int) -> None:
            rows(top, bottom)

        self._for_each_band(fill, fused.band_multiple())
        for made, picture in pictures.items():
            self._keep_picture(frame, made, picture)
        return pictures[number]

    def row_source(self, frame: int, number: int) -> RowSource:
        """Return a function that gives rows of a picture at a frame, each to be read once.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """
        graph = self.graph_at(frame)
        number = graph.aliases[number]
        picture = self._cached_picture(frame, number)
        if picture is None and self._streams_footage:
            if number == FOOTAGE:
                return self.footage.rows(frame)
            if graph.streamable[number]:  # cheaper to compute again than to write whole and read
                return self._run_pass(self._fused_pass(frame, number), {})
        whole = self.whole_picture(frame, number) if picture is None else picture
        return lambda top, bottom: copy_of(whole[:, top:bottom])

    def gather_statistics(self, spec: StatisticsSpec, rows: RowSource) -> Values:
        """Return values of a picture as a spec has them, gathered band by band from its rows.

        Args:
            spec: what is gathered.
            rows: gives the picture's rows.
        """
        values = new_array(spec.shape)

        def gather(top: int, bottom: int) -> None:
            self._check_cancelled()
            spec.gather(rows(top, bottom), top, values)

        self._for_each_band(gather, spec.band_multiple)
        return values

    @property
    def _streams_footage(self) -> bool:
        """Whether footage is read in bands, rather than made whole and kept."""
        return self.size == self.footage.size and self.keep != "every step"

    def _cached_picture(self, frame: int, number: int) -> Picture | None:
        return self.cache.get(self.cache_key(frame, number))

    def _keep_picture(self, frame: int, number: int, picture: Picture) -> Picture:
        if self.keep != "nothing":
            self.cache.put(self.cache_key(frame, number), picture)
        return picture

    def _fused_pass(self, frame: int, end: int) -> FusedPass:
        """Collect the nodes that run together to make picture `end`."""
        graph = self.graph_at(frame)
        sources: dict[int, RowSource] = {}
        numbers: list[int] = []

        def visit(number: int) -> None:
            if number in sources or number in numbers:
                return
            if number == FOOTAGE or (
                number != end and self._cached_picture(frame, number) is not None
            ):
                sources[number] = self.row_source(frame, number)
                return
            node = graph.node(number)
            if node.is_pointwise:
                visit(node.reads)
            elif isinstance(node.treatment, ReadsWholePictures):
                pass  # it asks for whole pictures when it is prepared
            elif node.reads not in numbers and node.reads not in sources:
                sources[node.reads] = self.row_source(frame, node.reads)
            if not node.replaces:
                for needed in node.row_inputs:
                    visit(needed)
            numbers.append(number)

        visit(end)
        return FusedPass(sources, self._prepared_nodes(frame, numbers), end)

    def _prepared_nodes(self, frame: int, numbers: list[int]) -> list[PassNode]:
        graph, full = self.graph_at(frame), self.footage.size
        nodes = [
            with_tone_numbers(self, frame, graph.ridden_node(number, frame, full))
            for number in numbers
        ]
        prepared_nodes = []
        for i, (number, node) in enumerate(zip(numbers, nodes, strict=True)):
            used_later = {n for later in nodes[i + 1 :] for n in (later.reads, *later.inputs)}
            visible = graph.visible_box(node.below, full)
            cropped = graph.visible_box(node.below, full, cropped_only=True)
            final = graph.final_box(number, full)
            context = FrameContext(
                frame,
                self.size,
                full,
                NodeStatistics(self, frame, node),
                scale_box(visible, full, self.size),
                scale_box(final, full, self.size),
                self._assets,
            )
            prepared = prepare_node(node, context)
            released = tuple({node.reads, *node.inputs} - used_later)
            crop_box = scale_box(cropped, full, self.size)
            warp = graph.warp_of(node.below, frame, full)
            whole = partial(self.whole_picture, frame)
            mask = PreparedMask(node.mask, full, self.size, warp, whole) if node.mask else None
            prepared_nodes.append(
                PassNode(number, node, context, prepared, crop_box, released, node.replaces, mask)
            )
        return prepared_nodes

    def _run_pass(self, fused: FusedPass, pictures: dict[int, Picture]) -> RowSource:
        return pass_rows(fused, pictures, self.size, self._check_cancelled)

    def _for_each_band(self, work: Callable[[int, int], None], multiple: int = 1) -> None:
        rows = parallel.band_rows(self.size.width, multiple)
        parallel.for_each_band(self.size.height, work, rows, multiple)

    def _check_cancelled(self) -> None:
        if self._is_cancelled():
            raise Cancelled
