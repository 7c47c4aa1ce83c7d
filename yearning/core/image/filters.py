"""Filters: the one place that knows what happens at edges and sizes.

Edges are mirrored (d c b a | a b c d | d c b a), so nothing darkens towards the frame. Blurs take
pictures of any number of planes.
"""

from collections.abc import Sequence
from functools import lru_cache

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array, new_like
from yearning.core.image.resampling import (
    SPLINE_SIGMA,
    TRUNCATE,
    Taps,
    gaussian_taps,
    resample_rows,
    spline_taps,
)
from yearning.core.picture import Picture, Plane, Size, new_picture, size_of

DIRECT_BELOW = 4.0
"""σ in pixels below which a gaussian runs at full size."""

SAMPLES_PER_SIGMA = 1.8
"""Samples a reduced picture keeps for each σ of the blur that will run on it."""

LIGHT = 1 << 15
"""Pixels up to which a pass runs at once: handing it to other threads would cost as much."""

ANTI_ALIAS = 0.7
"""σ of the gaussians that reduce, in reduced pixels: a pattern at the reduced picture's sampling
rate, the worst case, comes through at e^(−2π²·0.49) = 6e-5."""


def _reduced_count(count: int, sigma: float) -> int:
    """Samples an axis of `count` is reduced to for a blur of `sigma`; a short one is kept."""
    return count if count <= 96 else max(96, round(count * SAMPLES_PER_SIGMA / sigma))


def _residual(count: int, reduced: int, sigma: float) -> float:
    """Return the σ still to be blurred on the reduced axis, in reduced samples."""
    ratio = count / reduced
    resampling = 0.0 if reduced == count else ANTI_ALIAS**2 + SPLINE_SIGMA**2
    return float(np.sqrt(max((sigma / ratio) ** 2 - resampling, 1e-6)))


def reduced_for(size: Size, sigma: float) -> Size:
    """Return the size at which a blur of `sigma` pixels runs: `size` itself for a small σ.

    Args:
        size: of the picture.
        sigma: in its pixels.
    """
    if sigma < DIRECT_BELOW:
        return size
    return Size(_reduced_count(size.width, sigma), _reduced_count(size.height, sigma))


def reduce(picture: Picture, to: Size) -> Picture:
    """Reduce by gaussian resampling of `ANTI_ALIAS` reduced pixels on each axis that shrinks.

    Args:
        picture: shape `(planes, height, width)`.
        to: no larger than that.
    """
    size = size_of(picture)
    if to == size:
        return picture
    out = new_array((picture.shape[0], to.height, to.width))
    down = _reducing(size.height, to.height)
    across = _reducing(size.width, to.width)

    def work(top: int, bottom: int) -> None:
        for plane in range(picture.shape[0]):
            source = picture[plane]
            lines = (
                down.rows(top, bottom).resample_vertically(source) if down else source[top:bottom]
            )
            out[plane, top:bottom] = across.resample_horizontally(lines) if across else lines

    parallel.for_each_band(to.height, work, _rows(to))
    return out


def enlarge(picture: Picture, to: Size) -> Picture:
    """Enlarge by cubic B-splines.

    Args:
        picture: shape `(planes, height, width)`.
        to: no smaller than that.
    """
    size = size_of(picture)
    if to == size:
        return picture
    down = None if size.height == to.height else spline_taps(size.height, to.height)
    across = None if size.width == to.width else spline_taps(size.width, to.width)
    wide = picture if across is None else _enlarged_across(picture, across)
    if down is None:
        return wide
    out = new_array((picture.shape[0], to.height, to.width))
    taps = down

    def work(top: int, bottom: int) -> None:
        part = taps.rows(top, bottom)
        for plane in range(picture.shape[0]):
            resample_rows(wide[plane], part.start, part.weights, out[plane, top:bottom])

    parallel.for_each_band(to.height, work, _rows(to))
    return out


def _enlarged_across(picture: Picture, taps: Taps) -> Picture:
    wide = new_array((picture.shape[0], picture.shape[1], len(taps.start)))

    def work(top: int, bottom: int) -> None:
        for plane in range(picture.shape[0]):
            wide[plane, top:bottom] = taps.resample_horizontally(picture[plane, top:bottom])

    parallel.for_each_band(picture.shape[1], work, _rows(size_of(wide)))
    return wide


def _rows(size: Size) -> int:
    """Return the rows of a band for a pass that does little work a pixel."""
    return size.height if size.width * size.height <= LIGHT else 64


def _reducing(count_in: int, count_out: int) -> Taps | None:
    if count_in == count_out:
        return None
    return gaussian_taps(count_in, count_out, ANTI_ALIAS * count_in / count_out)


def _blur_axes(picture: Picture, sigma_x: float, sigma_y: float, weight: float) -> Picture:
    """Blur at the picture's own size, each axis by its σ in pixels, and multiply by `weight`."""
    out = new_like(picture)
    height, width = picture.shape[1:]
    if max(2 * TRUNCATE * sigma_x / width, 2 * TRUNCATE * sigma_y / height) > 1:
        across = gaussian_taps(width, width, sigma_x)
        down = gaussian_taps(height, height, sigma_y)
        for plane in range(picture.shape[0]):
            np.multiply(
                down.resample_vertically(across.resample_horizontally(picture[plane])),
                weight,
                out=out[plane],
            )
        return out
    weighted_x = np.multiply(_kernel(sigma_x), weight, dtype=np.float32)
    kernel_y = _kernel(sigma_y)

    def blur(plane: int) -> None:
        cv2.sepFilter2D(
            picture[plane],
            cv2.CV_32F,
            weighted_x,
            kernel_y,
            dst=out[plane],
            borderType=cv2.BORDER_REFLECT,
        )

    if width * height <= LIGHT:
        for plane in range(picture.shape[0]):
            blur(plane)
    else:
        parallel.for_each(blur, picture.shape[0])
    return out


@lru_cache(maxsize=64)
def _kernel(sigma: float) -> NDArray[np.float32]:
    taps = 2 * int(np.ceil(TRUNCATE * sigma)) + 1
    return np.asarray(cv2.getGaussianKernel(taps, sigma, cv2.CV_32F), np.float32)


def gaussian_sum(picture: Picture, parts: Sequence[tuple[float, float]]) -> Picture:
    """Return the weighted sum of gaussian blurs of a picture, each as wide or wider than the last.

    Each blur is within 1/1000 of full scale of the exact one: wide blurs run on a reduced picture,
    the wider ones on one reduced further.

    Args:
        picture: shape `(planes, height, width)`; edges are mirrored.
        parts: (σ in pixels, above 0, and weight) of each.
    """
    size = size_of(picture)
    return _gaussian_sum(picture, [(sigma, sigma, weight) for sigma, weight in parts], size)


def _gaussian_sum(
    picture: Picture, parts: Sequence[tuple[float, float, float]], size: Size
) -> Picture:
    """Sum blurs given as (σ across, σ down, weight) of a picture of `size`."""
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
    for c in range(total.shape[0]):
        for y in range(total.shape[1]):
            for x in range(total.shape[2]):
                total[c, y, x] += picture[c, y, x]


@lru_cache(maxsize=64)
def _nearest_taps(sigma: float) -> NDArray[np.float32]:
    """Taps, none below 0, whose frequency response is nearest to a gaussian's.

    A gaussian of less than a pixel that is sampled lets far more fine detail through than it
    should: at σ = 0.4, 84 % of the finest instead of 45 %.
    """
    from scipy.optimize import nnls  # here, since it takes long to import

    cycles = np.linspace(0, 0.5, 101)
    count = max(2, int(np.ceil(TRUNCATE * sigma)))
    waves = 2 * np.cos(2 * np.pi * cycles[:, None] * np.arange(count + 1))
    waves[:, 0] = 1
    weight = np.where(cycles == 0, 1e3, np.where(cycles < 0.45, 1, 0.3))
    wanted = np.exp(-2 * (np.pi * sigma * cycles) ** 2)
    half, _ = nnls(waves * weight[:, None], wanted * weight)
    taps = np.concatenate([half[:0:-1], half])
    return np.asarray(taps / taps.sum(), np.float32)


def exact_gaussian_sum(picture: Picture, parts: Sequence[tuple[float, float]]) -> Picture:
    """Weighted sum of gaussian blurs that keep of each frequency what a gaussian does.

    They run at the picture's own size, edges mirrored, so σ should be small.

    Args:
        picture: shape `(planes, height, width)`.
        parts: (σ in pixels, weight) of each.
    """
    out = new_like(picture)

    def blur(plane: int) -> None:
        for n, (sigma, weight) in enumerate(parts):
            taps = _nearest_taps(round(sigma, 4))
            weighed = np.multiply(taps, weight, dtype=np.float32)
            seen = cv2.sepFilter2D(
                picture[plane], cv2.CV_32F, weighed, taps, borderType=cv2.BORDER_REFLECT
            )
            if n:
                cv2.add(out[plane], seen, dst=out[plane])
            else:
                out[plane] = seen

    parallel.for_each(blur, picture.shape[0])
    return out


def gaussian(picture: Picture, sigma: float) -> Picture:
    """Blur a picture by a gaussian, edges mirrored.

    Args:
        picture: shape `(planes, height, width)`.
        sigma: σ in pixels.
    """
    return gaussian_sum(picture, [(sigma, 1.0)]) if sigma > 0 else picture


def disc_blur(picture: Picture, radius: float) -> Picture:
    """Blur by a disc of `radius` pixels, its rim's pixels weighed by what of them it covers.

    Args:
        picture: shape `(planes, height, width)`.
        radius: in pixels.
    """
    out = new_like(picture)
    kernel = _disc(radius)

    def blur(plane: int) -> None:
        cv2.filter2D(
            picture[plane], cv2.CV_32F, kernel, dst=out[plane], borderType=cv2.BORDER_REFLECT
        )

    parallel.for_each(blur, picture.shape[0])
    return out


RIM = 16
"""A pixel of a disc's rim is covered by so many points on each side that are in or out."""


@lru_cache(maxsize=16)
def _disc(radius: float) -> Plane:
    reach = int(np.ceil(radius - 0.5))
    at = (np.arange((2 * reach + 1) * RIM) + 0.5) / RIM - reach - 0.5
    inside = (at[:, None] ** 2 + at**2 <= radius**2).astype(np.float32)
    side = 2 * reach + 1
    cover = inside.reshape(side, RIM, side, RIM).mean(axis=(1, 3))
    return np.asarray(cover / cover.sum(), np.float32)


def area_resized(picture: Picture, to: Size) -> Picture:
    """Reduce to `to` by averaging the area under each new pixel; a picture of that size as is.

    Args:
        picture: shape `(planes, height, width)`.
        to: no larger than that.

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

    parallel.for_each(work, 3)
    return out


def enlarge_cubic(picture: Picture, to: Size) -> Picture:
    """Enlarge to `to` by cubic convolution (Keys 1981), for pixels that are not square.

    Args:
        picture: shape `(planes, height, width)`.
        to: no smaller than that.
    """
    if size_of(picture) == to:
        return picture
    out = new_picture(to)

    def work(plane: int) -> None:
        cv2.resize(picture[plane], to, dst=out[plane], interpolation=cv2.INTER_CUBIC)

    parallel.for_each(work, 3)
    return out
