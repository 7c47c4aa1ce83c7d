"""Frames of a textured part that moves in a known way before a textured ground that moves too."""

from functools import cache
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.track_template import PixelBox
from yearning.core.motion.tracks import Kind, Matrix

WIDTH, HEIGHT = 1920, 1080
MIDDLE = np.array([960.0, 540.0])
AXES = (230, 180)
OUTLINE = MIDDLE + np.array(
    [[200 * np.cos(a), 150 * np.sin(a)] for a in np.linspace(0, 2 * np.pi, 48, endpoint=False)]
)


class Scene(NamedTuple):
    """Frames of a part that moves; `last` is the last frame that it is seen in."""

    kind: Kind
    frames: int = 16
    bar: bool = False
    """Another thing passes before it."""
    last: int = 10_000
    noise: float = 0.02
    light: float = 0.2

    def matrix(self, n: int) -> Matrix:
        """Where it is at a frame: shifts, turns to 30 degrees, sizes of 0.7 to 1.4, corners."""
        t = n / (self.frames - 1)
        if self.kind == "shift":
            return np.array([[1, 0, 300 * t + 40 * np.sin(9 * t)], [0, 1, -120 * t], [0, 0, 1]])
        if self.kind == "turn":
            angle, size = np.radians(30 * t), float(np.interp(t, [0, 0.5, 1], [1, 1.4, 0.7]))
            c, s = size * np.cos(angle), size * np.sin(angle)
            matrix = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1.0]])
            matrix[:2, 2] = MIDDLE - matrix[:2, :2] @ MIDDLE + (150 * t, 60 * t)
            return matrix
        was = np.float32([[760, 390], [1160, 390], [1160, 690], [760, 690]])
        by = np.float32([[80, 40], [-60, 70], [30, -50], [-40, 20]]) * np.float32(t)
        now = was + by + np.float32([100 * t, 30 * t])
        found = cv2.getPerspectiveTransform(was - 0.5, now - 0.5).astype(np.float64)
        half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
        return half @ found @ np.linalg.inv(half)

    def __call__(self, n: int, box: PixelBox) -> NDArray[np.uint8]:
        """The luma of a part of a frame."""
        whole = _draw_scene(self, n)
        return whole[box.top : box.top + box.height, box.left : box.left + box.width]


@cache
def _texture(seed: int) -> NDArray[np.float32]:
    rng = np.random.default_rng(seed)
    total = np.zeros((HEIGHT, WIDTH), np.float32)
    for k in (4, 8, 16, 32, 64):
        fine = rng.random((HEIGHT // k, WIDTH // k)).astype(np.float32)
        total += cv2.resize(fine, (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC) * k**0.7
    return (total - total.min()) / (total.max() - total.min())


@cache
def _draw_scene(scene: Scene, n: int) -> NDArray[np.uint8]:
    rng = np.random.default_rng(n)
    ground = np.roll(_texture(2), int(200 * n / (scene.frames - 1)), 1)
    picture = ground.copy()
    if n <= scene.last:
        cover = np.zeros((HEIGHT, WIDTH), np.float32)
        cv2.ellipse(cover, (960, 540), AXES, 0, 0, 360, 1.0, -1)
        half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
        own = np.linalg.inv(half) @ scene.matrix(n) @ half
        part = cv2.warpPerspective(_texture(1), own, (WIDTH, HEIGHT), flags=cv2.INTER_CUBIC)
        weight = cv2.warpPerspective(cover, own, (WIDTH, HEIGHT))
        picture += weight * (part - picture)
    if scene.bar:
        left = int(200 + 1500 * n / (scene.frames - 1))
        picture[:, left : left + 90] = 0.1
    picture *= 0.8 * (1 + scene.light * np.sin(6 * n / (scene.frames - 1)))
    picture += scene.noise * rng.standard_normal(picture.shape, np.float32)
    return np.clip(255 * picture, 0, 255).astype(np.uint8)
