"""Glasshouse: daylight through panes on leaves and clay pots. 6 seconds."""

from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.demo.paint import (
    HEIGHT,
    RATE,
    WIDTH,
    Light,
    Matte,
    blur_matte,
    colour,
    develop,
    fractal_field,
    lay,
    lay_sprite,
    polygon,
    smooth,
    sprite_affine,
    window_of,
)

FRAMES = 6 * RATE
SPARE = 200
BENCH = 846
"""Line of the bench's front edge."""


def camera(t: float) -> float:
    """Columns the nearest pots have travelled at `t` seconds."""
    return float(30 + 100 * smooth(-2.5, 8.5, t))


@cache
def _garden() -> Light:
    """What is outside: sky through trees, far out of focus."""
    height, width = HEIGHT, WIDTH + SPARE
    y = np.linspace(0, 1, height, dtype=np.float32)[:, None, None]
    light = colour(1.10, 1.12, 1.02) * (1 - y) ** 1.3 + colour(0.26, 0.36, 0.12) * y
    light = np.broadcast_to(light, (height, width, 3)).copy()
    for seed, scale, tone, level in (
        (4, 210, colour(0.26, 0.40, 0.11), -0.02),
        (7, 120, colour(0.090, 0.190, 0.040), 0.10),
        (15, 66, colour(0.028, 0.075, 0.017), 0.22),
    ):
        field = fractal_field(height, width, 1 / scale, 1 / scale, seed, 0, 5, seed)
        lean = np.linspace(-0.42, 0.75, height, dtype=np.float32)[:, None]
        lay(light, smooth(level - 0.10, level + 0.22, field + lean), tone)
    return blur_matte(light, 13)


@cache
def _panes() -> tuple[Light, Matte]:
    """The glazed wall: how much the glass dims, and its painted iron bars."""
    height, width = HEIGHT, WIDTH + SPARE
    wet = fractal_field(height, width, 1 / 90, 1 / 140, 3, 5, 6, 61)
    runs = fractal_field(height, width, 1 / 7, 1 / 260, 1, 8, 4, 62)
    veil = 0.03 + 0.17 * smooth(-0.2, 0.5, wet) * (0.6 + 0.4 * smooth(-0.1, 0.3, runs))
    bars = np.zeros((height, width), np.float32)
    for x in range(70, width, 236):
        wide = 17 if (x // 236) % 3 == 0 else 8
        bars = np.maximum(bars, polygon(bars.shape, _upright(x, wide)))
    for y in (92, 372, 652):
        bars = np.maximum(
            bars, polygon(bars.shape, [(0, y), (width, y), (width, y + 10), (0, y + 10)])
        )
    return veil, bars


def _upright(x: float, wide: float) -> list[tuple[float, float]]:
    return [(x, 0), (x + wide, 0), (x + wide, HEIGHT), (x, HEIGHT)]


@cache
def _wall() -> Light:
    light = _garden().copy()
    veil, bars = _panes()
    lay(light, veil, colour(0.80, 0.88, 0.80))
    height, width = bars.shape
    rough = fractal_field(height, width, 1 / 9, 1 / 23, 2, 2, 4, 80)[..., None]
    iron = colour(0.040, 0.062, 0.050) * (1 + 0.35 * rough)
    shade = np.clip(np.roll(bars, -3, axis=1) - bars, 0, 1) * 0.6
    lay(light, shade, colour(0.05, 0.07, 0.055))
    lay(light, bars, iron)
    gleam = np.clip(bars - np.roll(bars, 2, axis=1), 0, 1) * 0.7
    lay(light, gleam, colour(0.80, 0.88, 0.78))
    return blur_matte(light, 2.2)


class Leaf(NamedTuple):
    """One leaf: where it grows, how it stands, and which drawing it is."""

    x: float
    y: float
    angle: float
    size: float
    drawing: int
    light: float


@cache
def _leaf_drawings() -> tuple[NDArray[np.float32], ...]:
    """Leaves lit from behind, premultiplied RGBA, stem at (20, 80), tip to the right."""
    drawings = []
    for kind in range(6):
        height, width = 160, 360
        x = np.linspace(0, 1, width, dtype=np.float32)[None, :]
        y = (np.arange(height, dtype=np.float32)[:, None] - 80) / 80
        body = np.clip((x - 0.055) / 0.93, 0, 1)
        bend = 0.10 * np.sin(3.0 * body + kind)
        broad = (0.30, 0.44, 0.62, 0.38, 0.80, 0.22)[kind]
        half = broad * np.clip(np.sin(np.pi * body**0.72), 0, 1) ** 0.85
        half = half * (1 + 0.035 * np.sin(38 * body + kind) * (kind % 2))
        across = (y - bend) / np.maximum(half, 1e-3)
        alpha = smooth(1.03, 0.95, np.abs(across)) * (half > 0.01)
        stem = smooth(0.05, 0.025, np.abs(y - bend)) * (x < 0.09)
        vein = smooth(0.060, 0.0, np.abs(y - bend)) * 0.8
        branch = np.abs(np.mod(body * 13 - 2.6 * np.abs(across) * half / broad, 1) - 0.5)
        vein = np.maximum(vein, smooth(0.44, 0.5, branch) * 0.38)
        cells = fractal_field(height, width, 1 / 7, 1 / 7, kind, 0, 4, 90 + kind)
        thin = 0.75 + 0.25 * np.cos(across * 1.4) + 0.16 * cells
        green = (
            colour(0.120, 0.290, 0.018),
            colour(0.058, 0.195, 0.022),
            colour(0.210, 0.390, 0.030),
            colour(0.030, 0.130, 0.022),
            colour(0.095, 0.255, 0.045),
            colour(0.270, 0.370, 0.040),
        )[kind]
        side = 0.72 + 0.28 * smooth(-0.2, 0.25, across)
        paint = green * (thin * side)[..., None] * (1 - 0.35 * body[..., None])
        paint = paint + (vein * 0.5)[..., None] * (colour(0.40, 0.56, 0.12) - paint)
        alpha = np.maximum(alpha, stem)
        drawings.append(np.dstack([paint * alpha[..., None], alpha]).astype(np.float32))
    return tuple(drawings)


CLAY = (
    colour(0.62, 0.225, 0.105),
    colour(0.74, 0.345, 0.195),
    colour(0.42, 0.135, 0.062),
    colour(0.82, 0.465, 0.305),
    colour(0.29, 0.098, 0.050),
)
"""Clay from dark to pale, near the hues of skin."""


@cache
def _pot(kind: int) -> NDArray[np.float32]:
    """A clay pot, premultiplied RGBA, 260 × 280, standing on its last line."""
    height, width = 280, 260
    x = np.linspace(-1, 1, width, dtype=np.float32)[None, :]
    y = np.arange(height, dtype=np.float32)[:, None]
    rim = smooth(66, 60, y)
    half = 0.66 + 0.22 * (1 - y / height) + 0.07 * rim
    round_ = np.clip(x / half, -1, 1)
    alpha = smooth(half + 0.006, half - 0.006, np.abs(x)) * np.ones_like(y)
    oval = (x / (half + 1e-3)) ** 2 + ((y - 15) / 15) ** 2
    alpha *= np.where(y < 15, smooth(1.08, 0.94, oval), 1.0)
    base = (x / (half + 1e-3)) ** 2 + ((y - (height - 15)) / 14) ** 2
    alpha *= np.where(y > height - 15, smooth(1.06, 0.94, base), 1.0)
    facing = np.sqrt(np.clip(1 - round_**2, 0, 1))
    shade = 0.10 + 1.02 * np.clip(0.72 * round_ + 0.58 * facing, 0, 1) ** 1.5
    shade = shade + 0.22 * smooth(-0.78, -1.0, round_)
    shade = shade * (1 - 0.42 * smooth(62, 66, y) * smooth(88, 66, y))
    shade = shade * (1 - 0.30 * smooth(200, 280, y))
    turning = 1 + 0.045 * np.sin(y * 0.42 + kind) * smooth(66, 74, y)
    chalk = fractal_field(height, width, 1 / 60, 1 / 34, kind, 3, 6, 120 + kind)
    fine = fractal_field(height, width, 1 / 4, 1 / 4, kind, 7, 3, 140 + kind)
    paint = CLAY[kind % 5] * (shade * turning * (1 + 0.18 * fine))[..., None]
    lime = smooth(0.10, 0.50, chalk) * smooth(70, 190, y) * 0.45
    paint = paint + lime[..., None] * (colour(0.80, 0.76, 0.68) * shade[..., None] - paint)
    inside = smooth(1.0, 0.86, (x / (half * 0.93)) ** 2 + ((y - 17) / 12) ** 2)
    soil = colour(0.045, 0.030, 0.020) * (1 + 0.8 * fine)[..., None]
    paint = paint + inside[..., None] * (soil - paint)
    return np.dstack([paint * alpha[..., None], alpha]).astype(np.float32)


class Plant(NamedTuple):
    """A pot and what grows in it."""

    x: float
    pot: int
    size: float
    leaves: tuple[Leaf, ...]


def _plant(x: float, pot: int, size: float, kind: int, seed: int) -> Plant:
    rng = np.random.default_rng(seed)
    leaves = []
    if kind == 0:  # a fan of long blades
        for a in np.linspace(-2.75, -0.40, 19):
            leaves.append(
                Leaf(
                    rng.normal(0, 16),
                    6,
                    a + rng.normal(0, 0.07),
                    rng.uniform(0.75, 1.15),
                    5,
                    rng.uniform(0.6, 1.15),
                )
            )
    elif kind == 1:  # a bush
        for _ in range(46):
            up = rng.uniform(0.05, 1)
            a = rng.uniform(-3.3, 0.2)
            leaves.append(
                Leaf(
                    rng.normal(0, 54) * (0.4 + up),
                    -210 * up,
                    a,
                    rng.uniform(0.26, 0.46),
                    int(rng.integers(0, 3)),
                    0.45 + 0.75 * up,
                )
            )
    else:  # broad leaves on stalks
        for _ in range(15):
            a = rng.uniform(-2.7, -0.45)
            out = rng.uniform(40, 190)
            leaves.append(
                Leaf(
                    out * np.cos(a) * 0.7,
                    out * np.sin(a) * 1.1,
                    a + rng.normal(0, 0.5),
                    rng.uniform(0.5, 0.8),
                    int(rng.choice([2, 3, 4])),
                    rng.uniform(0.5, 1.15),
                )
            )
    leaves.sort(key=lambda leaf: leaf.light)
    return Plant(x, pot, size, tuple(leaves))


@cache
def _rows() -> tuple[tuple[float, float, float, tuple[Plant, ...]], ...]:
    """Rows of pots, far to near: share of the camera's travel, foot line, light, plants."""
    far = tuple(_plant(120 + 238 * i, (i * 2) % 5, 0.56, (i + 1) % 3, 300 + i) for i in range(9))
    near = tuple(
        _plant(x, pot, size, kind, seed)
        for x, pot, size, kind, seed in (
            (190, 1, 0.98, 1, 1),
            (495, 0, 1.10, 0, 2),
            (800, 3, 0.86, 2, 3),
            (1050, 2, 0.72, 1, 4),
            (1330, 0, 1.12, 2, 5),
            (1640, 3, 0.94, 0, 6),
            (1930, 1, 1.05, 1, 7),
        )
    )
    return (0.45, 705.0, 0.80, far), (1.0, BENCH - 4.0, 1.0, near)


@cache
def _bench() -> NDArray[np.float32]:
    """The bench: worn planks, RGBA, with the window's light across them."""
    top, width = BENCH - 46, WIDTH + SPARE
    height = HEIGHT - top + 8
    y = np.arange(height, dtype=np.float32)[:, None]
    ring = fractal_field(height, width, 1 / 420, 1 / 9, 2, 5, 6, 200)
    pore = fractal_field(height, width, 1 / 46, 1 / 2.2, 2, 5, 3, 210)
    wood = colour(0.170, 0.098, 0.050) * (1 + 0.55 * ring + 0.22 * pore)[..., None]
    face = smooth(52, 56, y)
    seam = smooth(2.6, 0.8, np.abs(y - 25)) + smooth(2.2, 0.6, np.abs(y - 150))
    lit = (1.35 - 0.50 * face - 0.5 * smooth(60, 230, y)) * (1 - 0.75 * np.clip(seam, 0, 1))
    edge = smooth(4, 0, np.abs(y - 54)) * 0.5
    light = wood * lit[..., None] + edge[..., None] * colour(0.50, 0.36, 0.20)
    alpha = smooth(0, 2, y) * np.ones((1, width), np.float32)
    return np.dstack([light * alpha[..., None], alpha]).astype(np.float32)


def _lay_plant(light: Light, plant: Plant, x: float, foot: float, level: float, t: float) -> None:
    size = plant.size
    pot = _pot(plant.pot)
    top, left = int(foot) - 60, max(int(x - 260 * size), 0)
    if left < light.shape[1]:
        under = light[top : int(foot) + 60, left : max(int(x + 130 * size), left + 1)]
        shape = [(-120 * size, -8), (60 * size, -12), (30 * size, 16), (-190 * size, 12)]
        corners = np.add(shape, (x - left, foot - top))
        lay(under, 0.55 * polygon(under.shape[:2], corners, 9), colour(0.03, 0.022, 0.015))
    mouth = foot - 262 * size
    for i, leaf in enumerate(plant.leaves):
        breath = 0.028 * np.sin(1.3 * t + 0.9 * i + 0.01 * x) + 0.016 * np.sin(2.9 * t + 1.7 * i)
        drawing = _leaf_drawings()[leaf.drawing]
        tint = np.array([leaf.light * level] * 3 + [1.0], np.float32)
        place = sprite_affine(
            x + leaf.x * size + 40 * breath,
            mouth + leaf.y * size,
            leaf.angle + breath,
            leaf.size * size,
            (20, 80),
        )
        lay_sprite(light, drawing * tint, place)
        if i == len(plant.leaves) // 2:
            _lay_pot(light, pot, x, foot, size, level)
    _lay_pot(light, pot, x, foot, size, level, first=58)


def _lay_pot(
    light: Light,
    pot: NDArray[np.float32],
    x: float,
    foot: float,
    size: float,
    level: float,
    first: int = 0,
) -> None:
    tint = np.array([level] * 3 + [1.0], np.float32)
    lay_sprite(light, pot[first:] * tint, sprite_affine(x, foot, 0, size, (130, 280 - first)))


@cache
def _shafts() -> Matte:
    """Sunlight in the warm air, slanting in from the right."""
    height, width = HEIGHT, WIDTH + SPARE
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    across = x * 0.86 + y * 0.51
    band = np.zeros((height, width), np.float32)
    for centre, wide in ((760, 90), (1010, 120), (1290, 60), (1480, 130), (1800, 100)):
        band += np.exp(-(((across - centre) / wide) ** 2)) * (wide / 130)
    return np.asarray(band * smooth(1250, 100, y) * 0.5, np.float32)


@cache
def _near_leaves() -> tuple[Leaf, ...]:
    rng = np.random.default_rng(77)
    corner = [
        Leaf(
            rng.uniform(-60, 90),
            rng.uniform(700, 1060),
            rng.uniform(-1.3, 0.2),
            rng.uniform(1.3, 2.0),
            int(rng.integers(1, 5)),
            rng.uniform(0.10, 0.24),
        )
        for _ in range(9)
    ]
    hanging = [
        Leaf(
            rng.uniform(1650, 2120),
            rng.uniform(-60, 60),
            rng.uniform(1.2, 2.4),
            rng.uniform(0.9, 1.5),
            int(rng.integers(1, 5)),
            rng.uniform(0.12, 0.30),
        )
        for _ in range(11)
    ]
    return tuple(corner + hanging)


def picture(frame: int) -> NDArray[np.float32]:
    """Frame `frame`, display-coded `(3, 1080, 1920)`."""
    t = frame / RATE
    go = camera(t)
    light = window_of(_wall(), 0.22 * go)
    for share, foot, level, plants in _rows():
        if share == 1.0:
            lay_sprite(light, _bench(), np.array([[1.0, 0, -go], [0, 1.0, BENCH - 46]]))
        else:
            shelf = polygon(
                light.shape[:2],
                [(0, foot - 6), (WIDTH, foot - 6), (WIDTH, foot + 16), (0, foot + 16)],
                1.5,
            )
            lay(light, shelf, colour(0.17, 0.125, 0.085))
        for plant in plants:
            _lay_plant(light, plant, plant.x - share * go, foot, level, t)
        if share < 1.0:
            light = blur_matte(light, 2.0)
            light += 0.018 * colour(1.0, 1.05, 0.8)
    light += (0.16 * window_of(_shafts(), 0.5 * go))[..., None] * colour(1.0, 0.86, 0.55)
    front = np.zeros((HEIGHT, WIDTH, 4), np.float32)
    for i, leaf in enumerate(_near_leaves()):
        sway = 0.03 * np.sin(1.1 * t + i)
        drawing = _leaf_drawings()[leaf.drawing] * np.array([leaf.light] * 3 + [1.0], np.float32)
        lay_sprite(
            front,
            drawing,
            sprite_affine(leaf.x - 1.7 * (go - 80), leaf.y, leaf.angle + sway, leaf.size, (20, 80)),
        )
    front = blur_matte(front, 9)
    light *= 1 - front[..., 3:]
    light += front[..., :3]
    return develop(light, 1.35)
