"""A painted head: an ellipsoid with features by azimuth and height, and the figure about it."""

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.demo.paint import (
    HEIGHT,
    WIDTH,
    Light,
    Matte,
    blur_matte,
    colour,
    fractal_field,
    smooth,
)

WIDE, TALL, DEEP = 150.0, 208.0, 168.0
"""Half axes of the head, in pixels."""

SKIN = colour(0.27, 0.150, 0.095)
BEARD = colour(0.020, 0.0125, 0.0085)

SUN = np.array([-0.74, -0.34, 0.58])
"""Where the low light comes from: left, down from above, towards the viewer."""

Points = NDArray[np.float64]


class Pose(NamedTuple):
    """Where the head's middle is, and how it is turned, in radians."""

    x: float
    y: float
    yaw: float
    roll: float


Part = tuple[slice, slice]
"""Rows and columns of the frame."""

ALL: Part = (slice(None), slice(None))


class Figure:
    """A figure as it is painted: its light, and what it covers of the frame."""

    def __init__(self) -> None:
        self.light: Light = np.zeros((HEIGHT, WIDTH, 3), np.float32)
        self.cover: Matte = np.zeros((HEIGHT, WIDTH), np.float32)

    def lay(self, matte: Matte, paint: Any, part: Part = ALL) -> None:
        """Lay a colour, or a picture, over a part of it; the light is premultiplied.

        Args:
            matte: of what is laid.
            paint: a colour or a picture.
            part: of the figure.
        """
        rows = np.flatnonzero(matte.any(axis=1))
        if rows.size == 0:
            return
        high = slice(rows[0], rows[-1] + 1)
        columns = np.flatnonzero(matte[high].any(axis=0))
        seen = (high, slice(columns[0], columns[-1] + 1))
        light, cover, weight = self.light[part][seen], self.cover[part][seen], matte[seen]
        light *= (1 - weight)[..., None]
        light += weight[..., None] * np.broadcast_to(paint, (*matte.shape, 3))[seen]
        cover += weight * (1 - cover)


def surface_light(normal: NDArray[np.float32], ambient: float = 0.26) -> NDArray[np.float32]:
    """Return how much light a surface gives back: low sun from the left, and what the wall returns.

    Args:
        normal: of each pixel, shape `(3, height, width)`.
        ambient: light of the wall.
    """
    sun = np.clip(normal @ (SUN / np.linalg.norm(SUN)), 0, 1)
    sky = 0.5 - 0.5 * normal[..., 1]
    wall = np.clip(normal[..., 0], 0, 1) ** 2
    return np.asarray(1.35 * sun + ambient * (0.5 + sky) + 0.16 * wall, np.float32)


class Surface(NamedTuple):
    """The head's surface as it is seen in a part of the frame.

    It has coverage, normals, and the place on it by azimuth (from the nose) and height (−1 at the
    top to 1 at the chin).
    """

    part: Part
    matte: Matte
    normal: NDArray[np.float32]
    azimuth: NDArray[np.float32]
    down: NDArray[np.float32]


def head_surface(at: Pose) -> Surface:
    """The head as it is seen in a pose."""
    top, left = max(int(at.y) - 250, 0), max(int(at.x) - 210, 0)
    part = (slice(top, top + 500), slice(left, left + 420))
    y, x = np.mgrid[part].astype(np.float32) + np.float32(0.5)
    c, s = np.cos(at.roll), np.sin(at.roll)
    u, v = (x - at.x) * c + (y - at.y) * s, (y - at.y) * c - (x - at.x) * s
    down = np.clip(v / TALL, -1, 1)
    jaw = 1 - 0.11 * smooth(0.15, 1.0, down) - 0.05 * smooth(-0.3, -1.0, down)
    cy, sy = np.cos(at.yaw), np.sin(at.yaw)
    # the ellipsoid turned about its upright axis: a u² + 2 b u w + d w² = 1 − v²
    wide, deep = WIDE * jaw, DEEP * jaw
    a = (cy / wide) ** 2 + (sy / deep) ** 2
    b = cy * sy * (1 / deep**2 - 1 / wide**2)
    d = (sy / wide) ** 2 + (cy / deep) ** 2
    left = 1 - down**2 - (a - b * b / d) * u * u
    edge = np.sqrt(np.maximum(1 - down**2, 0) / (a - b * b / d))
    matte = np.clip(edge - np.abs(u) + 0.5, 0, 1) * (np.abs(v) < TALL)
    w = np.sqrt(np.maximum(left, 0) / d) - b * u / d
    side, front = u * cy - w * sy, u * sy + w * cy
    azimuth = np.arctan2(side / wide, front / deep)
    out = np.stack([side / wide**2, v / TALL**2, front / deep**2], -1)
    out /= np.maximum(np.linalg.norm(out, axis=-1, keepdims=True), 1e-9)
    turned = np.stack([out[..., 0] * cy + out[..., 2] * sy, out[..., 1],
                       -out[..., 0] * sy + out[..., 2] * cy], -1)  # fmt: skip
    found = (each.astype(np.float32) for each in (matte, turned, azimuth, down))
    return Surface(part, *found)


def _blob(
    head: Surface, azimuth: float, down: float, wide: float, tall: float
) -> NDArray[np.float32]:
    """A soft spot on the head."""
    across = (head.azimuth - azimuth) / wide
    return np.asarray(np.exp(-(across**2) - ((head.down - down) / tall) ** 2), np.float32)


def _relief(head: Surface) -> NDArray[np.float32]:
    """The head's normals with brow, nose, cheeks and lips raised from it."""
    height = 0.34 * _blob(head, 0, 0.02, 0.13, 0.20) * (head.down < 0.3)
    height += 0.40 * _blob(head, 0, 0.16, 0.17, 0.085)
    height += 0.16 * _blob(head, -0.48, 0.12, 0.28, 0.14) + 0.16 * _blob(
        head, 0.48, 0.12, 0.28, 0.14
    )
    height += 0.14 * _blob(head, -0.36, -0.21, 0.30, 0.05) + 0.14 * _blob(
        head, 0.36, -0.21, 0.30, 0.05
    )
    height -= 0.26 * _blob(head, -0.38, -0.07, 0.20, 0.075) + 0.26 * _blob(
        head, 0.38, -0.07, 0.20, 0.075
    )
    height += 0.12 * _blob(head, 0, 0.375, 0.24, 0.045)
    height = blur_matte(height.astype(np.float32), 3.0)
    down, across = np.gradient(height)
    raised = head.normal.copy()
    raised[..., 0] -= 26 * across
    raised[..., 1] -= 26 * down
    raised /= np.linalg.norm(raised, axis=-1, keepdims=True)
    return np.asarray(raised, np.float32)


def lay_face(figure: Figure, head: Surface, at: Pose, t: float) -> None:
    """Paint the face over a figure, at `t` seconds.

    Args:
        figure: painted on.
        head: its surface.
        at: where it is.
        t: in seconds.
    """
    tall, wide = head.matte.shape
    paint = np.broadcast_to(SKIN, (tall, wide, 3)).copy()
    warm = _blob(head, -0.5, 0.14, 0.3, 0.16) + _blob(head, 0.5, 0.14, 0.3, 0.16)
    warm += 0.8 * _blob(head, 0, 0.16, 0.17, 0.09)
    paint *= 1 + warm[..., None] * colour(0.10, -0.08, -0.10)
    pores = fractal_field(tall, wide, 1 / 7, 1 / 7, 0.0, 0.0, 2, 5)
    paint *= (1 + 0.035 * pores)[..., None]
    blink = float(smooth(0.06, 0.0, abs(t - 3.1))) + float(smooth(0.06, 0.0, abs(t - 6.6)))
    for eye in (-0.38, 0.38):
        open_ = 0.034 * (1 - 0.85 * min(blink, 1))
        white = smooth(0.75, 0.95, _blob(head, eye, -0.065, 0.15, open_) + 0.25) * (1 - blink)
        paint += white[..., None] * (colour(0.20, 0.18, 0.165) - paint)
        iris = smooth(0.42, 0.58, _blob(head, eye + 0.03 * at.yaw, -0.068, 0.070, 0.044))
        paint += (iris * min(1, float(open_ / 0.034)))[..., None] * (
            colour(0.02, 0.022, 0.026) - paint
        )
        lid = _blob(head, eye, -0.093 + 0.028 * blink, 0.18, 0.020)
        paint += 0.8 * lid[..., None] * (BEARD - paint)
        brow = _blob(head, eye * 0.96, -0.185 - 0.02 * (abs(eye) > 0.5), 0.20, 0.026)
        paint += 0.92 * smooth(0.25, 0.7, brow)[..., None] * (BEARD - paint)
    lips = _blob(head, 0, 0.395, 0.20, 0.022)
    paint += 0.55 * lips[..., None] * (colour(0.24, 0.085, 0.07) - paint)
    paint += (
        0.75 * _blob(head, 0, 0.382, 0.21, 0.006)[..., None] * (colour(0.05, 0.02, 0.02) - paint)
    )
    for nostril in (-0.07, 0.07):
        paint += 0.7 * _blob(head, nostril, 0.235, 0.035, 0.014)[..., None] * (0.25 * SKIN - paint)
    stubble = fractal_field(tall, wide, 1 / 2.6, 1 / 8, 0.0, 0.0, 2, 15)
    grown = smooth(0.24, 0.5, head.down + 0.09 * np.abs(head.azimuth) + 0.03 * stubble)
    grown = grown * (1 - 0.9 * smooth(0.5, 1.0, _blob(head, 0, 0.40, 0.17, 0.030)))
    hangs = 0.315 + 0.10 * np.abs(head.azimuth)
    over = np.exp(-((head.azimuth / 0.44) ** 4) - ((head.down - hangs) / 0.040) ** 2)
    tash = smooth(0.3, 0.7, over + 0.12 * stubble)
    hair = np.maximum(grown, tash)
    paint += 0.94 * hair[..., None] * (BEARD * (1 + 0.55 * stubble[..., None]) - paint)
    brim = 1 - 0.72 * smooth(-0.02, -0.34, head.down + 0.10 * np.sin(head.azimuth + at.yaw))
    shade = surface_light(_relief(head)) * brim
    edge = np.clip(head.normal[..., 2], 0, 1)
    figure.lay(head.matte, paint * (shade * (0.62 + 0.38 * edge))[..., None], head.part)
