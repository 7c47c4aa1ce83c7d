"""Plates that are computed from a seed, at any size: for those who have no scans."""

from collections.abc import Callable
from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.marks import Mark, draw_marks, mark_arrays
from yearning.core.look.document import parse_look
from yearning.core.noise.fields import fill_noise, noise_kernel, uniforms
from yearning.core.picture import Picture, Plane, Size

MAX_FRAMES = 1 << 20

DIRT = 460
"""Layer of the lens dirt's random numbers."""

UGLY_FRAME = 31
"""The frame of a dust loop that has a scratch right across, to be skipped."""


class GeneratedPlate(NamedTuple):
    """A kind of plate that can be computed.

    Args:
        summary: what it is, in a few words.
        frames: how many it has.
        picture: makes a frame, from a seed, the frame's number and a size.
        matte: makes its alpha from a seed and a size, where it is clear in places.
        shuffles: whether its frames have nothing to do with each other, and may come in any order.
    """

    summary: str
    frames: int
    picture: Callable[[int, int, Size], Picture]
    matte: Callable[[int, Size], Plane] | None = None
    shuffles: bool = False


def _of_steps(level: float, *steps: dict[str, Any]) -> Callable[[int, int, Size], Picture]:
    """Pictures of a grey through steps, each with the seed."""

    def picture(seed: int, frame: int, size: Size) -> Picture:
        looks = [
            {"id": str(n), **step, "settings": step["settings"] | {"seed": seed + n}}
            for n, step in enumerate(steps)
        ]
        look = parse_look({"format": "yearning-look/3", "steps": looks})
        grey = np.broadcast_to(np.float32(level), (MAX_FRAMES, 3, size.height, size.width))
        return Evaluator(look, ArrayClip(grey), size, Cache(0), keep="nothing").picture(frame)

    return picture


def _step(treatment: str, **settings: Any) -> dict[str, Any]:
    return {"treatment": treatment, "settings": settings}


_loop = _of_steps(
    0.02,
    _step("dust", specks=70, hairs=5, blotches=1.2, scratches=0, polarity="white", size=1.2),
)


def _dust_loop(seed: int, frame: int, size: Size) -> Picture:
    """Dust and hairs; one frame has an ugly scratch."""
    picture = _loop(seed, frame, size)
    if frame != UGLY_FRAME:
        return picture
    u = uniforms(seed, DIRT, 1, 0, 8)
    wide = size.width / size.scale
    t = np.linspace(0, 1, 40)
    across = wide * (0.15 + 0.7 * t) + 60 * np.sin(5 * t + 6 * u[0])
    down = 1080 * (0.1 + 0.8 * u[1] + (0.5 - u[1]) * t) + 30 * np.sin(9 * t)
    line = np.stack([across, down, np.full(40, 3.2), 0.5 + 0.5 * np.sin(23 * t) ** 2], 1)
    return _with_marks(
        picture, [Mark("ugly", line.astype(np.float32), 0.8, (0.9, 0.9, 0.88))], size
    )


def _with_marks(picture: Picture, marks: list[Mark], size: Size) -> Picture:
    out = picture.copy()
    draw_marks(mark_arrays(marks, size, size), out, 0, size.height, 0)
    return out


def _lens_dirt(seed: int, frame: int, size: Size) -> Picture:
    """Dust on a front lens that light catches: soft discs with brighter rims, and smears."""
    wide = size.width / size.scale
    marks = []
    for n in range(90):
        u = uniforms(seed, DIRT, 10 + n, 0, 10)
        radius = 6 + 60 * u[0] ** 3
        x, y = wide * u[1], 1080 * u[2]
        tone = 0.25 + 0.5 * u[3]
        warm = (tone, tone * (0.86 + 0.1 * u[4]), tone * (0.66 + 0.2 * u[4]))
        wave = np.stack([(u[5:9] - 0.5) * 0.12, 2 * np.pi * u[1:5]]).astype(np.float32)
        disc = np.array([[x, y, radius, 0.18 + 0.34 * u[9]]], np.float32)
        marks.append(Mark("disc", disc, 0.2 * radius + 2, warm, wave))
        turn = np.linspace(0, 2 * np.pi, 25)
        rim = np.stack(
            [
                x + 0.93 * radius * np.cos(turn),
                y + 0.93 * radius * np.sin(turn),
                np.full(25, 0.05 * radius + 0.4),
                np.full(25, 0.3 * u[9]),
            ],
            1,
        )
        marks.append(Mark("rim", rim.astype(np.float32), 0.06 * radius + 0.8, warm))
    return _with_marks(np.zeros((3, size.height, size.width), np.float32), marks, size)


def _field(seed: int, layer: int, sigma: float, size: Size) -> Plane:
    """Noise of unit variance, correlated over `sigma` px@1080."""
    out = new_array((size.height, size.width))
    fill_noise(*noise_kernel(size, size, sigma, 0.0), seed, layer, 0, 0, out)
    return out


def _paper(seed: int, frame: int, size: Size) -> Picture:
    """Laid fibres under a raking light: fine tooth, wide clouds, a few flecks."""
    tooth = _field(seed, 470, 1.1, size)
    fibre = _field(seed, 471, 2.6, size)
    cloud = _field(seed, 472, 46.0, size)
    raking = np.roll(fibre, 2, axis=1) - fibre
    light = 0.86 + 0.014 * tooth + 0.022 * raking + 0.016 * cloud
    picture = np.stack([light, 0.985 * light, 0.945 * light]).astype(np.float32)
    wide = size.width / size.scale
    flecks = []
    for n in range(140):
        u = uniforms(seed, 473, n, 0, 8)
        length, turn = 4 + 26 * u[0], 2 * np.pi * u[1]
        ends = np.array([[-0.5], [0.1], [0.5]]) * length * [np.cos(turn), np.sin(turn)]
        ends[1] += 3 * (u[2:4] - 0.5)
        ends += (wide * u[4], 1080 * u[5])
        line = np.column_stack([ends, [0.3, 0.6, 0.3], [0.35] * 3])
        flecks.append(Mark("fleck", line.astype(np.float32), 0.5, (0.55, 0.5, 0.42)))
    return _with_marks(picture, flecks, size)


def _scan(seed: int, frame: int, size: Size) -> Picture:
    """Grey film on a scanner's glass: grain and clouds, a purple cast, dirt, hairs and rubs."""
    grain = 0.9 * _field(seed, 490, 0.75, size) + 0.5 * _field(seed, 491, 2.2, size)
    cloud = _field(seed, 492, 70.0, size)
    light = 0.44 + 0.045 * grain + 0.012 * cloud
    cast = np.array([1.04, 0.93, 1.12], np.float32)[:, None, None]
    wide, marks = size.width / size.scale, []
    for n in range(150):
        u = uniforms(seed, 493, n, 0, 10)
        x, y, pale = wide * u[0], 1080 * u[1], u[2] < 0.35
        tone = (0.92, 0.9, 0.94) if pale else (0.08, 0.06, 0.09)
        if n < 110:
            wave = np.stack([(u[5:9] - 0.5) * 0.5, 2 * np.pi * u[1:5]]).astype(np.float32)
            speck = np.array([[x, y, 0.7 + 3.2 * u[3] ** 3, 0.4 + 0.5 * u[4]]], np.float32)
            marks.append(Mark("speck", speck, 0.5, tone, wave))
            continue
        bends = np.cumsum(0.5 * (np.linspace(-1, 1, 12) * (u[3] - 0.5) + u[4] - 0.5))
        turns = 2 * np.pi * u[5] + (bends if n < 138 else 0 * bends)
        step = (3 + 9 * u[6]) if n < 138 else (10 + 22 * u[6])
        across, down = x + step * np.cumsum(np.cos(turns)), y + step * np.cumsum(np.sin(turns))
        seen = 0.5 + 0.4 * u[7] if n < 138 else 0.12 + 0.2 * u[7]
        line = np.stack([across, down, np.full(12, 0.55), np.full(12, seen)], 1)
        marks.append(Mark("hair", line.astype(np.float32), 0.4, tone))
    return _with_marks(np.clip(light * cast, 0, 1).astype(np.float32), marks, size)


HOLES = 4
"""Perforations of the film border on each side."""


def _border_cover(seed: int, size: Size) -> Plane:
    """Where the border hides the picture: everywhere but in its opening and its holes."""
    wide, tall = size.width, size.height
    cover = np.ones((tall, wide), np.float32)
    for box, corner in ((_opening(size), 0.05), *((hole, 0.3) for hole in _holes(size))):
        cover = np.minimum(cover, 1 - _rounded_box(box, corner * (box[3] - box[1]), size))
    rough = _field(seed, 480, 1.6, size) * 0.5 + _field(seed, 481, 7.0, size)
    edge = cv2.GaussianBlur(cover, (0, 0), 1.6 * size.scale)
    return np.clip((edge - 0.5 + 0.05 * rough) * 4 + 0.5, 0, 1).astype(np.float32)


def _opening(size: Size) -> tuple[float, float, float, float]:
    side = 0.085 * size.width
    return side, 0.045 * size.height, size.width - side, 0.955 * size.height


def _holes(size: Size) -> list[tuple[float, float, float, float]]:
    pitch, tall, wide = size.height / HOLES, 0.115 * size.height, 0.042 * size.width
    return [
        (x, (n + 0.5) * pitch - tall / 2, x + wide, (n + 0.5) * pitch + tall / 2)
        for n in range(HOLES)
        for x in (0.014 * size.width, size.width * (1 - 0.014) - wide)
    ]


def _rounded_box(box: tuple[float, ...], corner: float, size: Size) -> NDArray[np.float32]:
    y, x = np.ogrid[0 : size.height, 0 : size.width]
    u = np.abs(x + 0.5 - (box[0] + box[2]) / 2) - (box[2] - box[0]) / 2 + corner
    v = np.abs(y + 0.5 - (box[1] + box[3]) / 2) - (box[3] - box[1]) / 2 + corner
    far = np.hypot(np.maximum(u, 0), np.maximum(v, 0)) + np.minimum(np.maximum(u, v), 0) - corner
    return np.clip(0.5 - far, 0, 1).astype(np.float32)


def _border(seed: int, frame: int, size: Size) -> Picture:
    """The film's base with numbers printed along its edges, and light that bled in at the holes."""
    base = np.array([0.030, 0.026, 0.024], np.float32)[:, None, None]
    picture = np.broadcast_to(base, (3, size.height, size.width)).copy()
    picture += 0.006 * _field(seed, 482, 1.4, size)
    holes = np.maximum.reduce([_rounded_box(hole, 0.1 * hole[3], size) for hole in _holes(size)])
    bleed = cv2.GaussianBlur(holes, (0, 0), 7 * size.scale)
    picture += bleed * np.array([0.22, 0.09, 0.03], np.float32)[:, None, None]
    print_ = np.zeros((size.width, size.height), np.uint8)  # a side lies along the film
    scale, first = size.scale, 1 + int(40 * uniforms(seed, 483, 0, 0, 1)[0])
    for n in range(2):
        at = (round((0.10 + 0.5 * n) * size.height), round(0.074 * size.width))
        text = f"TIDEWATER  {first}{'A' * n} >"
        cv2.putText(print_, text, at, cv2.FONT_HERSHEY_SIMPLEX, 0.62 * scale, 255,
                    max(1, round(1.6 * scale)), cv2.LINE_AA)  # fmt: skip
    glow = cv2.GaussianBlur(np.rot90(print_).astype(np.float32) / 255, (0, 0), 0.8 * scale)
    picture += glow * np.array([0.72, 0.44, 0.12], np.float32)[:, None, None]
    return np.clip(picture, 0, 1).astype(np.float32)


GENERATED_PLATES: dict[str, GeneratedPlate] = {
    "grain field": GeneratedPlate(
        "grey with grain, to be laid over in overlay",
        24,
        _of_steps(0.5, _step("grain", gauge=16, coarseness="coarse", colour=0.0, clumping=0.35)),
        shuffles=True,
    ),
    "dust and hairs": GeneratedPlate(
        "3 s of dirt; one frame has an ugly scratch", 72, _dust_loop, shuffles=True
    ),
    "scratches": GeneratedPlate(
        "2 s of scratches that wander",
        48,
        _of_steps(0.0, _step("dust", specks=0, hairs=0, blotches=0, scratches=3, polarity="white")),
    ),
    "light burn": GeneratedPlate(
        "4 s of warm light from the side",
        96,
        _of_steps(
            0.0,
            _step("leak", from_edge="right", reach=0.8, drift=0.8, breathe=0.8, second=0.35),
        ),
    ),
    "film border": GeneratedPlate("an opening in a strip of film", 1, _border, _border_cover),
    "lens dirt": GeneratedPlate("specks on the lens that light catches", 1, _lens_dirt),
    "scanned film": GeneratedPlate(
        "a scan of grey film with its cast and its dirt, to be thrown anew every few frames",
        1,
        _scan,
    ),
    "paper": GeneratedPlate("paper with a tooth, to be laid over in multiply", 1, _paper),
}
"""Every kind of plate that can be computed, by name."""
