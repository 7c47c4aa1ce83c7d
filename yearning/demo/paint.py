"""Painting in light: noise, shapes and sprites for the demo's footage.

Pictures here are linear light, `(height, width, 3)` float32, as OpenCV's warps take them.
"""

from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.smoothstep import smoothstep_array

Light = NDArray[np.float32]
"""Linear light, shape `(height, width, 3)`."""
Matte = NDArray[np.float32]
"""Coverage 0..1, shape `(height, width)`."""

WIDTH, HEIGHT, RATE = 1920, 1080, 24


@numba.njit(nogil=True, cache=True, inline="always")
def _corner(x: int, y: int, seed: int) -> float:
    h = (x * 374761393 + y * 668265263 + seed * 1442695041) & 0xFFFFFFFF
    h = ((h ^ (h >> 13)) * 1274126177) & 0xFFFFFFFF
    return (h ^ (h >> 16)) / 4294967295.0 * 2.0 - 1.0


@numba.njit(nogil=True, cache=True)
def noise(x: float, y: float, seed: int) -> float:
    """Return smooth value noise, −1..1, with features about one unit across.

    Args:
        x: across.
        y: down.
        seed: another gives another noise.
    """
    i, j = int(np.floor(x)), int(np.floor(y))
    u, v = x - i, y - j
    u = u * u * u * (u * (u * 6 - 15) + 10)
    v = v * v * v * (v * (v * 6 - 15) + 10)
    a, b = _corner(i, j, seed), _corner(i + 1, j, seed)
    c, d = _corner(i, j + 1, seed), _corner(i + 1, j + 1, seed)
    return (a + (b - a) * u) * (1 - v) + (c + (d - c) * u) * v


@numba.njit(nogil=True, cache=True)
def fractal(x: float, y: float, octaves: int, seed: int) -> float:
    """Return noise summed over octaves, each half as large and half as strong; about −1..1.

    Args:
        x: across.
        y: down.
        octaves: how many.
        seed: another gives another noise.
    """
    total, strength = 0.0, 0.5
    for k in range(octaves):
        total += strength * noise(x, y, seed + 17 * k)
        x, y, strength = 2.03 * x + 5.1, 2.03 * y + 1.7, 0.5 * strength
    return total


@numba.njit(nogil=True, cache=True)
def fractal_field(
    height: int, width: int, sx: float, sy: float, ox: float, oy: float, octaves: int, seed: int
) -> Matte:
    """Return `fractal` at every pixel.

    Args:
        height: in pixels.
        width: in pixels.
        sx: units to a pixel, across.
        sy: units to a pixel, down.
        ox: place of the first pixel, across.
        oy: place of the first pixel, down.
        octaves: how many.
        seed: another gives another noise.
    """
    out = np.empty((height, width), np.float32)
    for y in range(height):
        for x in range(width):
            out[y, x] = fractal(x * sx + ox, y * sy + oy, octaves, seed)
    return out


def colour(*rgb: float) -> NDArray[np.float32]:
    """A colour of light."""
    return np.array(rgb, np.float32)


def smooth(low: float, high: float, value: Any) -> Any:
    """Return 0 below `low`, 1 above `high`, and smooth values between.

    Args:
        low: the lower end.
        high: the upper end.
        value: a number or an array.
    """
    return smoothstep_array((np.asarray(value) - low) / (high - low))


def polygon(shape: tuple[int, int], points: Any, soft: float = 0.0) -> Matte:
    """Return the coverage of a polygon, drawn with sixteenths of a pixel.

    Args:
        shape: (rows, columns).
        points: (x, y) in pixels.
        soft: σ of a blur, in pixels.
    """
    matte = np.zeros(shape, np.uint8)
    fixed = np.round(np.asarray(points, np.float64) * 16).astype(np.int32)
    cv2.fillPoly(matte, [fixed], 255, lineType=cv2.LINE_AA, shift=4)
    out: Matte = matte.astype(np.float32) / np.float32(255)
    return blur_matte(out, soft) if soft else out


def blur_matte(matte: NDArray[np.float32], sigma: float) -> NDArray[np.float32]:
    """Blur a matte by a gaussian.

    Args:
        matte: 0..1.
        sigma: in pixels.
    """
    return np.asarray(cv2.GaussianBlur(matte, (0, 0), sigma), np.float32)


def box(x: float, y: float, s: float, *sides: float) -> list[tuple[float, float]]:
    """Return the corners of a box.

    Args:
        x: of its middle, across.
        y: of its middle, down.
        s: factor of its sides.
        sides: left, top, right and bottom, from the middle.
    """
    left, top, right, bottom = (s * side for side in sides)
    return [
        (x + left, y + top),
        (x + right, y + top),
        (x + right, y + bottom),
        (x + left, y + bottom),
    ]


def stroke(shape: tuple[int, int], points: Any, thickness: int) -> Matte:
    """Return the coverage of a line through points.

    Args:
        shape: (rows, columns).
        points: (x, y) in pixels.
        thickness: in pixels.
    """
    matte = np.zeros(shape, np.uint8)
    fixed = np.round(np.asarray(points, np.float64) * 16).astype(np.int32)
    cv2.polylines(matte, [fixed], False, 255, thickness, lineType=cv2.LINE_AA, shift=4)
    covered: Matte = matte.astype(np.float32) / np.float32(255)
    return covered


def lay(light: Light, matte: Matte, paint: Any) -> None:
    """Paint a colour, or a picture, through a matte, in place.

    Args:
        light: painted on.
        matte: 0..1.
        paint: a colour or a picture.
    """
    rows = np.flatnonzero(matte.any(axis=1))
    if rows.size == 0:
        return
    high = slice(rows[0], rows[-1] + 1)
    columns = np.flatnonzero(matte[high].any(axis=0))
    box = (high, slice(columns[0], columns[-1] + 1))
    part = np.broadcast_to(paint, light.shape)[box]
    light[box] += matte[box][..., None] * (part - light[box])


def lay_sprite(light: Light, sprite: NDArray[np.float32], place: NDArray[np.float64]) -> None:
    """Lay an RGBA sprite (premultiplied) through the affine `place` (2×3), in place.

    Args:
        light: painted on; may be a premultiplied RGBA canvas.
        sprite: premultiplied RGBA.
        place: where its pixels come to lie, 2×3.
    """
    height, width = sprite.shape[:2]
    corners = np.array([[0, 0, 1], [width, 0, 1], [width, height, 1], [0, height, 1]]) @ place.T
    x0, y0 = np.floor(corners.min(axis=0)).astype(int) - 1
    x1, y1 = np.ceil(corners.max(axis=0)).astype(int) + 2
    x0, y0 = max(x0, 0), max(y0, 0)
    x1, y1 = min(x1, light.shape[1]), min(y1, light.shape[0])
    if x0 >= x1 or y0 >= y1:
        return
    moved = place.copy()
    moved[:, 2] -= (x0, y0)
    part = cv2.warpAffine(sprite, moved, (x1 - x0, y1 - y0), flags=cv2.INTER_LINEAR)
    target = light[y0:y1, x0:x1]
    target *= 1 - part[..., 3:]
    target += part[..., : target.shape[2]]


def sprite_affine(x: float, y: float, angle: float, size: float, pivot: tuple[float, float]) -> Any:
    """Return the affine matrix that places a sprite.

    Args:
        x: where its pivot comes to lie, across.
        y: where its pivot comes to lie, down.
        angle: in radians.
        size: factor.
        pivot: of the sprite.
    """
    c, s = size * np.cos(angle), size * np.sin(angle)
    px, py = pivot
    return np.array([[c, -s, x - c * px + s * py], [s, c, y - s * px - c * py]])


def window_of(picture: NDArray[np.float32], x: float, width: int = WIDTH) -> NDArray[np.float32]:
    """Return a window of a wider picture, to a fraction of a pixel.

    Args:
        picture: the wider one.
        x: the window's first column.
        width: of the window.
    """
    place = np.array([[1, 0, -x], [0, 1, 0]], np.float64)
    return np.asarray(
        cv2.warpAffine(
            picture,
            place,
            (width, picture.shape[0]),
            flags=cv2.INTER_CUBIC,
            borderMode=cv2.BORDER_REFLECT,
        ),
        np.float32,
    )


def develop(light: Light, exposure: float) -> NDArray[np.float32]:
    """Return light as a display-coded picture: a soft shoulder, then BT.1886.

    Args:
        light: shape `(height, width, 3)`.
        exposure: factor.
    """
    exposed = np.maximum(light * exposure, 0)
    shoulder = exposed * (1 + exposed / 9.0) / (1 + exposed)  # Reinhard et al. 2002, white at 3
    code = np.minimum(shoulder, 1.0) ** (1 / 2.4)
    return np.ascontiguousarray(code.transpose(2, 0, 1).astype(np.float32))
