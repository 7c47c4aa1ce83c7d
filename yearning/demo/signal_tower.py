"""Signal tower: fast pans between a turning lamp and a harbour at nightfall. 8 seconds."""

from functools import cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.demo.lamps import flicker, lay_lamp
from yearning.demo.paint import (
    HEIGHT,
    RATE,
    WIDTH,
    Light,
    Matte,
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
HORIZON = 742
TRAVEL = 2700
"""Columns between the tower's picture and the harbour's."""
WIDE = (HORIZON + 70, WIDTH + TRAVEL + 120)
PANS = (
    (1.5, 0.42, 0.0, 1.0),
    (3.5, 0.34, 1.0, 0.06),
    (5.5, 0.42, 0.06, 0.94),
    (7.0, 0.30, 0.94, 0.0),
)
"""When a pan begins, on a beat of the sound, its seconds, and from where to where in the travel."""
TURNS = 4.0
"""Seconds for the lamp to turn once; it has two beams."""
TOWER = (1040.0, 236.0)
"""Where the lamp is in the tower's picture, when the camera is at rest there."""
SHUTTER = 0.5
"""Of a frame's time, how long the shutter is open: 180 degrees, common practice, no source."""
NIGHT = colour(0.0040, 0.0052, 0.0110)


def camera(t: float) -> float:
    """Columns the camera has turned at `t` seconds: at rest, or in a pan that overshoots a bit."""
    at = PANS[0][2]
    for begins, lasts, start, end in PANS:
        u = (t - begins) / lasts
        if u >= 1:
            late = t - begins - lasts
            at = end + (end - start) * 0.012 * np.sin(15 * late) * np.exp(-6 * late)
        elif u > 0:
            at = start + (end - start) * float(smooth(0, 1, u))
    return 40 + TRAVEL * at + 7 * noise(0.9 * t, 0.3, 5) + 3 * noise(2.6 * t, 0.6, 6)


@cache
def _sky() -> Light:
    height, width = WIDE[0], WIDTH + 1300
    y = np.linspace(0, 1, height, dtype=np.float32)[:, None]
    x = np.linspace(0, 1, width, dtype=np.float32)[None, :]
    high, low, ember = (
        colour(0.008, 0.022, 0.075),
        colour(0.060, 0.120, 0.205),
        colour(0.42, 0.20, 0.16),
    )
    light = high + (low - high) * (smooth(0.0, 0.95, y) ** 1.3)[..., None]
    glow = smooth(0.62, 1.0, y) ** 2 * (0.35 + 0.65 * np.exp(-(((x - 0.82) / 0.30) ** 2)))
    light = light + (ember - light) * (0.85 * glow)[..., None]
    bank = fractal_field(height, width, 1 / 430, 1 / 96, 7.0, 3.0, 6, 71)
    wisp = fractal_field(height, width, 1 / 120, 1 / 26, 2.0, 6.0, 5, 75)
    cloud = smooth(-0.05, 0.45, bank + 0.4 * wisp) * smooth(0.04, 0.4, y) * smooth(1.0, 0.72, y)
    depth = y[..., None]
    shade = colour(0.030, 0.040, 0.075) * (1 - depth) + colour(0.20, 0.115, 0.115) * depth
    light += (0.75 * cloud)[..., None] * (shade - light)
    rng = np.random.default_rng(8)
    spot = np.exp(-((np.arange(7) - 3) ** 2) / 1.3)
    for _ in range(240):
        iy, ix = int(rng.uniform(4, 380)), int(rng.uniform(0, width - 8))
        clear = 1 - cloud[iy, ix]
        light[iy : iy + 7, ix : ix + 7] += (
            rng.uniform(0.01, 0.16) * clear * (1 - iy / 400) * np.outer(spot, spot)[..., None]
        )
    return np.asarray(light, np.float32)


def _ridge(seed: int, level: float, rise: float, stretch: float, width: int) -> Matte:
    xs = np.arange(0, width, 2)
    top = [
        level - rise * (0.5 + fractal(x / stretch, 0.5, 6, seed)) - 1.5 * noise(x / 6, 0.1, seed)
        for x in xs
    ]
    return polygon(
        (WIDE[0], width), [*zip(xs, top, strict=True), (width, WIDE[0]), (0, WIDE[0])], 0.8
    )


@cache
def _hills() -> tuple[tuple[Matte, NDArray[np.float32], float], ...]:
    """Ridges far to near: matte, colour, and the share of the camera's travel they show."""
    width = WIDTH + 2400
    return (
        (_ridge(33, HORIZON - 8, 92, 620, width), colour(0.040, 0.055, 0.092), 0.50),
        (_ridge(39, HORIZON - 2, 48, 300, width), colour(0.017, 0.024, 0.044), 0.72),
    )


@cache
def _coast() -> tuple[Light, Matte]:
    """Tower and harbour: what they look like, and what they cover."""
    light, cover = np.zeros((*WIDE, 3), np.float32), np.zeros(WIDE, np.float32)
    _tower(light, cover)
    _harbour(light, cover)
    return light, cover


def _solid(light: Light, cover: Matte, matte: Matte, paint: NDArray[np.float32]) -> None:
    lay(light, matte, paint)
    np.maximum(cover, matte, out=cover)


def _rock(seed: int, x: float, wide: float, tall: float) -> Matte:
    u = np.linspace(-1, 1, 90)
    rise = tall * (1 - np.abs(u) ** 1.7)
    rough = np.array([1 + 0.5 * fractal(3 * v, 0.4, 6, seed) for v in u])
    foot = 24 * np.sqrt(1 - u**2)
    wet = np.array([3 * noise(40 * v, 0.7, seed) for v in u])
    top = np.stack([x + wide * u, HORIZON + 8 - rise * rough], 1)
    low = np.stack([x + wide * u, HORIZON + 9 + foot + wet], 1)
    return polygon(WIDE, [*top, *low[::-1]], 0.6)


def _tower(light: Light, cover: Matte) -> None:
    """A banded tower on a rock, with a gallery and a lamp room."""
    x, lamp = TOWER[0] + 40, TOWER[1]
    _solid(light, cover, _rock(3, x + 10, 330, 74), NIGHT * 0.8)
    _solid(light, cover, _rock(7, x - 120, 190, 46), NIGHT * 0.6)
    foot, top = HORIZON - 40, lamp + 62

    def half(y: Any) -> Any:
        """Half the tower's width at a height."""
        return 34 + 40 * ((y - top) / (foot - top)) ** 1.25

    rows = np.linspace(top, foot, 40)
    left = np.stack([x - half(rows), rows], 1)
    right = np.stack([x + half(rows), rows], 1)
    body = polygon(WIDE, [*left, *right[::-1]], 0.5)
    columns = (np.arange(WIDE[1], dtype=np.float32)[None, :] - x) / half(
        np.clip(np.arange(WIDE[0], dtype=np.float32), top, foot)
    )[:, None]
    round_ = np.sqrt(np.clip(1 - columns**2, 0.02, 1)) * (0.55 + 0.45 * columns) + 0.16
    stone = fractal_field(*WIDE, 1 / 26, 1 / 9, 1.0, 2.0, 4, 91)
    band = (np.floor((np.arange(WIDE[0]) - top) / ((foot - top) / 5)) % 2 == 1)[:, None, None]
    paint = np.where(band, colour(0.30, 0.030, 0.022), colour(0.215, 0.225, 0.265))
    paint = paint * (round_ * (1 + 0.16 * stone))[..., None]
    _solid(light, cover, body, paint.astype(np.float32))
    for k, at in enumerate((0.22, 0.5, 0.78)):  # windows of the stair
        wy, wx = top + at * (foot - top), x + (-9, 7, -5)[k]
        lay(light, polygon(WIDE, box(wx, wy, 1, -7, -15, 7, 13)), NIGHT)
        lay(light, polygon(WIDE, box(wx, wy, 1, -5, -13, 5, 11)), colour(1.0, 0.52, 0.17) * 0.9)
    door = [
        *box(x + 6, foot, 1, -17, -34, 17, 0)[2:],
        (x - 11, foot - 34),
        (x + 6, foot - 48),
        (x + 23, foot - 34),
    ]
    lay(light, polygon(WIDE, door), NIGHT)
    for wide, y0, y1 in ((52, top - 2, top + 7), (44, top + 7, top + 15), (38, top + 15, top + 20)):
        _solid(light, cover, polygon(WIDE, box(x, 0, 1, -wide, y0, wide, y1)), NIGHT * 1.6)
    for rail in np.linspace(-50, 50, 15):
        _solid(light, cover, stroke(WIDE, [(x + rail, top - 28), (x + rail, top)], 2), NIGHT)
    for y in (top - 28, top - 15):
        _solid(light, cover, stroke(WIDE, [(x - 51, y), (x + 51, y)], 2), NIGHT)
    room = polygon(WIDE, box(x, 0, 1, -27, lamp - 32, 27, top))
    _solid(light, cover, room, colour(0.20, 0.17, 0.10))
    for post in (-27, -13, 0, 13, 27):
        lay(light, stroke(WIDE, [(x + post, lamp - 32), (x + post, top)], 3), NIGHT)
    u = np.linspace(np.pi, 2 * np.pi, 24)
    dome = np.stack([x + 35 * np.cos(u), lamp - 32 + 31 * np.sin(u)], 1)
    _solid(light, cover, polygon(WIDE, dome), colour(0.09, 0.012, 0.010))
    _solid(light, cover, polygon(WIDE, box(x, lamp - 66, 1, -5, -6, 5, 8)), NIGHT)
    _solid(light, cover, stroke(WIDE, [(x, lamp - 70), (x, lamp - 122)], 3), NIGHT)
    hut = box(x + 176, HORIZON - 22, 1, -46, -34, 46, 8)
    roof = [(x + 122, HORIZON - 54), (x + 176, HORIZON - 88), (x + 230, HORIZON - 54)]
    for part in (hut, roof):
        _solid(light, cover, polygon(WIDE, part), NIGHT * 1.5)
    lay(light, polygon(WIDE, box(x + 190, HORIZON - 34, 1, -9, -10, 9, 8)), colour(0.9, 0.42, 0.12))


def _harbour(light: Light, cover: Matte) -> None:
    """A quay with sheds, masts, and a crane; their windows are lit."""
    rng = np.random.default_rng(21)
    origin = TRAVEL
    quay = box(0, HORIZON, 1, origin + 90, -6, WIDE[1], 34)
    sheds = []
    x = origin + 420.0
    while x < WIDE[1] - 120:
        wide, tall = rng.uniform(110, 230), rng.uniform(70, 190)
        sheds.append((x, wide, tall))
        x += wide + rng.uniform(-12, 40)
    for x, wide, tall in sheds:
        tone = NIGHT * rng.uniform(1.2, 3.2)
        _solid(light, cover, polygon(WIDE, box(x, HORIZON, 1, 0, -tall, wide, 4)), tone)
        gable = [
            (x - 8, HORIZON - tall),
            (x + wide / 2, HORIZON - tall - 0.34 * wide),
            (x + wide + 8, HORIZON - tall),
        ]
        _solid(light, cover, polygon(WIDE, gable), tone * 0.7)
        for row in np.arange(HORIZON - tall + 18, HORIZON - 30, 36):
            for column in np.arange(x + 16, x + wide - 24, 30):
                if rng.random() < 0.42:
                    lit = rng.uniform(0.25, 1.1) * (
                        colour(1.0, 0.50, 0.16) if rng.random() < 0.8 else colour(0.55, 0.75, 0.9)
                    )
                    lay(light, polygon(WIDE, box(column, row, 1, 0, 0, 13, 19)), lit)
                    lay(
                        light,
                        stroke(WIDE, [(column + 6.5, row), (column + 6.5, row + 19)], 2),
                        tone,
                    )
    _solid(light, cover, polygon(WIDE, quay), NIGHT * 0.9)
    for x in (250, 330, 690, 1010, 1130, 1500):
        _boat(light, cover, origin + x, rng)
    base = origin + 880.0  # the crane
    high = HORIZON - 330
    tower = [(base - 17, HORIZON), (base - 10, high), (base + 10, high), (base + 17, HORIZON)]
    for a, b in zip(tower, [*tower[1:], tower[0]], strict=True):
        _solid(light, cover, stroke(WIDE, [a, b], 4), NIGHT)
    for n in range(11):
        y, side = HORIZON - 30 * n, 1 if n % 2 else -1
        brace = [(base - 15 * side, y), (base + 14 * side, y - 30)]
        _solid(light, cover, stroke(WIDE, brace, 2), NIGHT)
    peak, tip, rear = (base, high - 62), (base + 270, high - 22), (base - 110, high + 12)
    hook = [(base + 230, high - 20), (base + 230, high + 116)]
    for part in ([rear, tip], [peak, tip], [peak, rear], hook):
        _solid(light, cover, stroke(WIDE, part, 3), NIGHT)
    _solid(light, cover, stroke(WIDE, [(base, high), peak], 5), NIGHT)


def _boat(light: Light, cover: Matte, x: float, rng: np.random.Generator) -> None:
    size, y = rng.uniform(0.7, 1.15), HORIZON + 24
    hull = [(-92, -20), (-60, -12), (60, -12), (104, -32), (84, 12), (-80, 12)]
    tone = (colour(0.022, 0.006, 0.006), colour(0.004, 0.012, 0.020), NIGHT)[int(rng.integers(3))]
    _solid(light, cover, polygon(WIDE, [(x + size * a, y + size * b) for a, b in hull]), tone)
    tall, mast = 220 * size * rng.uniform(0.8, 1.2), x + 14 * size
    _solid(light, cover, stroke(WIDE, [(mast, y - 10), (mast, y - tall)], 4), NIGHT)
    boom = [(mast, y - 44 * size), (mast - 92 * size, y - 54 * size)]
    _solid(light, cover, stroke(WIDE, boom, 3), NIGHT)
    for end in ((x + 104 * size, y - 32 * size), (x - 92 * size, y - 20 * size)):
        _solid(light, cover, stroke(WIDE, [(mast, y - tall), end], 1), NIGHT)


LAMPS = tuple(
    (TRAVEL + x, y, radius, tint)
    for x, y, radius, tint in (
        (130, -58, 6.5, (0.08, 1.0, 0.38)),
        (410, -84, 5.0, (1.0, 0.50, 0.16)),
        (612, -84, 5.0, (1.0, 0.50, 0.16)),
        (824, -84, 5.0, (1.0, 0.50, 0.16)),
        (880, -402, 3.6, (1.0, 0.10, 0.06)),
        (1036, -84, 5.0, (1.0, 0.50, 0.16)),
        (1148, -356, 3.0, (1.0, 0.10, 0.06)),
        (1248, -84, 5.0, (1.0, 0.50, 0.16)),
        (1460, -84, 5.0, (1.0, 0.50, 0.16)),
        (1672, -84, 5.0, (1.0, 0.50, 0.16)),
        (1850, -60, 6.5, (1.0, 0.10, 0.06)),
    )
)
"""Lamps of the harbour: column, rows from the water line, radius and colour."""


def _beams(light: Light, x: float, y: float, t: float) -> None:
    """The turning lamp: two cones in the haze, and its glare when one points here."""
    rows, columns = light.shape[:2]
    yy, xx = np.mgrid[0:rows, 0:columns].astype(np.float32)
    right, down = xx - np.float32(x), yy - np.float32(y)
    angle = 2 * np.pi * (t / TURNS) + 0.35
    tint = colour(1.0, 0.86, 0.60)
    for side in (0.0, np.pi):
        across, toward = np.cos(angle + side), np.sin(angle + side)
        way = np.array([across, 0.055 * toward - 0.012])
        seen = float(np.hypot(*way))
        along = (right * way[0] + down * way[1]) / seen
        beside = np.abs(-right * way[1] + down * way[0]) / seen
        deep = np.maximum(along, 0) / max(seen, 0.05)  # how far the light has come
        width = 7 + 0.042 * deep
        cone = np.exp(-((beside / width) ** 2)) * smooth(-6, 10, along)
        scatter = 0.30 + 0.9 * max(float(toward), 0.0) ** 2
        bright = 0.34 * scatter / (1 + 0.0022 * deep) ** 1.6
        light += (cone * bright)[..., None] * tint
        glare = float(np.exp(-(((toward - 1) / 0.10) ** 2)))
        if glare > 0.003:
            r2 = (right / 60) ** 2 + (down / 60) ** 2
            star = np.exp(-1.6 * r2) * 3 + 0.40 / (1 + 2.2 * r2) * smooth(60, 10, r2)
            star += 0.35 * np.exp(-np.abs(down) / 3.5) * np.exp(-np.abs(right) / 90)
            light += (glare * star)[..., None] * colour(1.0, 0.90, 0.70)


def _sharp(go: float, t: float) -> Light:
    """The picture from where the camera points, without its motion."""
    above = window_of(_sky(), 20 + 0.34 * go)
    for matte, tone, share in _hills():
        lay(above, window_of(matte, 10 + share * go), tone)
    haze = smooth(HORIZON - 110, HORIZON + 4, np.arange(above.shape[0], dtype=np.float32))
    above += (0.030 * haze)[:, None, None] * colour(0.75, 0.65, 0.80)
    coast, cover = _coast()
    near = window_of(cover, go)
    lay(above, near, window_of(coast, go))
    x, y = TOWER[0] + 40 - go, TOWER[1]
    if -1500 < x < WIDTH + 1500:
        lay_lamp(above, x, y, 9.0, 0.5, colour(1.0, 0.84, 0.55))
        _beams(above, x, y, t)
    for i, (column, rows, radius, tint) in enumerate(LAMPS):
        lay_lamp(
            above, column - go, HORIZON + rows, radius, 0.75 * flicker(t, 30 + i), colour(*tint)
        )
    light = np.empty((HEIGHT, WIDTH, 3), np.float32)
    light[:HORIZON] = above[:HORIZON]
    lay_water(light, above, HORIZON, go, t, 0.21)
    reach = slice(HORIZON, WIDE[0])
    lay(light[reach], near[HORIZON:], above[reach])
    return light


def picture(frame: int) -> NDArray[np.float32]:
    """Frame `frame`, display-coded `(3, 1080, 1920)`, blurred as far as the camera turns."""
    t = frame / RATE
    light = _sharp(camera(t), t)
    turns = abs(camera(t + SHUTTER / RATE / 2) - camera(t - SHUTTER / RATE / 2))
    if turns > 2:
        light = _smear(light, turns)
    return develop(light, 1.35)


def _smear(light: Light, length: float) -> Light:
    """The mean of a picture along `length` columns, to a fraction of one."""
    whole = int(length) // 2
    kernel = np.ones(2 * whole + 3, np.float32)
    kernel[0] = kernel[-1] = (length - (2 * whole + 1)) / 2
    across = kernel / kernel.sum()
    return np.asarray(
        cv2.sepFilter2D(light, -1, across, np.ones(1, np.float32), borderType=cv2.BORDER_REFLECT),
        np.float32,
    )
