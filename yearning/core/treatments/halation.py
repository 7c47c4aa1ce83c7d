"""Halation."""

import colorsys

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.image.block_means import (
    EnlargedBlocks,
    block_grid,
    blur_block_means,
    mirror_aligned_side,
)
from yearning.core.image.highlights import gather_highlights, highlights_of
from yearning.core.image.linear_light import add_light
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import (
    AddsLight,
    StartsFromHighlights,
    UsesFrameStatistics,
)
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec
from yearning.core.treatment.tone_values import ToneValue, tone_number, tone_setting

HOLLOW = 0.55
"""σ of what a ring's middle is hollowed by, as a part of the ring's own."""

NEAR = 0.45
"""Spread of the inner, orange ring as a part of the red one's."""

ORANGER = 18.0
"""Degrees of hue by which the inner ring lies nearer to yellow."""

SHARES = (2.4, 1.1)
"""Light of the outer and of the inner ring at full strength, of that which scatters; more than
whole, since a display's white stands for lamps that were far brighter."""

SEES_RED = (0.75, 0.25)
"""Parts of red and green light that reach the base and come back."""

WIDE = 6.0
"""σ, as a multiple of the spread, within which light counts as wide."""

FULL = 0.4
"""Of it there, on average, at which all is wide light."""

KNEE = 0.3
"""Luma over which light comes to scatter fully; a soft knee does not pop in motion."""

MIDS = 0.06
"""How strongly mid-tones scatter at full warmth, beside highlights."""

SIGMA_PER_BLOCK = 0.9
"""σ, in blocks, of the narrowest blur that follows."""


class Halation(UsesFrameStatistics, StartsFromHighlights, AddsLight, Treatment[EnlargedBlocks]):
    """Bright light, reflected by the film's base, comes back red around what it came from.

    Light that meets the back of the base beyond the critical angle is reflected whole, so it
    returns as a ring and not as a blur; coming from behind it exposes the red layer most, and near
    its source the green one too, which makes orange. What is already full of red takes no more.
    A lamp that is clipped to white stands for far more light than a pale sky as wide as the frame,
    which exposure holds below that: what lies in wide light has only a part, `wide_light`.
    The ring is a gaussian less a narrower one, with nothing at its middle and an energy of 1; its
    form is common practice, no source. All of it is done in light.
    """

    kind = "halation"
    stage = "light"
    summary = "bright light comes back red from the film's base"
    keywords = ("red glow", "halo", "film", "bleed", "highlights")
    effect = "light"
    shown = {"strength": 1, "spread": 40}

    threshold: ToneValue = tone_setting(
        0.7, 0, 1, label="Threshold", help="Luma from which light gets through to the base."
    )
    spread: float = setting(
        16,
        2,
        80,
        unit="px@1080",
        minimum=0.1,
        maximum=500,
        label="Spread",
        help="How far out the ring lies: a thick base, or a small gauge, has a wide one.",
    )
    hue: float = setting(
        4,
        -20,
        40,
        unit="degrees",
        label="Hue",
        help="Of the outer light: 0 is red, 30 orange; nearest its source it is more orange.",
    )
    strength: float = setting(
        0.6, 0, 1, minimum=0, maximum=4, label="Strength", help="How much of the light comes back."
    )
    mid_warmth: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=2,
        label="Mid warmth",
        help="How far mid-tones scatter too, as on film without a backing: a warm veil.",
    )

    wide_light: float = setting(
        0.03,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Wide light",
        help="How far wide pale parts, a sky or a window, come back beside lamps, that do fully.",
    )

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """Light that scatters and luma, averaged over blocks, shape `(4, rows, columns)`."""
        block = self._block(size)
        low, knee = np.float32(tone_number(self.threshold)), np.float32(KNEE)
        mids = np.float32(MIDS * self.mid_warmth)

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            gather_highlights(band, top, size.height, block, low, knee, True, mids, values)

        key = ("highlights", low, knee, True, mids, block)
        return StatisticsSpec(key, (4, *block_grid(size, block)), block, gather)

    def prepare(self, context: FrameContext) -> EnlargedBlocks:
        """The light that comes back, at reduced size."""
        block = self._block(context.size)
        seen = context.frame_statistics()
        light = (SEES_RED[0] * seen[0] + SEES_RED[1] * seen[1])[None]
        if self.wide_light < 1:
            wide = [(WIDE * self.spread * context.scale, 1.0)]
            around = blur_block_means(light, block, context.size, wide)[0]
            _limit_light(light[0], around, np.float32(self.wide_light))
        outer = blur_block_means(light, block, context.size, _ring(self.spread * context.scale))[0]
        inner = blur_block_means(
            light, block, context.size, _ring(NEAR * self.spread * context.scale)
        )[0]
        tints = np.array([self._tint(0), self._tint(ORANGER)], np.float32)
        tints *= np.float32(self.strength) * np.array(SHARES, np.float32)[:, None]
        rings = np.empty((3, *outer.shape), np.float32)
        _tint_halo(outer, inner, tints, rings)
        return EnlargedBlocks(rings, block, context.size)

    def highlights(self, picture: Picture) -> Picture:
        """What gets through to the base, but for mid-tones."""
        return highlights_of(picture, tone_number(self.threshold), KNEE)

    def apply(self, band: Band[EnlargedBlocks]) -> None:
        """The picture with the returned light."""
        add_light(band.prepared, band.picture, band.top, band.out, band.out_top)

    def _block(self, size: Size) -> int:
        narrow = HOLLOW * NEAR * self.spread * size.scale
        return mirror_aligned_side(narrow / SIGMA_PER_BLOCK, size)

    def _tint(self, more: float) -> tuple[float, float, float]:
        """The colour as light, its strongest channel 1."""
        return colorsys.hsv_to_rgb((self.hue + more) % 360 / 360, 1.0, 1.0)


def _ring(sigma: float) -> list[tuple[float, float]]:
    """Return a ring of energy 1 as the difference of two gaussians.

    With k = (σi/σo)², (G_σo − k G_σi) / (1 − k) is 0 at its middle and nowhere negative.
    """
    k = HOLLOW**2
    return [(HOLLOW * sigma, -k / (1 - k)), (sigma, 1 / (1 - k))]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _limit_light(light: Plane, around: Plane, part: np.float32) -> None:
    """Weaken light by how full of light it is around it, and to no less than a part."""
    one, full = np.float32(1), np.float32(FULL)
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            dark = one - min(max(around[y, x], np.float32(0)) / full, one)
            light[y, x] *= part + (one - part) * dark * dark


@numba.njit(nogil=True, cache=True, fastmath=True)
def _tint_halo(outer: Plane, inner: Plane, tints: Plane, out: Picture) -> None:
    zero = np.float32(0)
    for c in range(3):
        a, b = tints[0, c], tints[1, c]
        for y in range(outer.shape[0]):
            for x in range(outer.shape[1]):
                out[c, y, x] = a * max(outer[y, x], zero) + b * max(inner[y, x], zero)
