"""Soften."""

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BeforeValidator

from yearning.core.film_gauges import as_gauge, film_blur
from yearning.core.image import filters
from yearning.core.image.block_means import (
    EnlargedBlocks,
    block_grid,
    block_variance,
    blurred_blocks,
    crop_blocks,
    gather_means,
    mirror_aligned_side,
    pad_mirrored,
)
from yearning.core.picture import Picture, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import UsesFrameStatistics
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec

MIN_BLOCKS = {"gaussian": 2.0, "disc": 8.0, "film": 2.0}
"""Blocks to a gaussian's σ, the narrowest of film's, or to a disc's radius, at least."""


class Soften(UsesFrameStatistics, Treatment[EnlargedBlocks]):
    """The picture blurred by a gaussian, by a disc as a lens out of focus does, or as film does.

    As film, it keeps as much contrast of fine detail as a gauge and its lens resolve
    (`core/film_gauges.py`): a small gauge is enlarged further. Edges are mirrored, so nothing
    darkens towards the frame. Wide blurs run on a picture of block means: within 1/1000 of full
    scale of the exact gaussian, or 1/500 at the right and the lowest edge of pictures of odd sizes.
    """

    kind = "soften"
    stage = "glass"
    summary = "the picture blurred; screened back, a mist"
    keywords = ("blur", "mist", "gaussian", "dreamy", "defocus", "smooth")

    radius: float = setting(
        12.0,
        0,
        120,
        unit="px@1080",
        minimum=0,
        maximum=1000,
        label="Radius",
        visible_if={"shape": ["gaussian", "disc"]},
        help="The gaussian's σ, or the disc's radius.",
    )
    shape: Literal["gaussian", "disc", "film"] = setting(
        "gaussian",
        unit="choice",
        label="Shape",
        help="Mist, a lens out of focus, or what a film gauge resolves.",
    )
    gauge: Annotated[Literal[8, 16, 35], BeforeValidator(as_gauge)] = setting(
        16, unit="choice", label="Gauge", visible_if={"shape": ["film"]}, help="In millimetres."
    )

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """The picture averaged over blocks, shape `(3, rows, columns)`."""
        block = self._block(size)

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            gather_means(band, top, size.height, block, False, values)

        return StatisticsSpec(("means", block), (3, *block_grid(size, block)), block, gather)

    def prepare(self, context: FrameContext) -> EnlargedBlocks:
        """The blurred picture at reduced size."""
        block = self._block(context.size)
        means = context.frame_statistics()
        if self.shape == "film" and block == 1:
            blurred = filters.exact_gaussian_sum(means, self._gaussians(context.size))
            return EnlargedBlocks(blurred, block, context.size)
        if self.shape != "disc":
            return blurred_blocks(means, block, context.size, self._gaussians(context.size))
        # a disc's variance along an axis is a quarter of its radius squared
        radius = (
            max((self.radius * context.scale / block) ** 2 - 4 * block_variance(block), 0.25) ** 0.5
        )
        wider = pad_mirrored(means, block, context.size, round(radius) + 1)
        return EnlargedBlocks(
            crop_blocks(filters.disc_blur(wider, radius), means), block, context.size
        )

    def apply(self, band: Band[EnlargedBlocks]) -> None:
        """Rows of the blurred picture."""
        prepared: EnlargedBlocks = band.prepared
        prepared.fill(*band.rows, band.result)

    def _gaussians(self, size: Size) -> list[tuple[float, float]]:
        """(σ in pixels, weight), narrow ones first."""
        if self.shape == "film":
            return film_blur(self.gauge, size.width)
        return [(self.radius * size.scale, 1.0)]

    def _block(self, size: Size) -> int:
        if self.shape == "disc":
            narrowest = self.radius * size.scale
        else:
            narrowest = self._gaussians(size)[0][0]
        return mirror_aligned_side(narrowest / MIN_BLOCKS[self.shape], size)
