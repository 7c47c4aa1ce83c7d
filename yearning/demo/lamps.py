"""Flames behind glass."""

import numpy as np

from yearning.demo.paint import Light, colour, noise, smooth

LAMP = colour(1.0, 0.50, 0.16)


def flicker(t: float, seed: int) -> float:
    """Return a flame's brightness about 1.

    Args:
        t: in seconds.
        seed: another gives another flame.
    """
    return 1 + 0.10 * noise(t * 3.1, 0.3, seed) + 0.05 * noise(t * 9.0, 0.7, seed + 1)


def lay_lamp(
    light: Light, x: float, y: float, radius: float, power: float, tint: Light = LAMP
) -> None:
    """Lay a flame behind glass: a hot core and the little halo of the air.

    Args:
        light: painted on.
        x: of the flame across, in pixels.
        y: of the flame down.
        radius: in pixels.
        power: of the light.
        tint: colour of the light.
    """
    reach = int(radius * 16)
    y0, y1 = max(int(y) - reach, 0), min(int(y) + reach, light.shape[0])
    x0, x1 = max(int(x) - reach, 0), min(int(x) + reach, light.shape[1])
    if x0 >= x1 or y0 >= y1:
        return
    yy, xx = np.mgrid[y0:y1, x0:x1].astype(np.float32)
    r2 = ((xx - x) / radius) ** 2 + ((yy - y) / (1.25 * radius)) ** 2
    core = np.exp(-1.3 * r2)
    rim = np.exp(-0.42 * r2)
    halo = 0.055 / (1 + 0.22 * r2) * smooth(230, 40, r2)
    light[y0:y1, x0:x1] += power * (
        core[..., None] * colour(6.0, 4.3, 2.2) + (0.8 * rim + halo)[..., None] * tint
    )
