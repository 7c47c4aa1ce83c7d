"""Focus."""

from typing import Any, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.colour.transfer import to_code
from yearning.core.image import filters
from yearning.core.image.block_means import (
    EnlargedBlocks,
    block_grid,
    block_variance,
    crop_blocks,
    gather_means,
    mirror_aligned_side,
    pad_mirrored,
)
from yearning.core.image.resampling import weigh_four
from yearning.core.kernel_arrays import copy_line, new_line
from yearning.core.noise import fields
from yearning.core.picture import Picture, Plane, Size
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import (
    Lively,
    Ride,
    RidesOnTrack,
    UsesFrameStatistics,
)
from yearning.core.treatment.settings import Place, setting, track_setting
from yearning.core.treatment.statistics import StatisticsSpec

LEVELS = (0.35, 0.65, 1.0)
"""Blurs that are made, as parts of the largest; between them their pictures are mixed."""

BLOCKS_PER_RADIUS = 4.5
"""Blocks to the largest disc's radius, at least."""

MIN_PART = 1e-3
"""Of what is sharp, that still counts where all around is sharp."""

PART = 240
"""Pixels of a row that are made together, from as few levels as all of them need."""

GRAIN_SIGMA, GRAIN_RMS = 0.6, 0.04
"""σ in px@1080 of the grain that is put back, and its rms at full `regrain`."""


class Blurred(NamedTuple):
    """The blurred pictures, least first; the ellipse; and the kernel of the grain put back."""

    levels: tuple[EnlargedBlocks, ...]
    ellipse: NDArray[np.float32]
    grain_kernel: fields.NoiseKernel


class Focus(UsesFrameStatistics, Lively, RidesOnTrack, Treatment[Blurred]):
    """An ellipse stays sharp, and the rest blurs away from it as behind a wide lens.

    The blur is by discs, of light, so lamps open into discs of their own. Only what is itself out
    of focus goes into it: each picture is weighed by how far it is, and what is gathered divided by
    the weights gathered, so the sharp subject does not bleed into its surroundings. The largest
    radius is reached `fall` ellipses further out. The form is common practice, no source.
    """

    kind = "focus"
    stage = "glass"
    summary = "an ellipse stays sharp, the rest blurs away"
    keywords = ("depth of field", "blur", "tilt shift", "selective", "bokeh", "miniature")
    shown = {"size": [0.12, 0.3], "blur": 50}
    handle = "ellipse"

    centre: Place = setting(
        (0.5, 0.5), 0, 1, unit="place", label="Centre", help="The middle of what is sharp."
    )
    size: Place = setting(
        (0.16, 0.4),
        0.02,
        1,
        unit="place",
        label="Size",
        help="Half the ellipse, of the width and of the height.",
    )
    turn: float = setting(0.0, -90, 90, unit="degrees", label="Turn", help="Of the ellipse.")
    fall: float = setting(
        0.9,
        0.05,
        3,
        unit="factor",
        minimum=0.01,
        maximum=20,
        label="Fall",
        help="How far out the blur is full, in ellipses beyond its rim.",
    )
    blur: float = setting(
        16.0,
        0,
        60,
        unit="px@1080",
        minimum=0,
        maximum=400,
        label="Blur",
        help="The largest radius.",
    )
    regrain: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=4,
        label="Regrain",
        help="Grain put back where the blur took it, new in every frame.",
    )

    track: str = track_setting()

    def settings_on_track(self, ride: Ride) -> dict[str, Any]:
        """The ellipse where its track has taken it."""
        turn, size = ride.turn_and_size(self.centre)
        wide, high = self.size
        return {
            "centre": ride.place(self.centre),
            "size": (wide * size, high * size),
            "turn": self.turn + turn,
        }

    def is_lively(self) -> bool:
        """With grain put back it changes in every frame."""
        return self.regrain > 0

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """Light averaged over blocks, shape `(3, rows, columns)`."""
        block = self._block(size)

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            gather_means(band, top, size.height, block, True, values)

        return StatisticsSpec(("light", block), (3, *block_grid(size, block)), block, gather)

    def prepare(self, context: FrameContext) -> Blurred:
        """The picture blurred by discs of several sizes, at reduced size."""
        block, light = self._block(context.size), context.frame_statistics()
        ellipse = self._ellipse(context)
        rows, columns = light.shape[1:]
        weighed = new_array((4, rows, columns))
        _weigh(light, ellipse, block, weighed)
        done = 4 * block_variance(block)
        made: list[EnlargedBlocks | None] = [None] * len(LEVELS)

        def blur(n: int) -> None:
            radius = max((LEVELS[n] * self.blur * context.scale / block) ** 2 - done, 0.25) ** 0.5
            wider = pad_mirrored(weighed, block, context.size, round(radius) + 1)
            blurred = crop_blocks(filters.disc_blur(wider, radius), weighed)
            out = new_array((3, *blurred.shape[1:]))
            _divide_by_weight(blurred, out)
            made[n] = EnlargedBlocks(out, block, context.size)

        parallel.for_each(lambda n: blur(len(LEVELS) - 1 - n), len(LEVELS))  # the longest first
        grain_kernel = fields.noise_kernel(context.size, context.full_size, GRAIN_SIGMA, 0.0)
        return Blurred(tuple(level for level in made if level), ellipse, grain_kernel)

    def apply(self, band: Band[Blurred]) -> None:
        """Rows sharp within the ellipse, and blurred beyond it."""
        blurred: Blurred = band.prepared
        noise = np.zeros((1, 1), np.float32)
        if self.regrain:
            noise = new_array(band.picture.shape[1:])
            fields.fill_noise(*blurred.grain_kernel, 1, 0, band.context.frame, band.top, noise)
        least, more, most = (level.taps(*band.rows) for level in blurred.levels)
        _focus(
            band.picture,
            band.top,
            blurred.ellipse,
            least[0],
            more[0],
            *most,
            noise,
            np.float32(GRAIN_RMS * self.regrain),
            band.out,
            band.out_top,
        )

    def _block(self, size: Size) -> int:
        return mirror_aligned_side(self.blur * size.scale / BLOCKS_PER_RADIUS, size)

    def _ellipse(self, context: FrameContext) -> NDArray[np.float32]:
        """Its centre in pixels, what makes places distances of 1 at its rim, and the fall."""
        box = context.visible_box
        angle = np.radians(self.turn)
        wide = max(self.size[0], 1e-3) * box.width
        high = max(self.size[1], 1e-3) * box.height
        return np.array(
            [
                box.left + self.centre[0] * box.width,
                box.top + self.centre[1] * box.height,
                np.cos(angle) / wide,
                np.sin(angle) / wide,
                -np.sin(angle) / high,
                np.cos(angle) / high,
                1 / self.fall,
            ],
            np.float32,
        )


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _defocus(x: np.float32, y: np.float32, ellipse: NDArray[np.float32]) -> np.float32:
    """Return how far out of focus a place is, 0..1."""
    u = x * ellipse[2] + y * ellipse[3]
    v = x * ellipse[4] + y * ellipse[5]
    return smoothstep((np.sqrt(u * u + v * v) - np.float32(1)) * ellipse[6])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _weigh(light: Picture, ellipse: NDArray[np.float32], block: int, out: Picture) -> None:
    """Weight light by how far out of focus it is, and append the weight as a plane."""
    half = np.float32(block) / np.float32(2)
    for y in range(light.shape[1]):
        down = np.float32(y * block) + half - ellipse[1]
        for x in range(light.shape[2]):
            across = np.float32(x * block) + half - ellipse[0]
            away = _defocus(across, down, ellipse)
            weight = max(min(np.float32(4) * away, np.float32(1)), np.float32(MIN_PART))
            out[3, y, x] = weight
            for c in range(3):
                out[c, y, x] = weight * light[c, y, x]


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _divide_by_weight(weighed: Picture, out: Picture) -> None:
    """Divide weighted light by its weight, and code it for display."""
    for c in range(3):
        for y in range(out.shape[1]):
            for x in range(out.shape[2]):
                part = max(weighed[3, y, x], np.float32(1e-6))
                out[c, y, x] = to_code(weighed[c, y, x] / part)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _focus(
    picture: Picture,
    top: int,
    ellipse: NDArray[np.float32],
    least: Picture,
    more: Picture,
    most: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    noise: Plane,
    grain: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    """Mix the levels, of which those are enlarged down that a part of a row is made from."""
    zero, one = np.float32(0), np.float32(1)
    a, b, c = np.float32(LEVELS[0]), np.float32(LEVELS[1]), np.float32(LEVELS[2])
    height, width = picture.shape[1:]
    first, second, third = new_line(PART), new_line(PART), new_line(PART)
    seen = new_line(PART)
    for i in range(height):
        down = np.float32(top + i) + np.float32(0.5) - ellipse[1]
        four = weights[i]
        for left in range(0, width, PART):
            count = min(PART, width - left)
            some, full = zero, zero  # sums, since LLVM vectorizes those and not extremes
            for x in range(count):
                w = _defocus(np.float32(left + x) + np.float32(0.5) - ellipse[0], down, ellipse)
                first[x] = min(w / a, one)
                second[x] = min(max((w - a) / (b - a), zero), one)
                third[x] = min(max((w - b) / (c - b), zero), one)
            for x in range(count):
                some += first[x]
                full += one - third[x]
            for p in range(3):
                line = out[p, out_top + i, left : left + count]
                sharp = picture[p, i, left : left + count]
                if full <= zero:
                    _enlarge(most[p], start[i], four, left, line)
                    continue
                copy_line(sharp, line)
                if some <= zero:
                    continue
                for level, part in ((least, first), (more, second), (most, third)):
                    _enlarge(level[p], start[i], four, left, seen[:count])
                    for x in range(count):
                        line[x] += part[x] * (seen[x] - line[x])
            if grain > zero:
                for p in range(3):
                    for x in range(count):
                        out[p, out_top + i, left + x] += grain * first[x] * noise[i, left + x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _enlarge(
    wide: Plane, start: np.int32, weights: NDArray[np.float32], left: int, out: NDArray[np.float32]
) -> None:
    """A part of a row, from `left` on, of a plane that is enlarged down by four rows of it."""
    last, right = wide.shape[0] - 1, left + out.shape[0]
    weigh_four(
        out,
        weights,
        wide[min(start, last), left:right],
        wide[min(start + 1, last), left:right],
        wide[min(start + 2, last), left:right],
        wide[min(start + 3, last), left:right],
        False,
    )
