"""Nodes of a render graph that run together over a band of rows, each treated and mixed back."""

import math
from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np

from yearning.core.buffers import new_array, new_like
from yearning.core.compositing.blend import mix
from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.node import Node
from yearning.core.errors import TreatmentError
from yearning.core.masks.mask import PreparedMask
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.base import AnyTreatment, Band, FrameContext
from yearning.core.treatment.capabilities import (
    FULL_COVERAGE,
    MID_GREY,
    Coverage,
    HasLayer,
    band_multiple,
    coverage_of,
)
from yearning.core.treatments import is_foreign

RowSource = Callable[[int, int], Picture]
"""Gives rows from one to another (exclusive) of a picture, as a new array of its own."""


class PassNode(NamedTuple):
    """A node of a fused pass, with all that is the same for every band.

    Args:
        number: of the picture that it makes.
        node: what it does.
        context: the frame it is done at.
        prepared: what the treatment's `prepare` gave.
        crop_box: what crops have left of the frame; beyond it the result is black.
        released: pictures that no later node of the pass asks for.
        replaces: whether the treated picture is the result, with nothing of the one below.
        mask: where the step shows; None where it does everywhere.
    """

    number: int
    node: Node
    context: FrameContext
    prepared: Any
    crop_box: Box
    released: tuple[int, ...]
    replaces: bool
    mask: PreparedMask | None


class FusedPass(NamedTuple):
    """Nodes that run together over each band, and the rows that they begin with, by picture."""

    sources: dict[int, RowSource]
    nodes: list[PassNode]
    end: int

    def band_multiple(self) -> int:
        """The number of rows of which a band is best a multiple."""
        return max((band_multiple(each.node.treatment) for each in self.nodes), default=1)


def pass_rows(
    fused: FusedPass, pictures: dict[int, Picture], size: Size, check: Callable[[], None]
) -> RowSource:
    """Return what runs a pass over a band and gives the result's rows.

    Args:
        fused: the nodes, and the rows they begin with.
        pictures: whole pictures whose rows are filled on the way, by number.
        size: of all pictures.
        check: called before each band; it raises where the work is not wanted any more.
    """

    def rows(top: int, bottom: int) -> Picture:
        check()
        inputs = {number: source(top, bottom) for number, source in fused.sources.items()}
        result = next(iter(inputs.values()), None)
        if result is None:
            result = new_array((3, bottom - top, size.width))
        for node in fused.nodes:
            if node.number == fused.end and pictures:
                out, out_top = pictures[node.number], top
            else:
                out, out_top = new_like(result), 0
            apply_node(node, inputs, inputs.get(node.node.reads, result), top, out, out_top)
            if node.crop_box.width * node.crop_box.height < size.width * size.height:
                black_outside(out[:, out_top : out_top + bottom - top], top, node.crop_box)
            result = inputs[node.number] = out
            for number in node.released:
                inputs.pop(number, None)
            if node.number != fused.end and node.number in pictures:
                pictures[node.number][:, top:bottom] = result
        return result

    return rows


def black_outside(rows: Picture, top: int, box: Box) -> None:
    """Blacken what lies outside a box, in rows that begin at `top`, in place.

    Args:
        rows: of a picture; written to.
        top: the frame's row that is the first of them.
        box: what stays, in pixels of the frame.
    """
    rows[:, : max(int(box.top) - top, 0)] = 0
    rows[:, max(math.ceil(box.top + box.height) - top, 0) :] = 0
    rows[:, :, : int(box.left)] = 0
    rows[:, :, math.ceil(box.left + box.width) :] = 0


def prepare_node(node: Node, context: FrameContext) -> Any:
    """Return what a node's treatment prepares for a frame; None of one that only mixes.

    Args:
        node: of the graph.
        context: of the frame.

    Raises:
        TreatmentError: the treatment is of another package, and failed.
    """
    if node.treatment is None:
        return None
    try:
        return node.treatment.prepare(context)
    except Exception as error:
        _raise_named(error, node.treatment, context.frame)
        raise


def _raise_named(error: Exception, treatment: AnyTreatment, frame: int) -> None:
    """Say which treatment of another package failed, and at which frame.

    Raises:
        TreatmentError: it is one of another package, and the error is its own.
    """
    from_here = type(error).__module__.startswith("yearning.")  # that a request is stale, say
    if from_here or isinstance(error, OSError | MemoryError) or not is_foreign(treatment.kind):
        return
    raise TreatmentError(
        f"{treatment.kind} failed at frame {frame}: {type(error).__name__}: {error}; "
        f"switch its step off, or see its package '{treatment.kind.partition('.')[0]}'"
    ) from error


def apply_node(
    pass_node: PassNode,
    inputs: dict[int, Picture],
    read: Picture,
    top: int,
    out: Picture,
    out_top: int,
) -> None:
    """Treat a band of rows and mix it back.

    Args:
        pass_node: what is done.
        inputs: the same rows of the pictures made so far, by number.
        read: the rows that the treatment reads.
        top: the number of the first row.
        out: where the result goes.
        out_top: its first row there.

    Raises:
        TreatmentError: the treatment is of another package, and failed.
    """
    node, treatment, context = pass_node.node, pass_node.node.treatment, pass_node.context
    if treatment is None:
        treated, coverage = read, FULL_COVERAGE
    elif pass_node.replaces:
        _treat(treatment, Band(read, top, context, pass_node.prepared, out, out_top), False)
        return
    else:
        treated = new_like(read)
        band = Band(read, top, context, pass_node.prepared, treated, 0)
        coverage = _treat(treatment, band, node.lays_layer)
    if node.layer_alone:
        _show_alone(treated, coverage, out[:, out_top : out_top + treated.shape[1]])
    else:
        if pass_node.mask is not None:
            coverage = _mask_coverage(pass_node.mask, inputs, top, coverage, treated)
        _mix_back(node, inputs[node.below], treated, coverage, out, out_top)


def _treat(treatment: AnyTreatment, band: Band[Any], lays_layer: bool) -> Coverage:
    """Write the treated rows, or what the treatment adds; returns where they lie."""
    try:
        if lays_layer and isinstance(treatment, HasLayer):
            return treatment.layer(band)
        treatment.apply(band)
        return coverage_of(treatment, band)
    except Exception as error:
        _raise_named(error, treatment, band.context.frame)
        raise


def _show_alone(layer: Picture, coverage: Coverage, out: Picture) -> None:
    """Write a layer as it is; where it does not cover all, on mid-grey."""
    out[:] = layer
    if coverage.weight is not None:
        out -= np.float32(MID_GREY)
        out *= coverage.weight
        out += np.float32(MID_GREY)


def _mask_coverage(
    mask: PreparedMask, inputs: dict[int, Picture], top: int, coverage: Coverage, rows: Picture
) -> Coverage:
    """A layer's coverage where a mask lets it show."""
    _, height, width = rows.shape
    weight = mask.weights(top, height, width, inputs.__getitem__)
    if coverage.weight is not None:
        weight *= coverage.weight
    return coverage._replace(weight=weight)


def _mix_back(
    node: Node, below: Picture, treated: Picture, coverage: Coverage, out: Picture, out_top: int
) -> None:
    dimming = np.float32(coverage.backdrop_dimming * node.mix.amount)
    backdrop = below * (1 - dimming) if dimming else below
    weights = weight_plane(backdrop, node.mix.amount, node.mix.tones, coverage.weight)
    keeps = node.mix.out_of_range == "keep"
    mix(backdrop, treated, node.mix.blend, weights, out, out_top, keep_beyond=keeps)
    if dimming and coverage.weight is not None:  # what is not covered is not dimmed
        out[:, out_top : out_top + below.shape[1]] += dimming * (1 - coverage.weight) * below
