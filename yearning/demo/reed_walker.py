"""Reed walker: a dark figure walks a boardwalk before a plain pale sky. 8 seconds."""

from functools import cache
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

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
HORIZON = 786
BOARDS = 812
"""The row the walker walks on."""
PACE = 262.0
"""Columns a second, of the boardwalk."""
STRIDE = 316.0
"""Columns from a heel's fall to that heel's next."""
FOLLOWS = 152.0
"""Columns a second that the camera follows."""
SPARE = int(8.5 * FOLLOWS)
DARK = colour(0.0036, 0.0039, 0.0056)
FAR_LIMB = colour(0.0085, 0.0090, 0.0115)


def camera(t: float) -> float:
    """Columns the boardwalk has travelled at `t` seconds."""
    return FOLLOWS * t + 9 * noise(0.5 * t, 0.2, 3)


@cache
def _sky() -> Light:
    height, width = HORIZON + 60, WIDTH + 260
    y = np.linspace(0, 1, height, dtype=np.float32)[:, None, None]
    x = np.linspace(0, 1, width, dtype=np.float32)[None, :, None]
    light = colour(0.40, 0.52, 0.68) * (1 - y) + colour(0.98, 0.84, 0.66) * y
    light = light * (0.93 + 0.13 * np.exp(-(((x - 0.62) / 0.5) ** 2) - (((y - 0.75) / 0.6) ** 2)))
    veil = fractal_field(height, width, 1 / 760, 1 / 170, 2.0, 1.0, 5, 23)
    light = light * (1 + 0.045 * smooth(-0.4, 0.5, veil) - 0.02)[..., None]
    return np.ascontiguousarray(light, np.float32)


def _shore(seed: int, level: float, rise: float, stretch: float, width: int) -> Matte:
    xs = np.arange(0, width, 2)
    top = [
        level - rise * (0.5 + fractal(x / stretch, 0.5, 6, seed)) - 1.6 * noise(x / 7, 0.4, seed)
        for x in xs
    ]
    outline = [*zip(xs, top, strict=True), (width, HORIZON + 60), (0, HORIZON + 60)]
    return polygon((HORIZON + 60, width), outline, 0.8)


@cache
def _shores() -> tuple[tuple[Matte, NDArray[np.float32], float], ...]:
    """Far shores in the haze: matte, colour, and the share of the camera's travel they show."""
    return (
        (_shore(5, HORIZON - 4, 40, 500, WIDTH + 300), colour(0.62, 0.63, 0.66), 0.12),
        (_shore(8, HORIZON + 1, 24, 240, WIDTH + 500), colour(0.40, 0.41, 0.43), 0.26),
    )


class Blade(NamedTuple):
    """A blade of reed: where it grows, its form, its share of travel, and if it bears a head."""

    x: float
    tall: float
    lean: float
    wide: float
    share: float
    head: bool


@cache
def _reeds(
    seed: int, clumps: tuple[float, ...], share: float, tall: float, count: int
) -> tuple[Blade, ...]:
    rng = np.random.default_rng(seed)
    return tuple(
        Blade(
            clump + rng.normal(0, 66),
            tall * rng.uniform(0.45, 1.0),
            rng.normal(0.10, 0.15),
            tall / 70 * rng.uniform(0.7, 1.4),
            share * rng.uniform(0.97, 1.03),
            bool(rng.random() < 0.28),
        )
        for clump in clumps
        for _ in range(count)
    )


def _reed_coverage(blades: tuple[Blade, ...], foot: float, t: float, soft: float) -> Matte:
    """Coverage of reeds in the wind."""
    matte = np.zeros((HEIGHT, WIDTH), np.float32)
    for i, blade in enumerate(blades):
        x = blade.x - blade.share * camera(t)
        if not -300 < x < WIDTH + 300:
            continue
        gust = 0.10 * noise(0.55 * t - 0.0011 * blade.x, 0.5, 31)
        sway = blade.lean + gust + 0.04 * np.sin(2.1 * t + 0.02 * blade.x + i)
        u = np.linspace(0, 1, 12)
        cx = x + blade.tall * sway * u**1.8
        cy = foot - blade.tall * u * (1 - 0.12 * abs(sway) * u)
        half = 0.5 * blade.wide * (1 - u) ** 0.6 + 0.35
        outline = np.concatenate([np.stack([cx - half, cy], 1), np.stack([cx + half, cy], 1)[::-1]])
        top = max(int(cy.min()) - int(0.12 * blade.tall) - 6, 0)
        high = min(int(foot) + 2, HEIGHT)
        part = polygon((high - top, WIDTH), outline - (0, top))
        if blade.head:
            a, size = np.linspace(0, 2 * np.pi, 20), 0.085 * blade.tall
            ends = np.stack([cx[-1] - cx[-4], cy[-1] - cy[-4]])
            along = ends / np.hypot(*ends)
            body = np.outer(np.cos(a) * size, along) + np.outer(
                np.sin(a) * 0.18 * size, (-along[1], along[0])
            )
            part = np.maximum(part, polygon(part.shape, body + np.array([cx[-2], cy[-2] - top])))
        matte[top:high] = np.maximum(matte[top:high], part)
    return blur_matte(matte, soft)


def _boardwalk(light: Light, t: float) -> Matte:
    """Planks on posts, seen from the side, with the gaps between them; returns what they cover."""
    shape, go = light.shape[:2], camera(t)
    covered = polygon(shape, box(0, BOARDS, 1, 0, 0, WIDTH, 15))
    first = int(go // 262) - 1
    posts = []
    for n in range(first, first + WIDTH // 262 + 3):
        x = 262 * n + 26 * noise(n * 0.7, 0.6, 9) - go
        tall = 26 + 16 * noise(n * 1.3, 0.2, 15)
        posts.append((x, tall))
        post = polygon(shape, box(x, BOARDS, 1, -7, -tall, 7, WATER - BOARDS))
        covered = np.maximum(covered, post)
    lay(light, covered, DARK * 1.3)
    for x, tall in posts:
        lay(light, 0.5 * stroke(shape, [(x + 7, BOARDS - tall), (x + 7, BOARDS)], 1), DARK * 20)
    lay(light, 0.5 * stroke(shape, [(0, BOARDS), (WIDTH, BOARDS)], 2), colour(0.15, 0.145, 0.14))
    first = int(go // 34)
    for n in range(first, first + WIDTH // 34 + 2):
        x = 34 * n + 4 * noise(n * 0.9, 0.1, 7) - go
        lay(light, 0.6 * polygon(shape, box(x, BOARDS, 1, 0, 1, 2.2, 9)), colour(0.07, 0.07, 0.07))
    return covered


def _offset_point(place: NDArray[np.float64], right: float, down: float) -> NDArray[np.float64]:
    return np.asarray(place + np.array([right, down]), np.float64)


def _round_corners(points: Any) -> NDArray[np.float64]:
    """A closed outline with its corners cut, three times (Chaikin 1974)."""
    outline = np.array(points, np.float64)
    for _ in range(3):
        after = np.roll(outline, -1, axis=0)
        cut = np.stack([0.75 * outline + 0.25 * after, 0.25 * outline + 0.75 * after], 1)
        outline = cut.reshape(-1, 2)
    return outline


class Leg(NamedTuple):
    """Where a leg's joints are, and how its foot is pitched, heel up, in radians."""

    knee: NDArray[np.float64]
    ankle: NDArray[np.float64]
    pitch: float


THIGH, SHIN, ANKLE = 106.0, 104.0, 15.0
PLANTED = 0.60
"""Of a stride, how long a foot stands."""


def leg(hip: NDArray[np.float64], phase: float) -> Leg:
    """Return a leg at a phase of its stride: the standing foot keeps its place on the boards.

    Args:
        hip: its place, in pixels.
        phase: of the stride.
    """
    travel = STRIDE * PLANTED
    if phase < PLANTED:
        u = phase / PLANTED
        x, roll = 0.54 * travel - travel * u, float(smooth(0.62, 1.0, u))
        lift, pitch = 30 * roll**1.4, 0.75 * roll - 0.24 * float(smooth(0.14, 0.0, u))
        x += 10 * roll
    else:
        u = (phase - PLANTED) / (1 - PLANTED)
        x = -0.46 * travel + 10 * (1 - u) + travel * float(smooth(-0.06, 1.04, u))
        lift = 30 * (1 - u) ** 1.5 + 34 * np.sin(np.pi * u) ** 1.3
        pitch = 0.75 * (1 - float(smooth(0.0, 0.62, u))) - 0.24 * float(smooth(0.55, 1.0, u))
    ankle = np.array([hip[0] + x, BOARDS - ANKLE - lift])
    way = ankle - hip
    reach = min(float(np.hypot(*way)), THIGH + SHIN - 0.5)
    way = way / np.hypot(*way)
    along = (THIGH**2 - SHIN**2 + reach**2) / (2 * reach)
    out = np.sqrt(max(THIGH**2 - along**2, 0.0))
    return Leg(hip + along * way + out * np.array([way[1], -way[0]]) * 1.0, ankle, pitch)


def _limb(
    shape: tuple[int, int], a: NDArray[np.float64], b: NDArray[np.float64], ra: float, rb: float
) -> Matte:
    """A limb that tapers from `ra` to `rb`, round at its ends."""
    across = (b - a) / max(float(np.hypot(*(b - a))), 1e-6)
    start = np.arctan2(across[1], across[0])
    near = start + np.pi / 2 + np.linspace(0, np.pi, 10)
    far = start - np.pi / 2 + np.linspace(0, np.pi, 10)
    outline = [a + ra * np.array([np.cos(v), np.sin(v)]) for v in near]
    outline += [b + rb * np.array([np.cos(v), np.sin(v)]) for v in far]
    return polygon(shape, outline)


def _shoe(shape: tuple[int, int], ankle: NDArray[np.float64], pitch: float) -> Matte:
    sole = np.array([(-17, 15), (-18, 4), (-11, -14), (10, -13), (17, 0), (36, 6), (42, 15)])
    c, s = np.cos(pitch), np.sin(pitch)
    pivot = np.array([20.0, 15.0]) if pitch > 0 else np.array([-16.0, 15.0])
    turned = (sole - pivot) @ np.array([[c, s], [-s, c]]) + pivot
    return polygon(shape, turned + ankle)


def _walker(t: float) -> tuple[Matte, Matte]:
    """Coverage of the walker: the far limbs, and the rest."""
    shape = (HEIGHT, WIDTH)
    phase = (PACE * t / STRIDE) % 1.0
    x = 500 + PACE * t - camera(t)
    bob = 5.0 * np.cos(4 * np.pi * (phase - 0.32))
    hip = np.array([x, BOARDS - 217 + bob])
    near, far = leg(hip, phase), leg(_offset_point(hip, 2, 0), (phase + 0.5) % 1.0)
    behind = np.zeros(shape, np.float32)
    for part in (
        _limb(shape, hip, far.knee, 24, 16),
        _limb(shape, far.knee, far.ankle, 16, 10),
        _shoe(shape, far.ankle, far.pitch),
    ):
        behind = np.maximum(behind, part)
    swing = 0.42 * np.cos(2 * np.pi * (phase + 0.02))
    shoulder = _offset_point(hip, 7 + 2 * np.cos(4 * np.pi * phase), -128)
    reach = shoulder + 66 * np.array([np.sin(swing), np.cos(swing)])
    bent = swing + 0.28 + 0.12 * np.cos(2 * np.pi * phase)
    hand = reach + 62 * np.array([np.sin(bent), np.cos(bent)])
    parts = [
        _limb(shape, hip, near.knee, 25, 17),
        _limb(shape, near.knee, near.ankle, 17, 10),
        _shoe(shape, near.ankle, near.pitch),
        _coat(shape, hip, shoulder, near, far, t, phase),
        _limb(shape, shoulder, reach, 17, 13),
        _limb(shape, reach, hand, 13, 9),
        _limb(shape, hand, _offset_point(hand, 2, 10), 9, 6),
        *_head(shape, shoulder, t, phase),
        *_pole(shape, shoulder, t, phase),
    ]
    return behind, np.maximum.reduce(parts)


def _coat(
    shape: tuple[int, int],
    hip: NDArray[np.float64],
    shoulder: NDArray[np.float64],
    near: Leg,
    far: Leg,
    t: float,
    phase: float,
) -> Matte:
    """A long coat whose hem the knees push and the wind lifts behind."""
    front = max(near.knee[0], far.knee[0]) + 14
    back = min(near.knee[0], far.knee[0]) - 16
    low = hip[1] + 128
    blown = 15 * noise(1.3 * t, 0.3, 41) + 9 * np.sin(4 * np.pi * phase)
    outline = [
        _offset_point(shoulder, -12, -18),
        _offset_point(shoulder, -29, 6),
        _offset_point(hip, -27, -52),
        _offset_point(hip, -29, 0),
        (back - 6, hip[1] + 62),
        (back - 18 - 0.8 * abs(blown), low - 6 + 0.3 * blown),
        (back + 0.30 * (front - back), low + 7),
        (back + 0.66 * (front - back), low + 3),
        (front + 2, low - 3),
        (front - 3, hip[1] + 62),
        _offset_point(hip, 24, 0),
        _offset_point(hip, 23, -52),
        _offset_point(shoulder, 22, 8),
        _offset_point(shoulder, 13, -18),
    ]
    return polygon(shape, _round_corners(outline))


def _head(
    shape: tuple[int, int], shoulder: NDArray[np.float64], t: float, phase: float
) -> list[Matte]:
    """Neck, face in profile, a brimmed hat, and a scarf's end in the wind."""
    at = _offset_point(shoulder, 7 + 1.5 * np.cos(4 * np.pi * phase + 0.7), -50)
    face = [
        (-19, -10), (-20, 4), (-14, 17), (-8, 24), (4, 25), (14, 22), (16, 16), (15, 11), (18, 9),
        (18, 5), (23, 3), (18, -6), (17, -12), (10, -20), (-10, -20),
    ]  # fmt: skip
    hat = [
        (-31, -8),
        (33, -11),
        (35, -14),
        (17, -19),
        (13, -38),
        (-14, -40),
        (-18, -18),
        (-31, -12),
    ]
    neck = [(-13, 12), (11, 18), (15, 40), (-19, 40)]
    u = np.linspace(0, 1, 9)
    wave = 9 * u * np.sin(7.5 * t - 4.2 * u) + 5 * noise(1.1 * t, 0.8, 61) * u
    line = np.stack([at[0] - 14 - 62 * u, at[1] + 27 + 20 * u**1.5 + wave], 1)
    thick = (8.5 - 2.5 * u)[:, None] * (0, 1)
    scarf = np.concatenate([line - thick, (line + thick)[::-1]])
    return [
        polygon(shape, [(at[0] + a, at[1] + b) for a, b in face]),
        polygon(shape, [(at[0] + a, at[1] + b) for a, b in hat]),
        polygon(shape, [(at[0] + a, at[1] + b) for a, b in neck]),
        polygon(shape, scarf),
    ]


def _pole(
    shape: tuple[int, int], shoulder: NDArray[np.float64], t: float, phase: float
) -> list[Matte]:
    """A lamplighter's pole on the shoulder, with a lantern that swings behind."""
    nod = 0.025 * np.cos(4 * np.pi * phase + 0.4)
    along = np.array([np.cos(0.62 + nod), np.sin(0.62 + nod)])
    front, back = (
        _offset_point(shoulder, 4, -17) + 96 * along,
        _offset_point(shoulder, 4, -17) - 186 * along,
    )
    swing = 0.16 * np.cos(4 * np.pi * phase - 0.6) + 0.05 * noise(t, 0.1, 77)
    down = np.array([np.sin(swing), np.cos(swing)])
    side = np.array([down[1], -down[0]])
    top = back + 20 * down
    body = [
        top + a * side + b * down
        for a, b in ((-4, 0), (-15, 12), (-12, 16), (-12, 46), (-15, 50), (15, 50), (12, 46),
                     (12, 16), (15, 12), (4, 0))
    ]  # fmt: skip
    glass = [top + a * side + b * down for a, b in ((-8, 20), (8, 20), (8, 42), (-8, 42))]
    lantern = np.clip(polygon(shape, body) - 0.62 * polygon(shape, glass), 0, 1)
    fist = _offset_point(shoulder, 4, -17) + 62 * along
    return [
        stroke(shape, [back, front], 6),
        stroke(shape, [back, back + 22 * down], 2),
        lantern,
        stroke(shape, [top + 20 * down, top + 42 * down], 2),
        _limb(shape, _offset_point(shoulder, 2, 4), _offset_point(shoulder, 52, 46), 15, 11),
        _limb(shape, _offset_point(shoulder, 52, 46), _offset_point(fist, 2, 2), 11, 9),
    ]


WATER = BOARDS + 78
"""The row where the posts stand in the water."""


def _mirror_in_water(matte: Matte, t: float) -> Matte:
    """A matte that ends at the water, mirrored in it and broken by ripples."""
    deep = np.arange(HEIGHT - WATER, dtype=np.float32)
    rows = WATER - 1 - 1.04 * deep
    shift = np.array(
        [(2 + 0.055 * d) * noise(float(0.16 * d - 2.6 * t), 0.7 * t, 19) for d in deep], np.float32
    )
    shift += (1 + 0.03 * deep) * np.sin(0.55 * deep - 5 * t).astype(np.float32)
    right = np.arange(WIDTH, dtype=np.float32)[None, :] + shift[:, None]
    wave = fractal_field(HEIGHT - WATER, WIDTH, 1 / 70, 1 / 9, 0.02 * camera(t), 1.1 * t, 3, 29)
    down = rows[:, None] + (3 + 0.12 * deep)[:, None] * wave
    return blur_matte(np.asarray(cv2.remap(matte, right, down, cv2.INTER_LINEAR), np.float32), 2.2)


def picture(frame: int) -> NDArray[np.float32]:
    """Frame `frame`, display-coded `(3, 1080, 1920)`."""
    t = frame / RATE
    go = camera(t)
    above = window_of(_sky(), 40 + 0.03 * go)
    for matte, tone, share in _shores():
        lay(above, window_of(matte, 20 + share * go), tone)
    haze = smooth(HORIZON - 90, HORIZON, np.arange(above.shape[0], dtype=np.float32))
    above += 0.10 * haze[:, None, None] * (colour(1.05, 0.88, 0.66) - above)
    light = np.empty((HEIGHT, WIDTH, 3), np.float32)
    light[:HORIZON] = above[:HORIZON]
    lay_water(light, above, HORIZON, 0.9 * go, t, 0.20)
    middle = _reeds(4, tuple(np.arange(-40, 3600, 233) + 60 * np.sin(np.arange(16))), 0.62, 128, 46)
    lay(light, 0.94 * _reed_coverage(middle, HORIZON + 24, t, 0.9), colour(0.060, 0.057, 0.047))
    behind, walker = (blur_matte(part, 0.7) for part in _walker(t))
    boards = _boardwalk(light, t)
    standing = np.maximum.reduce([boards, behind, walker])
    mirror = _mirror_in_water(standing, t)
    fade = np.linspace(0.80, 0.45, HEIGHT - WATER, dtype=np.float32)[:, None]
    lay(light[WATER:], fade * mirror, DARK * 4)
    lay(light, behind, FAR_LIMB)
    lay(light, walker, DARK)
    close = _reeds(14, (-30, 330, 1150, 1560, 2240, 2900, 3240, 3700), 1.42, 430, 26)
    lay(light, 0.99 * _reed_coverage(close, HEIGHT + 26, t, 2.4), colour(0.0070, 0.0070, 0.0080))
    return develop(light, 2.1)
