"""Statistics that a node asks for: of its own frame, of neighbours, and of the whole clip."""

import math
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.cache import Cache
from yearning.core.engine.fused_pass import RowSource
from yearning.core.engine.node import Node
from yearning.core.image.histogram import histogram
from yearning.core.look.step import clamp_to_bounds
from yearning.core.motion.temporal_filter import flow_both_ways, flow_shape, reduced_luma
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.base import AnyTreatment
from yearning.core.treatment.capabilities import (
    ReadsWholePictures,
    UsesClipStatistics,
    UsesFrameStatistics,
)
from yearning.core.treatment.clip_tones import BINS, quantile, sample_frames
from yearning.core.treatment.statistics import StatisticsSpec
from yearning.core.treatment.tone_values import percentile_settings

Values = NDArray[np.float32]
Counts = NDArray[np.int64]

CLIP_SAMPLES = 5
"""Frames spread over a clip from which its statistics are reduced."""


class PictureSource(Protocol):
    """What statistics need of the evaluator: pictures, rows and cache keys."""

    size: Size
    cache: Cache[Any]
    clip_cache: Cache[Any]

    @property
    def keep(self) -> str:
        """Which pictures are kept, as the evaluator has it."""

    @property
    def frames(self) -> int:
        """Frames of the clip."""

    @property
    def overview(self) -> "PictureSource":
        """The same look at the small size at which whole clips are looked over."""

    def cache_key(self, frame: int, number: int) -> Any:
        """Return a key that tells a picture at a frame from all others.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """

    def whole_picture(self, frame: int, number: int) -> Picture:
        """Return a picture of the graph, whole.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """

    def visible_box(self, frame: int, number: int) -> Box:
        """Return what bars and crops have left of a picture, in pixels.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """

    def row_source(self, frame: int, number: int) -> RowSource:
        """Return what gives rows of a picture of the graph.

        Args:
            frame: of the footage.
            number: of the picture in the graph.
        """

    def gather_statistics(self, spec: StatisticsSpec, rows: RowSource) -> Values:
        """Return values gathered from the rows of a picture, band by band.

        Args:
            spec: what is gathered.
            rows: gives the picture's rows.
        """


def visible_luma_counts(pictures: PictureSource, frame: int, number: int) -> Counts:
    """Return how often each luma occurs in what bars and crops have left of a picture.

    Args:
        pictures: that have it.
        frame: of the footage.
        number: of the picture in the graph.

    Returns:
        Shape `(BINS,)`, evenly spaced over 0..1.
    """
    left, top, width, height = pictures.visible_box(frame, number)
    picture = pictures.whole_picture(frame, number)
    lines = slice(math.ceil(top), max(int(top + height), math.ceil(top) + 1))
    columns = slice(math.ceil(left), max(int(left + width), math.ceil(left) + 1))
    visible = np.ascontiguousarray(picture[:, lines, columns])
    counts: Counts = histogram(visible, BINS)[0].astype(np.int64)
    return counts


def with_tone_numbers(pictures: PictureSource, frame: int, node: Node) -> Node:
    """Return a node whose treatment has numbers where its settings are percentiles of the clip.

    Args:
        pictures: of the look.
        frame: of the footage.
        node: of the graph at that frame.
    """
    treatment = node.treatment
    percentiles = percentile_settings(treatment)
    if treatment is None or not percentiles:
        return node
    counts = NodeStatistics(pictures, frame, node).luma_counts()
    numbers = {
        name: clamp_to_bounds(type(treatment), name, quantile(counts, each.percent / 100))
        for name, each in percentiles.items()
    }
    return node._replace(treatment=treatment.model_copy(update=numbers))


def kept_bytes(treatment: AnyTreatment, size: Size) -> int:
    """Return how large a treatment's statistics of one frame are that are kept for other frames.

    Args:
        treatment: of a node.
        size: of its pictures.
    """
    if not any(treatment.neighbours()):
        return 0
    total = 0
    if isinstance(treatment, ReadsWholePictures):
        total = 3 * size.width * size.height
    elif isinstance(treatment, UsesFrameStatistics):
        any_number = dict.fromkeys(percentile_settings(treatment), 0.5)  # one size for all
        spec = treatment.model_copy(update=any_number).frame_statistics_spec(size)
        total = math.prod(spec.shape)
        if spec.luma_plane is not None:
            _, _, lines, columns = shape = flow_shape(*spec.shape[-2:])
            total += math.prod(shape) + lines * columns
    return 4 * total


class NodeStatistics:
    """The statistics of a node at a frame; all of them kept in the evaluator's caches."""

    def __init__(self, pictures: PictureSource, frame: int, node: Node) -> None:
        self._pictures = pictures
        self._frame = frame
        self._reads = node.reads
        self._source = node.source
        self._treatment = node.treatment

    def frame_statistics(self, offset: int) -> Values:
        """Return the statistics `offset` frames from this one, held at the clip's ends."""
        pictures, frame, spec = self._pictures, self._clamped_frame(offset), self._frame_spec()

        def gather_sample() -> Values:
            return pictures.gather_statistics(spec, pictures.row_source(frame, self._reads))

        if pictures.keep == "nothing" and not self._reads_neighbours:
            return gather_sample()  # no other frame asks for them
        key = ("frame statistics", pictures.cache_key(frame, self._reads), spec.cache_key)
        values: Values = pictures.cache.get_or_make(key, gather_sample)
        return values

    def whole_picture(self, offset: int = 0) -> Picture:
        """The whole picture it reads, `offset` frames from its own; not to be written to."""
        pictures, frame = self._pictures, self._clamped_frame(offset)
        if not self._reads_neighbours:
            return pictures.whole_picture(frame, self._reads)
        picture: Picture = pictures.cache.get_or_make(
            ("whole picture", pictures.cache_key(frame, self._reads)),
            lambda: pictures.whole_picture(frame, self._reads),
        )
        return picture

    def flow_between(self, here: int, there: int) -> Values | None:
        """Return flow to a neighbouring frame and its trust; None over a cut and at the ends.

        Args:
            here: the one frame.
            there: the other.
        """
        if not 0 <= self._frame + there < self._pictures.frames:
            return None
        spec = self._frame_spec()
        first, second = sorted((here, there))
        pair = tuple(
            self._pictures.cache_key(self._frame + offset, self._reads)
            for offset in (first, second)
        )
        both: Values = self._pictures.cache.get_or_make(
            ("flow", pair, spec.cache_key),
            lambda: flow_both_ways(
                self._reduced_luma(first, spec), self._reduced_luma(second, spec)
            ),
        )
        return both[0 if here == first else 1] if both.size else None

    def clip_statistics(self) -> Values:
        """Values of the whole clip, from frames spread evenly over it, looked at at a small size.

        They are the same at every frame and size, however the frames are come by.
        """
        overview, treatment = self._pictures.overview, self._treatment
        assert isinstance(treatment, UsesClipStatistics)
        spec = treatment.clip_statistics_spec(overview.size)
        count = min(CLIP_SAMPLES, overview.frames)
        sampled = [(2 * n + 1) * overview.frames // (2 * count) for n in range(count)]
        keys = tuple(overview.cache_key(frame, self._source) for frame in sampled)

        def gather_sample(frame: int) -> Values:
            key = ("clip sample", overview.cache_key(frame, self._source), spec.cache_key)
            sample: Values = overview.cache.get_or_make(
                key, lambda: self._clip_sample(overview, frame, spec)
            )
            return sample

        values: Values = overview.clip_cache.get_or_make(
            ("clip statistics", keys, treatment),
            lambda: treatment.reduce_clip(
                [gather_sample(frame) for frame in sampled], overview.size
            ),
        )
        return values

    def _clip_sample(self, overview: PictureSource, frame: int, spec: StatisticsSpec) -> Values:
        values = new_array(spec.shape)
        spec.gather(overview.whole_picture(frame, self._source), 0, values)
        return values

    def luma_counts(self) -> Counts:
        """How often each luma occurs in what the node reads, over frames spread over the clip.

        Pictures are counted at the small size at which whole clips are looked over, but for what
        bars and crops have covered. They are the same at every frame and size.
        """
        overview = self._pictures.overview
        sampled = sample_frames(overview.frames)
        keys = tuple(overview.cache_key(frame, self._source) for frame in sampled)

        def count_luma(frame: int) -> Counts:
            key = ("luma counts", overview.cache_key(frame, self._source))
            counts: Counts = overview.clip_cache.get_or_make(
                key, lambda: visible_luma_counts(overview, frame, self._source)
            )
            return counts

        total: Counts = overview.clip_cache.get_or_make(
            ("luma counts", keys), lambda: np.sum([count_luma(n) for n in sampled], axis=0)
        )
        return total

    @property
    def _reads_neighbours(self) -> bool:
        return self._treatment is not None and any(self._treatment.neighbours())

    def _frame_spec(self) -> StatisticsSpec:
        assert isinstance(self._treatment, UsesFrameStatistics)
        return self._treatment.frame_statistics_spec(self._pictures.size)

    def _clamped_frame(self, offset: int) -> int:
        return min(max(self._frame + offset, 0), self._pictures.frames - 1)

    def _reduced_luma(self, offset: int, spec: StatisticsSpec) -> Values:
        """Return the reduced luma that motion is estimated on, `offset` frames from this one."""
        assert spec.luma_plane is not None
        plane = spec.luma_plane
        key = self._pictures.cache_key(self._frame + offset, self._reads)
        luma: Values = self._pictures.cache.get_or_make(
            ("reduced luma", key, spec.cache_key),
            lambda: reduced_luma(self.frame_statistics(offset)[plane]),
        )
        return luma
