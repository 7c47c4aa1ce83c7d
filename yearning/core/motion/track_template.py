"""How a part of a frame looks: what others are set right against, and it is known again by."""

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.flow import Codes
from yearning.core.motion.motion_fit import nearest_motion
from yearning.core.motion.tracks import Kind, Matrix, Points, map_places

Mask = NDArray[np.uint8]

RIM = 8
"""Pixels about a part that are compared too."""

LEVEL_SIGMA, EVEN = 12.0, 6.0
"""Pixels over which light is levelled, and the deviation, in codes, below which it is even."""

REDUCED = 4
"""By how much pictures are reduced for that."""

SPREAD = 45.0
"""Codes to a deviation of what is levelled."""

LONGEST = 220
"""The longer side of what is compared, in pixels; larger parts are reduced."""

ABOUT = 11
"""The side of what is compared about a corner, in pixels of what is compared."""

LOOKS_ALIKE = 0.6
"""The correlation from which what is about a corner looks as it did."""

HIDDEN, SEEN = 0.2, 0.25
"""The correlation below which something else is seen, and the share of a part that must be seen."""

ECC_MODES: dict[Kind, int] = {
    "shift": cv2.MOTION_TRANSLATION,
    "turn": cv2.MOTION_AFFINE,  # made a similarity after
    "corners": cv2.MOTION_HOMOGRAPHY,
}

CENTRE = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1.0]])
"""From OpenCV's places, which count from the first pixel's centre, to those of tracks."""


class PixelBox(NamedTuple):
    """A part of a frame, in whole pixels."""

    left: int
    top: int
    width: int
    height: int

    @property
    def corner(self) -> Points:
        """Its left upper corner."""
        return np.array([self.left, self.top], np.float64)

    @property
    def place(self) -> Matrix:
        """Takes places in it to those in the frame."""
        return np.array([[1.0, 0, self.left], [0, 1, self.top], [0, 0, 1]])


class Template:
    """A part as it looks in one frame, reduced where it is large.

    Matrices and places are OpenCV's: they count from the centre of the first pixel.

    Args:
        now: a box of that frame, levelled.
        box: which one.
        outline: the part's edge in the track's first frame.
        matrix: from the first frame to this one.
        kind: what the part may do.
    """

    def __init__(
        self, now: Codes, box: PixelBox, outline: Points, matrix: Matrix, kind: Kind
    ) -> None:
        self._kind = kind
        mask = fill_outline(map_places(matrix, outline), box)
        left, top, width, height = cv2.boundingRect(mask)
        left, top, width, height = left - RIM, top - RIM, width + 2 * RIM, height + 2 * RIM
        s = self._scale = min(1.0, LONGEST / max(width, height))
        self._size = max(ABOUT, round(width * s)), max(ABOUT, round(height * s))
        enlarge = np.array([[1 / s, 0, left], [0, 1 / s, top], [0, 0, 1.0]])
        place = np.linalg.inv(CENTRE) @ enlarge @ CENTRE
        self._to_first = np.linalg.inv(matrix) @ box.place @ place
        self._picture = self._warp_codes(self._blur_for_reduction(now), place)
        self._mask = self._warp_codes(mask, place)
        ys, xs = np.nonzero(self._mask)
        some = np.linspace(0, len(xs) - 1, min(len(xs), 200)).astype(int)
        spread = np.column_stack([xs[some], ys[some]]).astype(np.float64)
        self._spread = map_places(self._to_first, spread)

    def align(self, now: Codes, box: PixelBox, guess: Matrix) -> tuple[Matrix, float]:
        """A matrix from the first frame set right by all of the part (ECC), and the correlation.

        Args:
            now: a box of another frame, levelled.
            box: which one.
            guess: about from the first frame to that one.
        """
        there = np.linalg.inv(box.place) @ guess @ self._to_first
        image = self._warp_codes(self._blur_for_reduction(now), there)
        seen = np.where(local_correlation(self._picture, image) > HIDDEN, self._mask, np.uint8(0))
        if np.count_nonzero(seen) < SEEN * np.count_nonzero(self._mask):
            return guess, -1.0
        start = np.eye(3 if self._kind == "corners" else 2, 3, dtype=np.float32)
        until = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 40, 1e-4)
        try:
            correlation, found = cv2.findTransformECC(
                self._picture, image, start, ECC_MODES[self._kind], until, seen, 5
            )
        except cv2.error:  # nothing of one is in the other
            return guess, -1.0
        whole = np.eye(3)
        whole[: len(found)] = found
        right = box.place @ there @ whole @ np.linalg.inv(self._to_first)
        return nearest_motion(self._kind, right / right[2, 2], self._spread), float(correlation)

    def corners_alike(
        self, now: Codes, box: PixelBox, matrix: Matrix, corners: Points
    ) -> NDArray[np.bool_]:
        """About which corners, as places of the first frame, another frame looks as this one.

        Args:
            now: a box of another frame, levelled.
            box: which one.
            matrix: from the first frame to that one.
            corners: shape `(n, 2)`.
        """
        image = self._warp_codes(
            self._blur_for_reduction(now), np.linalg.inv(box.place) @ matrix @ self._to_first
        )
        alike = local_correlation(self._picture, image)
        back = np.asarray(np.linalg.inv(self._to_first), np.float64)
        x, y = np.round(map_places(back, corners)).astype(int).T
        width, height = self._size
        inside = (x >= 0) & (y >= 0) & (x < width) & (y < height)
        seen = alike[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)]
        return np.asarray(inside & (seen > LOOKS_ALIKE))

    def _blur_for_reduction(self, codes: Codes) -> Codes:
        """Blur codes as far as they are going to be reduced."""
        if self._scale == 1:
            return codes
        return np.asarray(cv2.GaussianBlur(codes, (0, 0), 0.5 / self._scale), np.uint8)

    def _warp_codes(self, codes: Codes, matrix: Matrix) -> Codes:
        how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        drawn = cv2.warpPerspective(
            codes, matrix, self._size, flags=how, borderMode=cv2.BORDER_REPLICATE
        )
        return np.asarray(drawn, np.uint8)


def local_correlation(one: Codes, other: Codes) -> NDArray[np.float32]:
    """Return the correlation of two pictures about each pixel, −1..1; 0 where one of them is even.

    Args:
        one: grey, 8 bits.
        other: of the same size.
    """
    a, b = one.astype(np.float32), other.astype(np.float32)

    def mean(values: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(cv2.blur(values, (ABOUT, ABOUT)), np.float32)

    mean_a, mean_b = mean(a), mean(b)
    both = mean(a * b) - mean_a * mean_b
    spread = np.sqrt(
        np.maximum(mean(a * a) - mean_a**2, 0) * np.maximum(mean(b * b) - mean_b**2, 0)
    )
    return np.asarray(both / np.maximum(spread, 1.0), np.float32)


def normalize_contrast(codes: Codes) -> Codes:
    """Codes less their local mean, over their local deviation, about 128."""
    height, width = codes.shape
    small = max(1, -(-width // REDUCED)), max(1, -(-height // REDUCED))

    def local_mean(values: NDArray[np.float32]) -> NDArray[np.float32]:
        reduced = cv2.resize(values, small, interpolation=cv2.INTER_AREA)
        cv2.GaussianBlur(reduced, (0, 0), LEVEL_SIGMA / REDUCED, dst=reduced)
        return np.asarray(cv2.resize(reduced, (width, height)), np.float32)

    grey = codes.astype(np.float32)
    grey -= local_mean(grey)
    deviation = np.sqrt(local_mean(grey * grey) + EVEN**2)
    grey *= SPREAD / deviation
    grey += 128.5
    return np.clip(grey, 0, 255, out=grey).astype(np.uint8)


def fill_outline(outline: Points, box: PixelBox) -> Mask:
    """Return which pixels of a box lie within an outline: 255, or 0.

    Args:
        outline: a polygon, in pixels of the box.
        box: in which it is drawn.
    """
    mask = np.zeros((box.height, box.width), np.uint8)
    places = np.round((outline - box.corner) * 16).astype(np.int32)
    cv2.fillPoly(mask, [places], 255, shift=4)
    return mask
