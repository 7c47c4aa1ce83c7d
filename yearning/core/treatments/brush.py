"""Brush."""

from typing import ClassVar, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.image import filters
from yearning.core.image.bilinear import Line, add_bilinear, bilinear_coordinates
from yearning.core.image.block_means import block_grid, block_side, gather_means
from yearning.core.kernel_arrays import new_int_line, new_line, new_lines
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Reach, Treatment
from yearning.core.treatment.capabilities import UsesFrameStatistics, WantsTallBands
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec

SECTORS = 12

RINGS = (0.44, 0.8)
"""Windows of a sector: how far out, in radii."""

WINDOW = 0.2
"""σ of a window, in radii."""

BLOCKS_PER_RADIUS = 4.5
"""Blocks to a radius on which windows are averaged, at least."""

ORIENTED = 0.45
"""σ over which orientation is smoothed, in radii."""

MIN_EDGE = 4e-5
"""Squared gradient, a block, below which there is no edge to follow: that of faint noise."""

COARSE, FINE = 0.05, 0.004
"""Spread within a sector, in code values, from which sectors are distinguished at no detail and
at full."""

_ONE = np.float32(1)


class Painted(NamedTuple):
    """Windows' means and squares, and the ellipses around each block.

    `windows` are R, G, B and R² + G² + B²; `ellipses` xx, xy and yy of the symmetric matrix that
    makes the unit disc the ellipse, in blocks; `places` are the windows' in that disc.
    """

    windows: Picture
    ellipses: Picture
    places: NDArray[np.float32]
    floor: np.float32
    block: int


class Brush(WantsTallBands, UsesFrameStatistics, Treatment[Painted]):
    """The picture painted: even areas with firm edges, in strokes that follow them.

    A generalized Kuwahara filter. Around each pixel an ellipse of the radius `size`, drawn out
    along the local orientation, is divided into twelve overlapping sectors, each the sum of two
    gaussian windows; the window in its middle counts as one too, so that lamps smaller than a
    stroke stay whole. With mᵢ the mean of a sector and sᵢ² its variance, the result is
    Σ mᵢ wᵢ / Σ wᵢ, wᵢ = (sᵢ² + s₀²)⁻⁴: the most even sectors prevail (Papari, Petkov, Campisi,
    Artistic Edge and Corner Enhancing Smoothing, IEEE Transactions on Image Processing 16, 2007:
    its q = 8, with s₀ so that noise decides nothing). The ellipse is that of the smoothed structure
    tensor, with the axes 1 + along · A and its inverse, A the tensor's anisotropy (Kyprianidis,
    Kang, Döllner, Image and Video Abstraction by Anisotropic Kuwahara Filtering, Computer Graphics
    Forum 28, 2009; both from memory). All of it is computed from the frame and its neighbours,
    brought along the motion and averaged, so that strokes do not boil.
    """

    kind = "brush"
    stage = "ink & signal"
    band_multiple: ClassVar[int] = 64
    summary = "painted: even strokes that keep edges and follow them"
    keywords = ("painting", "oil", "watercolour", "strokes", "painterly")
    shown = {"size": 26, "detail": 0.8}

    size: float = setting(
        10.0,
        2,
        40,
        unit="px@1080",
        minimum=0.5,
        maximum=300,
        label="Size",
        help="Radius of a stroke.",
    )
    detail: float = setting(
        0.6,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Detail",
        help="How faint the edges are that are kept.",
    )
    along: float = setting(
        0.8, 0, 2, minimum=0, maximum=6, label="Along", help="How far strokes follow edges."
    )
    temporal_smoothing: int = setting(
        1,
        0,
        6,
        unit="frames",
        minimum=0,
        maximum=24,
        label="Smooth over time",
        help="Frames before and after over which the picture is smoothed along its motion.",
    )

    def neighbours(self) -> Reach:
        """`temporal_smoothing` frames on both sides."""
        return Reach(self.temporal_smoothing, self.temporal_smoothing)

    def _block(self, size: Size) -> int:
        return block_side(self.size * size.scale / BLOCKS_PER_RADIUS)

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """The picture averaged over blocks, shape `(3, rows, columns)`."""
        block = self._block(size)

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            gather_means(band, top, size.height, block, False, values)

        return StatisticsSpec(
            ("means", block), (3, *block_grid(size, block)), block, gather, luma_plane=1
        )

    def prepare(self, context: FrameContext) -> Painted:
        """Windows and ellipses."""
        means, block = (
            context.temporally_filtered(self.temporal_smoothing),
            self._block(context.size),
        )
        radius = max(self.size * context.scale / block, 0.5)
        _, rows, columns = means.shape
        squares = np.empty((4, rows, columns), np.float32)
        _with_squares(means, squares)
        windows = filters.gaussian(squares, WINDOW * radius)
        tensor = new_array((3, rows, columns))
        _tensor(means, tensor)
        smooth = filters.gaussian(tensor, max(ORIENTED * radius, 1.0))
        ellipses = new_array((3, rows, columns))
        _ellipses(smooth, np.float32(radius), np.float32(self.along), ellipses)
        spread = COARSE * (FINE / COARSE) ** self.detail
        return Painted(windows, ellipses, _places(), np.float32(3 * spread**2), block)

    def apply(self, band: Band[Painted]) -> None:
        """Rows painted."""
        painted: Painted = band.prepared
        _paint(*painted, band.top, *band.result_rows)


def _places() -> NDArray[np.float32]:
    """Windows of sectors in the unit disc, shape `(sectors + 1, windows, 2)`; last the middle."""
    turns = 2 * np.pi * np.arange(SECTORS) / SECTORS
    ways = np.stack([np.cos(turns), np.sin(turns)], axis=1)
    around = ways[:, None] * np.array(RINGS)[:, None]
    middle = np.zeros((1, len(RINGS), 2))
    return np.concatenate([around, middle]).astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _with_squares(means: Picture, out: Picture) -> None:
    """R, G, B and R² + G² + B²."""
    for y in range(means.shape[1]):
        red, green, blue = means[0, y], means[1, y], means[2, y]
        for x in range(means.shape[2]):
            out[0, y, x], out[1, y, x], out[2, y, x] = red[x], green[x], blue[x]
            out[3, y, x] = red[x] * red[x] + green[x] * green[x] + blue[x] * blue[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _tensor(means: Picture, out: Picture) -> None:
    """The structure tensor, xx, xy, yy, summed over R, G and B, by central differences."""
    _, rows, columns = means.shape
    half = np.float32(0.5)
    for y in range(rows):
        out[:, y] = np.float32(0)
        above, below = max(y - 1, 0), min(y + 1, rows - 1)
        for c in range(3):
            up, line, down = means[c, above], means[c, y], means[c, below]
            for x in range(columns):
                gx = half * (line[min(x + 1, columns - 1)] - line[max(x - 1, 0)])
                gy = half * (down[x] - up[x])
                out[0, y, x] += gx * gx
                out[1, y, x] += gx * gy
                out[2, y, x] += gy * gy


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _ellipses(tensor: Picture, radius: np.float32, along: np.float32, out: Picture) -> None:
    """Matrices a·t·tᵀ + b·n·nᵀ, with t along edges, n across them, and a, b the half axes."""
    half = np.float32(0.5)
    for y in range(out.shape[1]):
        for x in range(out.shape[2]):
            e, f, g = tensor[0, y, x], tensor[1, y, x], tensor[2, y, x]
            apart = np.sqrt((e - g) * (e - g) + np.float32(4) * f * f)
            follows = apart / (e + g + np.float32(MIN_EDGE))
            a = radius * (_ONE + along * follows)
            b = radius * radius / a
            # n·nᵀ = (1 + (T − tr T / 2) · 2 / apart) / 2
            turn = half / max(apart, np.float32(1e-12))
            nxx, nxy = half + (e - g) * turn, np.float32(2) * f * turn
            out[0, y, x] = a + (b - a) * nxx
            out[1, y, x] = (b - a) * nxy
            out[2, y, x] = a + (b - a) * (_ONE - nxx)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _window(
    ellipses: Picture, y: int, u: np.float32, v: np.float32, right: Line, down: Line
) -> None:
    """Compute where a sector's window lies for each block of a row."""
    xx, xy, yy = ellipses[0, y], ellipses[1, y], ellipses[2, y]
    for x in range(right.shape[0]):
        right[x] = np.float32(x) + xx[x] * u + xy[x] * v
        down[x] = np.float32(y) + xy[x] * u + yy[x] * v


@numba.njit(nogil=True, cache=True, fastmath=True)
def _sectors(
    windows: Picture,
    ellipses: Picture,
    places: NDArray[np.float32],
    y: int,
    out: NDArray[np.float32],
) -> None:
    """What each sector around the blocks of a row has on average, shape (sectors, 4, columns)."""
    _, rows, columns = windows.shape
    at = new_int_line(columns)
    fx, fy = new_line(columns), new_line(columns)
    share = _ONE / np.float32(places.shape[1])
    out[:] = np.float32(0)
    for k in range(places.shape[0]):
        for m in range(places.shape[1]):
            _window(ellipses, y, places[k, m, 0], places[k, m, 1], fx, fy)
            bilinear_coordinates(fx, fy, rows, columns, at)
            for p in range(4):
                flat = windows[p].reshape(rows * columns)
                add_bilinear(flat, rows, columns, at, fx, fy, share, out[k, p])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _wider(
    upper: Line, lower: Line, fy: np.float32, at: NDArray[np.int32], fx: Line, line: Line, out: Line
) -> None:
    """Interpolate a line of pixels between two rows of blocks; `line` is scratch."""
    for x in range(upper.shape[0]):
        line[x] = upper[x] + fy * (lower[x] - upper[x])
    last = upper.shape[0] - 1
    line[last + 1] = line[last]
    others = line[1:]
    for x in range(out.shape[0]):
        n = np.uint32(at[x])
        out[x] = line[n] + fx[x] * (others[n] - line[n])


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _prevail(sector: Plane, floor: np.float32, sums: Plane) -> None:
    """Add a sector's weight and its weighted R, G and B (Papari et al. 2007)."""
    for x in range(sums.shape[1]):
        r, g, b = sector[0, x], sector[1, x], sector[2, x]
        spread = max(sector[3, x] - r * r - g * g - b * b, np.float32(0)) + floor
        even = floor / spread
        weight = even * even
        weight *= weight
        sums[0, x] += weight * r
        sums[1, x] += weight * g
        sums[2, x] += weight * b
        sums[3, x] += weight


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _paint(
    windows: Picture,
    ellipses: Picture,
    places: NDArray[np.float32],
    floor: np.float32,
    block: int,
    top: int,
    whole: Picture,
    first: int,
    last: int,
) -> None:
    _, rows, columns = windows.shape
    out = whole[:, first:last]
    width = out.shape[2]
    at, fx = new_int_line(width), new_line(width)
    for x in range(width):
        place = min(max((x + 0.5) / block - 0.5, 0.0), columns - 1.0)
        at[x] = np.int32(place)
        fx[x] = np.float32(place - np.int32(place))
    count = places.shape[0]
    upper = new_lines(4 * count, columns).reshape(count, 4, columns)
    lower = new_lines(4 * count, columns).reshape(count, 4, columns)
    sector, line = new_lines(4, width), new_line(columns + 1)
    sums = new_lines(4, width)
    have = -9  # the row of blocks whose sectors are in `upper`; those of the one below in `lower`
    for i in range(out.shape[1]):
        place = min(max((top + i + 0.5) / block - 0.5, 0.0), rows - 1.0)
        y = int(place)
        if y == have + 1:
            upper, lower = lower, upper
        elif y != have:
            _sectors(windows, ellipses, places, y, upper)
        if y != have:
            _sectors(windows, ellipses, places, min(y + 1, rows - 1), lower)
            have = y
        sums[:] = np.float32(0)
        for k in range(count):
            for p in range(4):
                _wider(upper[k, p], lower[k, p], np.float32(place - y), at, fx, line, sector[p])
            _prevail(sector, floor, sums)
        for c in range(3):
            to = out[c, i]
            for x in range(width):
                to[x] = sums[c, x] / sums[3, x]
