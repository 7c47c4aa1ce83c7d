"""Lamplighter: head and shoulders, near, before a plain pale evening wall. 8 seconds.

The head is an ellipsoid seen from afar, and its features lie on it by azimuth and height, so that
it turns as a whole. What the figure covers is known as it is painted: `matte` gives it.
"""

from functools import cache
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.demo.head import (
    BEARD,
    DEEP,
    SKIN,
    TALL,
    WIDE,
    Figure,
    Points,
    Pose,
    head_surface,
    lay_face,
    surface_light,
)
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
    noise,
    polygon,
    smooth,
)

FRAMES = 8 * RATE
FINE = 2
"""Hairs are drawn at so many times the size."""

FELT = colour(0.0125, 0.0115, 0.0125)
BAND = colour(0.055, 0.009, 0.006)
COAT = colour(0.0068, 0.0092, 0.0140)
SCARF = colour(0.100, 0.026, 0.012)


def pose(t: float) -> Pose:
    """A step to the side, and a slow turn of the head, at `t` seconds."""
    step = float(smooth(2.2, 4.6, t)) - 0.55 * float(smooth(6.0, 7.6, t))
    weight = 9 * np.sin(np.pi * float(smooth(2.4, 4.2, t)))
    return Pose(
        840 + 210 * step + 5 * noise(0.5 * t, 0.3, 3),
        430 + weight + 3 * np.sin(1.4 * t),
        -0.55 + 1.0 * float(smooth(0.6, 5.4, t)) - 0.35 * float(smooth(5.6, 7.8, t)),
        0.035 * noise(0.4 * t, 0.8, 11) + 0.05 * step - 0.03,
    )


@cache
def _wall() -> Light:
    y = np.linspace(0, 1, HEIGHT, dtype=np.float32)[:, None]
    x = np.linspace(0, 1, WIDTH, dtype=np.float32)[None, :]
    glow = np.exp(-(((x - 0.2) / 0.62) ** 2) - (((y - 0.34) / 0.75) ** 2))
    light = colour(0.60, 0.55, 0.56) + glow[..., None] * colour(0.24, 0.16, 0.05)
    plaster = fractal_field(HEIGHT, WIDTH, 1 / 260, 1 / 200, 0.3, 0.9, 5, 71)
    trowel = fractal_field(HEIGHT, WIDTH, 1 / 46, 1 / 9, 2.3, 1.9, 3, 77)
    return np.asarray(light * (1 + 0.030 * plaster + 0.014 * trowel)[..., None], np.float32)


def _turn(points: Any, at: Pose) -> Points:
    """Places told from the head's middle, where that is and as it leans."""
    c, s = np.cos(at.roll), np.sin(at.roll)
    turned = np.asarray(points, np.float64) @ np.array([[c, s], [-s, c]])
    return np.asarray(turned + np.array([at.x, at.y]))


def _round_corners(points: Any) -> Points:
    """A closed outline with its corners cut, three times (Chaikin 1974)."""
    outline = np.array(points, np.float64)
    for _ in range(3):
        after = np.roll(outline, -1, axis=0)
        cut = np.stack([0.75 * outline + 0.25 * after, 0.25 * outline + 0.75 * after], 1)
        outline = cut.reshape(-1, 2)
    return outline


SHAPE = (HEIGHT, WIDTH)


def _folds(seed: int, ox: float, oy: float, sx: float, sy: float) -> NDArray[np.float32]:
    return 1 + 0.22 * fractal_field(HEIGHT, WIDTH, 1 / sx, 1 / sy, -ox / sx, -oy / sy, 4, seed)


def _cylinder_light(middle: float, half: float) -> NDArray[np.float32]:
    """Light on something round that stands upright: by the place across it, −1..1."""
    x = (np.arange(WIDTH, dtype=np.float32) + 0.5 - middle) / half
    n = np.clip(x, -1, 1)
    normal = np.stack([n, np.full_like(n, -0.15), np.sqrt(1 - n * n)], -1)
    return surface_light(normal)[None, :]


def _move_matte(matte: Matte, right: float, down: float) -> Matte:
    """A matte moved as a whole; nothing comes in from outside."""
    place = np.array([[1, 0, right], [0, 1, down]], np.float64)
    return np.asarray(cv2.warpAffine(matte, place, (WIDTH, HEIGHT)), np.float32)


def _coat(figure: Figure, at: Pose, t: float) -> None:
    breath = 3 * np.sin(1.4 * t)
    x, y = at.x - 26 * at.yaw - 0.25 * (at.x - 840), at.y
    outline = _round_corners(
        [(x - 96, y + 214), (x - 200, y + 268 - breath), (x - 356, y + 330 - breath),
         (x - 430, y + 470), (x - 470, HEIGHT + 400), (x + 480, HEIGHT + 400), (x + 436, y + 470),
         (x + 360, y + 322 - breath), (x + 196, y + 262 - breath), (x + 96, y + 214)]
    )  # fmt: skip
    down = np.arange(HEIGHT, dtype=np.float32)[:, None] - (y + 250)
    upper = 1 + 0.9 * np.exp(-np.maximum(down, 0) / 90)
    shade = _cylinder_light(x, 460) * upper * _folds(31, x, y, 150, 420)
    figure.lay(polygon(SHAPE, outline), COAT * shade[..., None])
    opening = polygon(
        SHAPE, [(x - 10, y + 250), (x + 26, y + 250), (x + 22, HEIGHT), (x + 2, HEIGHT)]
    )
    figure.lay(0.55 * blur_matte(opening, 3), COAT * 0.35)
    for k in range(2):
        button = (x + 46, y + 420 + 150 * k)
        a = np.linspace(0, 2 * np.pi, 24)
        disc = polygon(SHAPE, np.stack([button[0] + 13 * np.cos(a), button[1] + 13 * np.sin(a)], 1))
        figure.lay(disc, COAT * 2.6)
        shine = np.stack([button[0] - 4 + 4 * np.cos(a), button[1] - 4 + 4 * np.sin(a)], 1)
        figure.lay(0.7 * polygon(SHAPE, shine, 1.0), colour(0.30, 0.26, 0.22))
    for way in (-1, 1):
        collar = _round_corners(
            [(x + way * 70, y + 178), (x + way * 168, y + 206), (x + way * 214, y + 276),
             (x + way * 150, y + 366), (x + way * 40, y + 400), (x + way * 36, y + 300)]
        )  # fmt: skip
        soft = polygon(SHAPE, collar + np.array([6, 12]), 9)
        figure.lay(0.5 * soft * (figure.cover > 0.99), COAT * 0.3)
        figure.lay(
            polygon(SHAPE, collar), COAT * (1.45 * shade * (1.15 if way < 0 else 0.9))[..., None]
        )


def _scarf(figure: Figure, at: Pose, t: float) -> None:
    x, y = at.x - 14 * at.yaw, at.y
    knit = fractal_field(HEIGHT, WIDTH, 1 / 5, 1 / 16, -x / 5, -y / 16, 2, 51)
    for k, (top, tall, wide) in enumerate(((150, 86, 126), (196, 92, 142))):
        a = np.linspace(0, 2 * np.pi, 60)
        sag = 16 * np.cos(a) ** 2
        ring = np.stack([x + wide * np.cos(a), y + top + 44 + 0.5 * tall * np.sin(a) - sag], 1)
        bands = np.arange(HEIGHT, dtype=np.float32)[:, None] - (y + top + 44)
        round_ = np.sqrt(np.clip(1 - (bands / (0.52 * tall)) ** 2, 0.05, 1))
        shade = _cylinder_light(x, wide * 1.05) * round_ * (1 + 0.16 * knit)
        figure.lay(
            0.6 * polygon(SHAPE, ring + np.array([4, 12]), 8) * (figure.cover > 0.99), SCARF * 0.12
        )
        figure.lay(polygon(SHAPE, ring), SCARF * (0.92 + 0.1 * k) * shade[..., None])
    end = [(x + 30, y + 236), (x + 96, y + 232), (x + 128 + 5 * np.sin(t), y + 420),
           (x + 54 + 5 * np.sin(t), y + 428)]  # fmt: skip
    shade = _cylinder_light(x + 80, 60) * (1 + 0.2 * knit)
    figure.lay(
        0.55 * polygon(SHAPE, np.array(end) + np.array([5, 9]), 8) * (figure.cover > 0.99),
        COAT * 0.2,
    )
    figure.lay(polygon(SHAPE, end), SCARF * 0.86 * shade[..., None])


class Strand(NamedTuple):
    """A hair: from where on the head it hangs, how long it is, and its ways."""

    azimuth: float
    down: float
    long: float
    curl: float
    loose: bool


TONES = 10
"""Tones that hairs are of, each laid over those before."""


@cache
def _strands() -> tuple[tuple[Strand, ...], ...]:
    """Hairs, by their tone."""
    rng = np.random.default_rng(8)

    def strand() -> Strand:
        way = 1 if rng.random() < 0.5 else -1
        azimuth, down = way * rng.uniform(1.12, 2.85), rng.uniform(-0.46, -0.02)
        loose = bool(rng.random() < 0.06)
        return Strand(azimuth, down, rng.uniform(120, 215), rng.normal(0, 0.045), loose)

    return tuple(tuple(strand() for _ in range(190)) for _ in range(TONES))


def _place(azimuth: float, down: float, at: Pose) -> tuple[Points, float]:
    """A place on the head, where it is seen, and how far it is turned to the viewer, −1..1."""
    across = np.sqrt(max(1 - down * down, 0.0))
    side, front = WIDE * across * np.sin(azimuth), DEEP * across * np.cos(azimuth)
    u = side * np.cos(at.yaw) + front * np.sin(at.yaw)
    w = -side * np.sin(at.yaw) + front * np.cos(at.yaw)
    return _turn([(u, TALL * down)], at)[0], w / DEEP


def _line(hair: Strand, root: Points, at: Pose, t: float, phase: float) -> Points:
    """Where a hair hangs from its root."""
    u = np.linspace(0, 1, 9)
    sway = 6 * noise(0.8 * t + phase, 0.4, 21) + (13 * np.sin(1.1 * t + phase) if hair.loose else 0)
    outward = np.sign(root[0] - at.x) * (12 + (36 if hair.loose else 0))
    bent = hair.curl * hair.long * np.sin(3.0 * u + phase)
    xs = root[0] + outward * np.sin(1.9 * u) + bent + sway * u**2
    return np.stack([xs, root[1] + hair.long * u * (0.84 if hair.loose else 1)], 1)


def _hair(figure: Figure, at: Pose, t: float, behind: bool) -> None:
    """Hairs that hang from under the hat, drawn fine; those behind the head, or those before it."""
    corner = np.array([max(int(at.x - 330), 0), max(int(at.y - 160), 0)])
    wide, tall = 660, 520
    part = (slice(corner[1], corner[1] + tall), slice(corner[0], corner[0] + wide))
    lit = _cylinder_light(at.x, 240)[:, part[1]] * np.float32(0.45 if behind else 0.9)
    for tone, strands in enumerate(_strands()):
        lines: dict[bool, list[NDArray[np.int32]]] = {False: [], True: []}
        for i, hair in enumerate(strands):
            root, towards = _place(hair.azimuth, hair.down, at)
            if (towards < -0.05) == behind:
                points = _line(hair, root, at, t, 0.7 * (i + 31 * tone)) - corner
                lines[hair.loose].append(np.round(points * FINE * 16).astype(np.int32))
        fine = np.zeros((FINE * tall, FINE * wide), np.uint8)
        for loose, drawn in lines.items():
            cv2.polylines(fine, drawn, False, 255, 1 if loose else 2, cv2.LINE_AA, 4)
        small = cv2.resize(fine, (wide, tall), interpolation=cv2.INTER_AREA)
        matte = np.asarray(small, np.float32) / np.float32(255)
        shade = 0.35 + 1.5 * (tone / TONES) ** 2
        figure.lay(matte, BEARD * (shade * lit)[..., None], part)


def _hat(figure: Figure, at: Pose) -> None:
    a = np.linspace(0, 2 * np.pi, 120)
    lean = 22 * np.sin(at.yaw)
    bend = 15 * np.cos(2 * a + 0.3 + at.yaw)
    brim = np.stack([262 * np.cos(a) + lean, -98 + 46 * np.sin(a) - bend], 1)
    crown = _round_corners(
        [(-158 + lean, -100), (-150 + lean, -190), (-132 + lean, -270), (-60 + lean, -292),
         (0 + lean, -276), (64 + lean, -294), (134 + lean, -266), (150 + lean, -190),
         (158 + lean, -100), (80 + lean, -72), (-80 + lean, -72)]
    )  # fmt: skip
    felt = _folds(61, at.x, at.y, 9, 9) ** 0.5 * _folds(63, at.x, at.y, 220, 150) ** 0.6
    shade = _cylinder_light(at.x + lean, 190) * felt
    figure.lay(
        polygon(SHAPE, _turn(brim, at)),
        FELT * (0.72 * _cylinder_light(at.x, 330) * felt)[..., None],
    )
    figure.lay(polygon(SHAPE, _turn(crown, at)), FELT * (1.35 * shade)[..., None])
    dent = _round_corners(
        [
            (-70 + lean, -284),
            (0 + lean, -268),
            (70 + lean, -284),
            (20 + lean, -236),
            (-20 + lean, -236),
        ]
    )
    figure.lay(0.5 * polygon(SHAPE, _turn(dent, at), 12), FELT * 0.5)
    curve = np.linspace(-1, 1, 40)
    low = np.stack([156 * curve + lean, -84 + 14 * (1 - curve**2)], 1)
    band = np.concatenate([low, (low - (0, 40))[::-1]])
    figure.lay(polygon(SHAPE, _turn(band, at)), BAND * (1.1 * shade)[..., None])
    # the front of the brim stands before the band
    front = brim[(np.sin(a) > 0.0)]
    edge = np.concatenate(
        [
            front,
            (
                np.stack([196 * np.cos(a) + lean, -96 + 24 * np.sin(a) - 0.6 * bend], 1)[
                    (np.sin(a) > 0.0)
                ]
            )[::-1],
        ]
    )
    figure.lay(
        polygon(SHAPE, _turn(edge, at)),
        FELT * (1.15 * _cylinder_light(at.x, 330) * felt)[..., None],
    )


def paint_figure(frame: int) -> Figure:
    """The figure at frame `frame`."""
    t = frame / RATE
    at, figure = pose(t), Figure()
    _hair(figure, at, t, behind=True)
    _coat(figure, at, t)
    neck = [(-70, 120), (70, 120), (92, 260), (-92, 260)]
    figure.lay(polygon(SHAPE, _turn(neck, at)), SKIN * 0.35 * _cylinder_light(at.x, 100)[..., None])
    _scarf(figure, at, t)
    head = head_surface(at)
    whole = np.zeros(SHAPE, np.float32)
    whole[head.part] = head.matte
    shadow = blur_matte(_move_matte(whole, 10, 26), 14) * (figure.cover > 0.99)
    figure.lay(0.55 * shadow, COAT * 0.25)
    lay_face(figure, head, at, t)
    _hair(figure, at, t, behind=False)
    _hat(figure, at)
    return figure


def matte(frame: int) -> Matte:
    """What the figure covers of frame `frame`, 0..1, shape `(1080, 1920)`."""
    return paint_figure(frame).cover


def picture(frame: int) -> NDArray[np.float32]:
    """Frame `frame`, display-coded `(3, 1080, 1920)`."""
    figure = paint_figure(frame)
    cast = _move_matte(blur_matte(figure.cover, 42), 120, 46)
    wall = _wall() * (1 - 0.16 * cast)[..., None]
    return develop(wall * (1 - figure.cover)[..., None] + figure.light, 2.0)
