"""Lantern barge: a lamplighter's barge drifts on dark water at dusk. 8 seconds."""

from functools import cache

import numpy as np
from numpy.typing import NDArray

from yearning.demo.lamps import flicker, lay_lamp
from yearning.demo.paint import (
    HEIGHT,
    RATE,
    WIDTH,
    Light,
    Matte,
    blur_matte,
    box,
    colour,
    develop,
    fractal,
    fractal_field,
    lay,
    noise,
    polygon,
    smooth,
    stroke,
    window_of,
)
from yearning.demo.water import lay_water

FRAMES = 8 * RATE
SPARE = 160
"""Columns a layer is wider than the picture, for the camera to travel."""
HORIZON = 596
WIDE = (HEIGHT, WIDTH + SPARE)


def camera(t: float) -> float:
    """Columns the nearest layer has travelled at `t` seconds."""
    return float(20 + 110 * smooth(-2.0, 10.0, t))


@cache
def _sky() -> Light:
    height, width = HORIZON + 90, WIDE[1]
    y = np.linspace(0, 1, height, dtype=np.float32)[:, None]
    x = np.linspace(0, 1, width, dtype=np.float32)[None, :]
    zenith, dusk, ember = (
        colour(0.0035, 0.0065, 0.026),
        colour(0.046, 0.026, 0.066),
        colour(0.62, 0.165, 0.046),
    )
    a = smooth(0.05, 0.78, y)[..., None]
    b = smooth(0.46, 1.0, y)[..., None] ** 1.9
    sun = np.exp(-(((x - 0.66) / 0.30) ** 2) - (((y - 1.0) / 0.30) ** 2))[..., None]
    light = zenith + (dusk - zenith) * a + (ember - dusk) * b * (0.42 + 0.58 * sun)
    light = light + sun**1.5 * colour(0.62, 0.27, 0.055)
    # long flat clouds, thin above and lit from below near the horizon
    drift = fractal_field(height, width, 1 / 520, 1 / 70, 3.1, 0.0, 6, 11)
    fine = fractal_field(height, width, 1 / 150, 1 / 22, 8.1, 4.0, 5, 31)
    cloud = smooth(-0.02, 0.42, drift + 0.35 * fine) * smooth(0.10, 0.5, y) * smooth(1.02, 0.80, y)
    lit = smooth(0.35, 0.95, y)[..., None]
    tint = colour(0.020, 0.012, 0.030) * (1 - lit) + colour(0.60, 0.150, 0.062) * lit
    light += (0.62 * cloud)[..., None] * (tint * (0.6 + 0.7 * sun) - 0.55 * light)
    rng = np.random.default_rng(5)
    for _ in range(110):  # early stars
        sy, sx = rng.uniform(4, 270), rng.uniform(0, width - 4)
        matte = np.exp(-((np.arange(7) - 3) ** 2) / 1.3)
        iy, ix = int(sy), int(min(sx, width - 8))
        light[iy : iy + 7, ix : ix + 7] += (
            rng.uniform(0.01, 0.11) * (1 - sy / 300) * np.outer(matte, matte)[..., None]
        )
    return np.asarray(light, np.float32)


def _ridge(seed: int, level: float, rise: float, stretch: float) -> Matte:
    xs = np.arange(WIDE[1])
    top = [
        level - rise * (0.5 + fractal(x / stretch, 0.5, 6, seed)) - 2.5 * noise(x / 5, 0.1, seed)
        for x in xs
    ]
    outline = [*zip(xs, top, strict=True), (WIDE[1], HORIZON + 90), (0, HORIZON + 90)]
    return polygon((HORIZON + 90, WIDE[1]), outline, 0.7)


@cache
def _hills() -> tuple[tuple[Matte, NDArray[np.float32], float], ...]:
    """Ridges far to near: matte, colour, and how much of the camera's travel they show."""
    return (
        (_ridge(3, HORIZON - 6, 62, 420), colour(0.070, 0.026, 0.042), 0.10),
        (_ridge(9, HORIZON - 1, 40, 250), colour(0.023, 0.011, 0.022), 0.18),
        (_ridge(21, HORIZON + 3, 15, 110), colour(0.007, 0.005, 0.010), 0.30),
    )


def _hull(x: float, y: float, s: float) -> list[tuple[float, float]]:
    sheer = [(-300, -30), (-250, -14), (-120, 0), (80, 2), (210, -6), (290, -26), (318, -52)]
    keel = [(300, -8), (262, 36), (180, 46), (-180, 48), (-262, 34), (-292, 4)]
    return [(x + s * px, y + s * py) for px, py in sheer + keel]


def _barge(light: Light, x: float, y: float, t: float) -> None:
    """The barge on the picture above the water line `y`; the water mirrors it."""
    s, shape = 1.0, light.shape[:2]
    roll = 0.006 * np.sin(1.1 * t)
    y = y + 1.6 * np.sin(0.9 * t)
    wood, dark, edge = (
        colour(0.0042, 0.0026, 0.0034),
        colour(0.0013, 0.0010, 0.0016),
        colour(0.10, 0.036, 0.02),
    )
    lay(light, polygon(shape, _hull(x, y, s)), wood)
    lay(light, 0.55 * stroke(shape, _hull(x, y, s)[:7], 2), edge)
    for k in range(3):  # strakes
        line = [
            (x - 280 + 8 * k, y + 6 + 11 * k),
            (x, y + 15 + 11 * k),
            (x + 285 - 9 * k, y + 2 + 10 * k),
        ]
        lay(light, 0.35 * stroke(shape, line, 1), edge * 0.4)
    lay(light, polygon(shape, box(x, y, s, -190, -62, 30, 2)), dark)
    roof = [(-206, -60), (-186, -78), (26, -80), (48, -60)]
    lay(light, polygon(shape, [(x + a, y + b) for a, b in roof]), wood)
    lay(light, 0.5 * stroke(shape, [(x - 186, y - 78), (x + 26, y - 80)], 2), edge)
    lay(light, polygon(shape, box(x, y, s, -150, -112, -134, -76)), dark)  # stove pipe
    for i, left in enumerate((-168, -112, -56, 0)):
        glow = 0.85 * flicker(t, 40 + i) * (1.0, 0.72, 1.0, 0.55)[i]
        pane = polygon(shape, box(x, y, s, left, -50, left + 34 - (i == 3) * 10, -22))
        rows = np.clip((np.arange(shape[0], dtype=np.float32) - (y - 54)) / 34, 0, 1)[:, None, None]
        lay(light, pane, glow * (1.25 - 0.8 * rows) * colour(1.0, 0.40, 0.10))
        lay(light, stroke(shape, [(x + left + 17, y - 50), (x + left + 17, y - 22)], 3), dark)
        lay(light, stroke(shape, [(x + left, y - 37), (x + left + 34, y - 37)], 2), dark)
    mast = (x + 120 + 190 * roll, y - 250)
    lay(
        light,
        polygon(
            shape, [(x + 115, y), (x + 125, y), (mast[0] + 3, mast[1]), (mast[0] - 3, mast[1])]
        ),
        dark,
    )
    for end in ((x + 300, y - 44), (x - 200, y - 64)):
        lay(light, 0.8 * stroke(shape, [mast, end], 1), dark)
    cap = [(-9, -30), (0, -40), (9, -30)]
    lay(light, polygon(shape, [(mast[0] + a, mast[1] + b) for a, b in cap]), dark)
    lay(light, polygon(shape, box(*mast, 1, -8, -2, 8, 2)), dark)
    lay_lamp(light, mast[0], mast[1] - 15, 8.5, 1.15 * flicker(t, 3))
    _figure(light, x + 214, y - 6, t)
    for i in range(5):  # a string of little lamps to the stern
        u = (i + 0.5) / 5
        lx = mast[0] + (x - 200 - mast[0]) * u
        ly = mast[1] + (y - 64 - mast[1]) * u + 30 * u * (1 - u) + 2 * np.sin(1.4 * t + i)
        lay_lamp(light, lx, ly + 8, 3.2, 0.55 * flicker(t, 60 + i))


def _figure(light: Light, x: float, y: float, t: float) -> None:
    """The lamplighter: a long coat, a hat, and a lantern on a pole."""
    shape, dark = light.shape[:2], colour(0.0015, 0.0011, 0.0016)
    lean = 2.5 * np.sin(0.7 * t)
    coat = [(-15, 0), (-12, -40), (-9, -64), (0, -72), (10, -64), (13, -38), (17, 0)]
    lay(light, polygon(shape, [(x + a + lean * -b / 72, y + b) for a, b in coat]), dark)
    head = (x + lean + 1, y - 80)
    lay(
        light,
        polygon(
            shape,
            [
                (head[0] + 7 * np.cos(a), head[1] + 8.5 * np.sin(a))
                for a in np.linspace(0, 6.28, 20)
            ],
        ),
        dark,
    )
    brim = [(-15, -5), (15, -5), (8, -9), (6, -18), (-6, -18), (-8, -9)]
    lay(light, polygon(shape, [(head[0] + a, head[1] + b) for a, b in brim]), dark)
    hand = (x + lean * 0.7 + 14, y - 52)
    tip = (x + 66 + 1.6 * lean, y - 118 - lean)
    lay(light, stroke(shape, [(x + 2 + lean * 0.8, y - 60), hand], 7), dark)
    lay(light, stroke(shape, [(hand[0] - 22, hand[1] + 26), tip], 3), dark)
    swing = 3.0 * np.sin(1.7 * t + 0.4)
    lay(light, stroke(shape, [tip, (tip[0] + swing, tip[1] + 16)], 1), dark)
    lay_lamp(light, tip[0] + swing, tip[1] + 24, 6.0, 0.95 * flicker(t, 7))


POSTS = ((1560, 0.34, 90), (1390, 0.26, 62), (1266, 0.20, 44), (340, 0.38, 104), (150, 0.24, 60))
"""Lamp posts of the channel: column, share of the camera's travel, height."""


def _scene_above_water(t: float) -> Light:
    """Everything above the water line, with what stands on it, as wide as the picture."""
    go = camera(t)
    light = window_of(_sky(), 0.05 * go + 0.8 * t)
    for matte, tone, share in _hills():
        lay(light, window_of(matte, share * go), tone)
    haze = smooth(HORIZON - 70, HORIZON + 4, np.arange(light.shape[0], dtype=np.float32))
    light += (0.030 * haze)[:, None, None] * colour(1.0, 0.45, 0.30)
    for i, (x, share, height) in enumerate(POSTS):
        px, base = x - share * go, HORIZON + 2 + 26 * share
        lay(
            light,
            polygon(light.shape[:2], box(px, base, 1, -2, -height, 2, 0)),
            colour(0.006, 0.005, 0.008),
        )
        lay_lamp(light, px, base - height - 5, 2.0 + 9 * share, 0.8 * flicker(t, 20 + i))
    _barge(light, 850 - 0.62 * go + 9 * t, HORIZON + 33.0, t)
    return light


@cache
def _mist() -> Matte:
    field = fractal_field(HEIGHT, WIDE[1] + 400, 1 / 300, 1 / 38, 0.4, 2.0, 5, 51)
    y = np.arange(HEIGHT, dtype=np.float32)[:, None]
    return np.asarray(smooth(-0.28, 0.55, field) * np.exp(-(((y - HORIZON - 10) / 46) ** 2)))


@cache
def _reeds() -> tuple[tuple[float, float, float, float, float, bool], ...]:
    """Blades: column, height, lean, width, share of travel, whether it bears a head."""
    rng = np.random.default_rng(12)
    blades = []
    for centre, count, spread in ((150, 34, 170), (470, 12, 80), (1500, 16, 110), (1800, 36, 150)):
        for _ in range(count):
            far = rng.random()
            blades.append(
                (
                    centre + rng.normal(0, spread / 2),
                    rng.uniform(170, 480) * (0.62 + 0.38 * far),
                    rng.normal(0, 0.20),
                    rng.uniform(3.0, 6.5),
                    0.72 + 0.45 * far,
                    bool(rng.random() < 0.22),
                )
            )
    return tuple(sorted(blades, key=lambda blade: blade[4]))


def _lay_reeds(light: Light, t: float) -> None:
    go = camera(t)
    matte = np.zeros((HEIGHT, WIDTH), np.float32)
    for i, (x, tall, lean, wide, share, head) in enumerate(_reeds()):
        base = x + 60 - share * go
        sway = lean + 0.05 * np.sin(1.15 * t + 0.013 * x) + 0.035 * noise(0.8 * t, 0.01 * x, i)
        u = np.linspace(0, 1, 14)
        cx = base + tall * (sway * u**1.7)
        cy = HEIGHT + 30 - tall * u * (1 - 0.10 * abs(sway) * u)
        half = 0.5 * wide * (1 - u) ** 0.6 + 0.4
        outline = np.concatenate([np.stack([cx - half, cy], 1), np.stack([cx + half, cy], 1)[::-1]])
        box = slice(max(int(cy.min()) - 60, 0), HEIGHT)
        part = polygon((HEIGHT - box.start, WIDTH), outline - (0, box.start))
        if head:
            a = np.linspace(0, 2 * np.pi, 22)
            tip = np.stack([cx[-2] + 6 * np.cos(a), cy[-2] - 26 + 34 * np.sin(a) - box.start], 1)
            part = np.maximum(part, polygon(part.shape, tip))
        matte[box] = np.maximum(matte[box], part)
    matte = blur_matte(matte, 1.5)
    lay(light, 0.985 * matte, colour(0.0011, 0.0011, 0.0019))


def picture(frame: int) -> NDArray[np.float32]:
    """Frame `frame`, display-coded `(3, 1080, 1920)`."""
    t = frame / RATE
    above = _scene_above_water(t)
    light = np.empty((HEIGHT, WIDTH, 3), np.float32)
    light[:HORIZON] = above[:HORIZON]
    go = camera(t)
    lay_water(light, above, HORIZON, go, t)
    # the hull reaches below the horizon line, in front of the water
    reach = slice(HORIZON, above.shape[0])
    lay(light[reach], _standing(t)[HORIZON:], above[reach])
    mist = window_of(_mist(), 80 + 0.4 * go - 7 * t)
    light += (0.034 * mist)[..., None] * colour(1.0, 0.58, 0.52)
    _lay_reeds(light, t)
    return develop(light, 1.7)


def _standing(t: float) -> Matte:
    """Where the barge covers the water."""
    go = camera(t)
    x, y = 850 - 0.62 * go + 9 * t, HORIZON + 33.0 + 1.6 * np.sin(0.9 * t)
    mast = x + 120 + 190 * 0.006 * np.sin(1.1 * t)
    parts = (
        _hull(x, y, 1.0),
        box(x, y, 1, -190, -60, 30, 4),
        [(x + 115, y), (x + 125, y), (mast + 3, y - 250), (mast - 3, y - 250)],
        box(x, y, 1, 198, -60, 231, -4),
    )
    return np.asarray(np.maximum.reduce([polygon((HORIZON + 90, WIDTH), part) for part in parts]))
