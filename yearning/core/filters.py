"""Filters: the one place that knows what happens at edges and sizes.

Edges are mirrored (d c b a | a b c d | d c b a), so nothing darkens towards the frame.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.memory import new_array, new_like
from yearning.core.picture import Picture, Plane, Size, new_picture, size_of


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _add_four(
    line: NDArray[np.float32],
    w: NDArray[np.float32],
    r0: NDArray[np.float32],
    r1: NDArray[np.float32],
    r2: NDArray[np.float32],
    r3: NDArray[np.float32],
) -> None:
    w0, w1, w2, w3 = w[0], w[1], w[2], w[3]
    for x in range(line.shape[0]):
        line[x] += (w0 * r0[x] + w1 * r1[x]) + (w2 * r2[x] + w3 * r3[x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def weigh_rows(src: Plane, start: NDArray[np.int32], weights: Plane, out: Plane) -> None:
    """Rows of `out` from rows of `src`; the number of taps is a multiple of four."""
    last = src.shape[0] - 1
    for i in range(out.shape[0]):
        line = out[i]
        line[:] = 0
        for t in range(0, weights.shape[1], 4):
            at = start[i] + t
            _add_four(
                line,
                weights[i, t : t + 4],
                src[min(at, last)],
                src[min(at + 1, last)],
                src[min(at + 2, last)],
                src[min(at + 3, last)],
            )


@numba.njit(nogil=True, cache=True)
def _turn(src: Plane, out: Plane) -> None:
    """Rows to columns, in squares that fit the cache."""
    side = 16
    height, width = src.shape
    for top in range(0, height, side):
        for left in range(0, width, side):
            for y in range(top, min(top + side, height)):
                for x in range(left, min(left + side, width)):
                    out[x, y] = src[y, x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def weigh_columns(
    src: Plane,
    start: NDArray[np.int32],
    weights: Plane,
    slides: bool,
    scratch: NDArray[np.float32],
    out: Plane,
) -> None:
    """Columns of `out` from those of `src`; the source reaches as far as the padded taps.

    Unless the taps slide, columns are turned into rows, which are weighed whole. `scratch` holds
    rows × (columns of `src` + columns of `out`) values.
    """
    rows, columns = src.shape
    if slides:
        for y in range(rows):
            line = out[y]
            line[:] = 0
            for t in range(0, weights.shape[1], 4):
                part = src[y, start[0] + t :]
                _add_four(line, weights[0, t : t + 4], part, part[1:], part[2:], part[3:])
        return
    turned = scratch[: columns * rows].reshape(columns, rows)
    result = scratch[columns * rows : (columns + out.shape[1]) * rows].reshape(out.shape[1], rows)
    _turn(src, turned)
    weigh_rows(turned, start, weights, result)
    _turn(result, out)


@dataclass(frozen=True)
class Taps:
    """A weighted resampling along one axis: output i is Σ_t weights[i, t] · input[start[i] + t]."""

    start: NDArray[np.int32]
    weights: NDArray[np.float32]
    """Padded with zeros to a multiple of four."""
    slides: bool
    """Whether every output has the same weights, one input further on."""

    @staticmethod
    def of(start: NDArray[np.int64], weights: NDArray[np.float64]) -> "Taps":
        """Taps from starts, shape `(n,)`, and weights, shape `(n, taps)`."""
        alike = np.allclose(weights, weights[0], atol=1e-9)
        slides = bool(len(start) > 1 and np.all(np.diff(start) == 1) and alike)
        padded = np.zeros((len(weights), -(-weights.shape[1] // 4) * 4), np.float32)
        padded[:, : weights.shape[1]] = weights
        return Taps(start.astype(np.int32), padded, slides)

    def rows(self, first: int, end: int) -> "Taps":
        """The taps of outputs `first` to `end` (exclusive) alone."""
        return Taps(self.start[first:end], self.weights[first:end], self.slides)

    def window(self) -> tuple[int, int]:
        """The inputs read: first, and one past the last."""
        return int(self.start.min()), int(self.start.max()) + self.weights.shape[1]

    def down(self, plane: Plane, shift: int = 0) -> Plane:
        """Resample the rows of a plane; `shift` is added to every start."""
        out = new_array((len(self.start), plane.shape[1]))
        weigh_rows(plane, self.start + np.int32(shift), self.weights, out)
        return out

    def across(self, plane: Plane, shift: int = 0) -> Plane:
        """Resample the columns of a plane; `shift` is added to every start."""
        rows = plane.shape[0]
        out = new_array((rows, len(self.start)))
        # turned over, columns are rows, and rows are weighed whole
        turned = new_array((plane.shape[1], rows))
        cv2.transpose(plane, turned)
        cv2.transpose(self.down(turned, shift), out)
        return out


def covered(count: int, scale: float) -> Iterator[tuple[NDArray[np.float64], NDArray[np.float64]]]:
    """Which samples, `scale` to one of theirs, lie under each of `count` larger ones.

    Yields the first sample under each and its share of the area, then the second, to the last.
    """
    edges = np.arange(count + 1) / scale
    first = np.floor(edges[:-1] + 1e-9)
    for k in range(int(np.ceil(1 / scale)) + 1):
        low = np.maximum(first + k, edges[:-1])
        high = np.minimum(first + k + 1, edges[1:])
        yield first + k, np.maximum(high - low, 0.0) * scale


@lru_cache(maxsize=64)
def area_taps(count_in: int, count_out: int) -> Taps:
    """Averages of the samples under each output: `count_in` samples to fewer, `count_out`."""
    parts = list(covered(count_out, count_out / count_in))
    weights = np.stack([share for _, share in parts], axis=1)
    start = np.minimum(parts[0][0].astype(np.int64), count_in - 1)
    while weights.shape[1] > 1 and weights[:, -1].max() < 1e-9:
        weights = weights[:, :-1]
    return Taps.of(start, weights)


def mirrored(index: NDArray[np.int64], count: int) -> NDArray[np.int64]:
    """Indices into 0..count−1 for any integers, mirrored at both ends as often as needed."""
    folded = np.mod(index, 2 * count)
    out: NDArray[np.int64] = np.minimum(folded, 2 * count - 1 - folded)
    return out


TRUNCATE = 4.2
"""Gaussians are cut at this many σ: less than 3e-5 of the weight lies beyond."""


@lru_cache(maxsize=256)
def gaussian_taps(count_in: int, count_out: int, sigma: float) -> Taps:
    """Gaussian resampling of a mirrored axis: `count_in` samples to `count_out` over one extent.

    `sigma` is in input samples. Weights of each output sum to 1.
    """
    centre = (np.arange(count_out) + 0.5) * (count_in / count_out) - 0.5
    radius = max(1.0, TRUNCATE * sigma)
    low = np.ceil(centre - radius).astype(np.int64)
    offsets = np.arange(int(2 * radius) + 1)
    index = low[:, None] + offsets
    weights = np.exp(-0.5 * ((index - centre[:, None]) / sigma) ** 2)
    weights /= weights.sum(axis=1, keepdims=True)
    taps = min(len(offsets), count_in)
    start = np.clip(low, 0, count_in - taps)
    folded = np.zeros((count_out, taps))
    np.add.at(
        folded, (np.arange(count_out)[:, None], mirrored(index, count_in) - start[:, None]), weights
    )
    return Taps.of(start, folded)


DIRECT_BELOW = 4.0
"""σ in pixels below which a gaussian runs at full size."""

SAMPLES_PER_SIGMA = 1.8
"""Samples a reduced picture keeps for each σ of the blur that will run on it."""

LIGHT = 1 << 18
"""Pixels up to which a pass runs at once: handing it to other threads would cost as much."""

ANTI_ALIAS = 0.7
"""σ of the gaussians that reduce and enlarge, in reduced pixels: a pattern at the reduced
picture's sampling rate, the worst case, comes through at e^(−2π²·0.49) = 6e-5."""


def _reduced(count: int, sigma: float) -> int:
    """Samples an axis of `count` is reduced to for a blur of `sigma`; a short one is kept."""
    return count if count <= 96 else max(96, round(count * SAMPLES_PER_SIGMA / sigma))


def _residual(count: int, reduced: int, sigma: float) -> float:
    """σ left to blur on the reduced axis, in reduced samples, after and before resampling."""
    ratio = count / reduced
    resampling = 0.0 if reduced == count else 2 * ANTI_ALIAS**2
    return float(np.sqrt(max((sigma / ratio) ** 2 - resampling, 1e-6)))


def reduced_for(size: Size, sigma: float) -> Size:
    """Size of the picture on which a blur of `sigma` pixels runs; `size` for a small σ."""
    if sigma < DIRECT_BELOW:
        return size
    return Size(_reduced(size.width, sigma), _reduced(size.height, sigma))


def reduce(picture: Picture, to: Size) -> Picture:
    """Reduce by gaussian resampling of `ANTI_ALIAS` reduced pixels on each axis that shrinks."""
    size = size_of(picture)
    if to == size:
        return picture
    out = new_picture(to)
    down = _resampling(size.height, to.height)
    across = _resampling(size.width, to.width)

    def work(top: int, bottom: int) -> None:
        for plane in range(3):
            source = picture[plane]
            lines = down.rows(top, bottom).down(source) if down else source[top:bottom]
            out[plane, top:bottom] = across.across(lines) if across else lines

    bands.each_band(to.height, work, _rows(to))
    return out


def enlarge(picture: Picture, to: Size) -> Picture:
    """Enlarge by gaussian interpolation of `ANTI_ALIAS` of the small picture's pixels."""
    size = size_of(picture)
    if to == size:
        return picture
    down = _resampling(size.height, to.height, enlarging=True)
    across = _resampling(size.width, to.width, enlarging=True)
    wide = picture if across is None else _enlarged_across(picture, across)
    if down is None:
        return wide
    out = new_picture(to)
    taps = down

    def work(top: int, bottom: int) -> None:
        part = taps.rows(top, bottom)
        for plane in range(3):
            weigh_rows(wide[plane], part.start, part.weights, out[plane, top:bottom])

    bands.each_band(to.height, work, _rows(to))
    return out


def _enlarged_across(picture: Picture, taps: Taps) -> Picture:
    wide = new_array((3, picture.shape[1], len(taps.start)))

    def work(top: int, bottom: int) -> None:
        for plane in range(3):
            wide[plane, top:bottom] = taps.across(picture[plane, top:bottom])

    bands.each_band(picture.shape[1], work, _rows(size_of(wide)))
    return wide


def _rows(size: Size) -> int:
    """Rows of a band for a light pass."""
    return size.height if size.width * size.height <= LIGHT else 64


def _resampling(count_in: int, count_out: int, enlarging: bool = False) -> Taps | None:
    if count_in == count_out:
        return None
    ratio = 1.0 if enlarging else count_in / count_out
    return gaussian_taps(count_in, count_out, ANTI_ALIAS * ratio)


def _blur_axes(picture: Picture, sigma_x: float, sigma_y: float, weight: float) -> Picture:
    """Blur at the picture's own size, each axis by its σ in pixels, and multiply by `weight`."""
    out = new_like(picture)
    height, width = picture.shape[1:]
    if max(2 * TRUNCATE * sigma_x / width, 2 * TRUNCATE * sigma_y / height) > 1:
        across = gaussian_taps(width, width, sigma_x)
        down = gaussian_taps(height, height, sigma_y)
        for plane in range(3):
            np.multiply(down.down(across.across(picture[plane])), weight, out=out[plane])
        return out
    kernel_x, kernel_y = (
        cv2.getGaussianKernel(2 * int(np.ceil(TRUNCATE * sigma)) + 1, sigma, cv2.CV_32F)
        for sigma in (sigma_x, sigma_y)
    )
    weighted_x = np.multiply(kernel_x, weight, dtype=np.float32)

    def blur(plane: int) -> None:
        cv2.sepFilter2D(
            picture[plane],
            cv2.CV_32F,
            weighted_x,
            kernel_y,
            dst=out[plane],
            borderType=cv2.BORDER_REFLECT,
        )

    bands.each(blur, 3)
    return out


def gaussian_sum(picture: Picture, parts: Sequence[tuple[float, float]]) -> Picture:
    """Weighted sum of gaussian blurs of a picture, each as wide or wider than the one before.

    `parts` are (σ in pixels, weight), σ above 0. Each blur is within 1/1000 of full scale of the
    exact one: wide blurs run on a reduced picture, the wider ones on one reduced further.
    """
    size = size_of(picture)
    return _gaussian_sum(picture, [(sigma, sigma, weight) for sigma, weight in parts], size)


def _gaussian_sum(
    picture: Picture, parts: Sequence[tuple[float, float, float]], size: Size
) -> Picture:
    """The sum for parts (σ across, σ down, weight) of a picture of `size`."""
    small = reduced_for(size, min(parts[0][:2]))
    if small == size:
        across, down, weight = parts[0]
        total = _blur_axes(picture, across, down, weight)
        if len(parts) > 1:
            _accumulate(_gaussian_sum(picture, parts[1:], size), total)
        return total
    residual = [
        (
            _residual(size.width, small.width, across),
            _residual(size.height, small.height, down),
            weight,
        )
        for across, down, weight in parts
    ]
    return enlarge(_gaussian_sum(reduce(picture, small), residual, small), size)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _accumulate(picture: Picture, total: Picture) -> None:
    for c in range(3):
        for y in range(total.shape[1]):
            for x in range(total.shape[2]):
                total[c, y, x] += picture[c, y, x]


def gaussian(picture: Picture, sigma: float) -> Picture:
    """Gaussian blur of σ `sigma` pixels, edges mirrored; shape `(3, height, width)`."""
    return gaussian_sum(picture, [(sigma, 1.0)]) if sigma > 0 else picture


class BlocksEnlarged:
    """A picture of block means, enlarged smoothly: across at once, down in bands of rows.

    Args:
        blocks: means over `block` × `block` pixels, the last ones mirrored over the edge.
        block: pixels of a block's side.
        size: of the whole enlarged picture.
    """

    def __init__(self, blocks: Picture, block: int, size: Size) -> None:
        height, width = blocks.shape[1:]
        sigma = ANTI_ALIAS if block > 1 else 1e-3  # blocks of one pixel stay as they are
        self._down = gaussian_taps(height, height * block, sigma)
        across = gaussian_taps(width, width * block, sigma).rows(0, size.width)
        self._wide = _enlarged_across(blocks, across) if block > 1 else blocks

    def taps(self, top: int, bottom: int) -> tuple[Picture, NDArray[np.int32], Plane]:
        """For rows `top` to `bottom` (exclusive): the lines to weigh, and starts and weights."""
        part = self._down.rows(top, bottom)
        return self._wide, part.start, part.weights


def area_resized(picture: Picture, to: Size) -> Picture:
    """Reduce to `to` by averaging the area under each new pixel; a picture of that size as is.

    Raises:
        ValueError: `to` is larger than the picture.
    """
    size = size_of(picture)
    if to == size:
        return picture
    if to.width > size.width or to.height > size.height:
        raise ValueError(f"{size.width}x{size.height} can only be made smaller, not {to}")
    out = new_picture(to)

    def work(plane: int) -> None:
        cv2.resize(picture[plane], to, dst=out[plane], interpolation=cv2.INTER_AREA)

    bands.each(work, 3)
    return out
