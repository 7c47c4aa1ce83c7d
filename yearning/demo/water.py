"""Moving water that mirrors what is above it."""

import numba
import numpy as np

from yearning.core import parallel
from yearning.demo.paint import Light, noise


def lay_water(
    light: Light, above: Light, horizon: int, go: float, t: float, shine: float = 0.2
) -> None:
    """Paint the rows below `horizon` of a picture as water.

    Args:
        light: the picture.
        above: what is above the water, from its top down to the water line at least.
        horizon: the row of the water line.
        go: columns the camera has travelled.
        t: seconds.
        shine: how well it mirrors; 0.24 gives all back at the horizon.
    """
    parallel.for_each_band(
        light.shape[0] - horizon,
        lambda top, bottom: _mirror(
            above, horizon + top, horizon, go, t, shine, light[horizon + top : horizon + bottom]
        ),
        32,
    )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _slope(x: float, z: float, t: float, dx: float, dz: float) -> tuple[float, float, float]:
    """Slope of the water at a place (across, away), and how much slope is too fine to show.

    `dx` and `dz` are how far the place moves in a pixel; waves shorter than that are not drawn
    but counted, to blur the mirror by.
    """
    sx, sz, lost = 0.0, 0.0, 0.0
    for k in range(9):
        angle = 0.5 + 2.3 * k + 0.7 * (k % 3)
        number = 1.7 * 1.52**k
        speed = np.sqrt(9.8 * number)
        c, s = np.cos(angle), np.sin(angle)
        turn = number * max(abs(c) * dx, abs(s) * dz)
        seen = 1.0 / (1.0 + (turn / 0.9) ** 4)
        phase = number * (x * c + z * s) - 0.5 * speed * t + 1.7 * k * k
        steep = 0.021 * np.cos(phase + 0.6 * noise(0.3 * x + k, 0.3 * z, 5))
        sx += seen * steep * c
        sz += seen * steep * s
        lost += (1.0 - seen) * 0.021 * abs(s)
    for k in range(2):
        fine = 15.0 + 20.0 * k
        seen = 1.0 / (1.0 + (fine * max(dx, dz) / 0.35) ** 4)
        sx += seen * 0.038 * noise(fine * x + 2.3 * t, fine * z - 1.9 * t, 71 + k)
        sz += seen * 0.050 * noise(fine * x - 1.7 * t, fine * z + 2.2 * t, 75 + k)
        lost += (1.0 - seen) * 0.022
    return sx, sz, lost


@numba.njit(nogil=True, cache=True, fastmath=True)
def _mirror(
    above: Light, top: int, horizon: int, go: float, t: float, shine: float, out: Light
) -> None:
    """Rows of the water from `top`: the picture above, mirrored in moving slopes."""
    lines, width = above.shape[0], above.shape[1]
    for i in range(out.shape[0]):
        depth = top + i - horizon + 0.6
        away = 900.0 / depth
        calm = min(1.0, depth / 26.0)
        reach = (30.0 + 0.95 * depth) * calm * 5.0
        for x in range(width):
            across = (x - 0.5 * width + go * (0.25 + depth / 480.0)) / depth
            sx, sz, lost = _slope(across * 2.2, away, t, 2.2 / depth, away / depth)
            mx = x + 120.0 * calm * sx * (0.4 + depth / 420.0)
            mx = min(max(mx, 0.0), width - 1.001)
            ix = int(mx)
            u = mx - ix
            facing = min(1.0, depth / 560.0)
            mirror = 0.84 - 0.46 * facing
            wet = 0.5 + 0.5 * noise(across * 3.0, away * 3.0, 9)
            middle = horizon - depth * 1.02 - reach * sz
            red, green, blue = 0.0, 0.0, 0.0
            for n in range(5):
                my = min(max(middle + 0.75 * (n - 2.0) * reach * lost, 0.0), lines - 1.001)
                iy = int(my)
                v = my - iy
                w00, w01, w10, w11 = (1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v
                a, b = above[iy, ix], above[iy, ix + 1]
                c, d = above[iy + 1, ix], above[iy + 1, ix + 1]
                red += a[0] * w00 + b[0] * w01 + c[0] * w10 + d[0] * w11
                green += a[1] * w00 + b[1] * w01 + c[1] * w10 + d[1] * w11
                blue += a[2] * w00 + b[2] * w01 + c[2] * w10 + d[2] * w11
            deep = 0.7 + 0.6 * wet
            out[i, x, 0] = shine * mirror * red + 0.0036 * deep
            out[i, x, 1] = shine * mirror * green + 0.0050 * deep
            out[i, x, 2] = shine * mirror * blue + 0.0095 * deep
