"""Soften."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray

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

MIN_BLOCKS = {"gaussian": 2.0, "disc": 8.0}
"""Blocks to a gaussian's σ, or to a disc's radius, at least."""


class Soften(UsesFrameStatistics, Treatment[EnlargedBlocks]):
    """The picture blurred, by a gaussian or as a lens out of focus does, by a disc.

    Edges are mirrored, so nothing darkens towards the frame. Wide blurs run on a picture of block
    means: within 1/1000 of full scale of the exact gaussian, or 1/500 at the right and the lowest
    edge of pictures of odd sizes.
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
        help="The gaussian's σ, or the disc's radius.",
    )
    shape: Literal["gaussian", "disc"] = setting(
        "gaussian", unit="choice", label="Shape", help="Mist, or a lens out of focus."
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
        if self.shape == "gaussian":
            return blurred_blocks(means, block, context.size, [(self.radius * context.scale, 1.0)])
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

    def _block(self, size: Size) -> int:
        return mirror_aligned_side(self.radius * size.scale / MIN_BLOCKS[self.shape], size)
