"""Tracking: where a part of a frame is in the frames after it, one by one.

Corners of the part are followed there and back (forward-backward error: Kalal, Mikolajczyk, Matas,
Forward-Backward Error: Automatic Detection of Tracking Failures, ICPR 2010), a motion is fitted to
those that agree (RANSAC), and what has been found is set right against the first frame itself
(ECC: Evangelidis, Psarakis, Parametric Image Alignment Using Enhanced Correlation Coefficient
Maximization, PAMI 2008), so that it does not drift. Frames are levelled first: what light that
changes leaves alone is what is compared.
"""

from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.flow import Codes
from yearning.core.motion.motion_fit import AGREE, fit_motion
from yearning.core.motion.track_template import (
    CENTRE,
    LEVEL_SIGMA,
    PixelBox,
    Template,
    fill_outline,
    normalize_contrast,
)
from yearning.core.motion.tracks import LOST, Kind, Matrix, Points, map_places

GreyBox = Callable[[int, PixelBox], Codes]
"""Gives the 8-bit luma of a part of a frame, by the frame's number."""

CORNERS, CORNER_QUALITY = 200, 0.03
"""How many are followed at the most, and how good the worst is beside the best."""

WINDOW, LEVELS = (21, 21), 4
"""Of what is compared about a corner, in pixels, and how often it is halved."""

REACH = 96
"""Pixels about the part that are looked at: as far as corners are found from where they were."""

FAR_PART, FAR_SURE = 0.3, 0.6
"""How far about the part it is looked for as a whole, of the frame's height, where a share of
corners below that is found near by."""

COARSE = 40
"""Pixels of the longer side of the part as it is looked for as a whole."""

ALIKE = 0.6
"""The correlation with a frame from which that sets a place right."""

GUESSED, KNOWN = 0.2, 0.5
"""The shares of corners that must look as they did in a frame for that to set a place right: where
they are thought to be, and where they are put."""

SMALLEST, SMALLEST_PART = 16, 6
"""Pixels of what is looked through, and of the part itself, below which nothing can be followed."""

CHANGED = 0.7
"""The share of corners that agree, or look as they did, below which the part is looked at anew."""


class Followed(NamedTuple):
    """Where a part is in a frame: its matrix from the first one, and how sure that is, 0..1."""

    frame: int
    matrix: Matrix
    sure: float


def follow(
    grey: GreyBox, size: tuple[int, int], frames: Iterable[int], outline: Points, kind: Kind
) -> Iterator[Followed]:
    """Where a part of the first of some frames is in those after it, until it is lost.

    Args:
        grey: gives the frames.
        size: of the frames, width and height.
        frames: their numbers, in the order in which the part is followed: each is near the one
            before.
        outline: the part's edge in the first frame, in pixels, shape `(n, 2)`.
        kind: what the part may do.

    Yields:
        The first frame itself, and each after it; none where there are no corners to follow.
    """
    numbers = iter(frames)
    part = _Region(grey, size, next(numbers), outline, kind)
    if part.is_empty:
        return
    yield Followed(part.frame, part.matrix, 1.0)
    for frame in numbers:
        sure = part.move_to(frame)
        if sure is None:
            return
        yield Followed(frame, part.matrix, sure)


class _Region:
    """A part of a first frame, and where it is in the frame that it was followed to.

    Matrices are OpenCV's inside: they count from the centre of the first pixel.
    """

    def __init__(
        self, grey: GreyBox, size: tuple[int, int], frame: int, outline: Points, kind: Kind
    ) -> None:
        self._grey, self._size, self._kind, self.frame = grey, size, kind, frame
        self._outline = np.asarray(outline, np.float64) - 0.5
        self._moved = np.eye(3)
        box = self._box_about(3 * LEVEL_SIGMA)
        extent = float(np.ptp(self._outline, axis=0).min())
        self.is_empty = min(box.width, box.height) < SMALLEST or extent < SMALLEST_PART
        if self.is_empty:
            return
        first = normalize_contrast(grey(frame, box))
        self._corners = self._corners_of(first, box)
        self._templates = [Template(first, box, self._outline, self._moved, kind)]
        self.is_empty = len(self._corners) < 2

    @property
    def matrix(self) -> Matrix:
        """From the first frame to this one, for places whose first pixel's centre is at ½."""
        matrix = CENTRE @ self._moved @ np.linalg.inv(CENTRE)
        return np.asarray(matrix / matrix[2, 2])

    def move_to(self, frame: int) -> float | None:
        """Follow it to another frame; returns how sure that is, or None where it is lost."""
        near = self._seek_corners(frame, REACH)
        if near is None:
            return None
        if near.sure < FAR_SURE:
            far = self._seek_corners(frame, FAR_PART * self._size[1], coarse=True)
            near = far if far is not None and far.sure > near.sure else near
        if near.sure < LOST:
            return None
        guess = near.box.place @ near.matrix @ np.linalg.inv(near.box.place) @ self._moved
        moved = self._set_right(near, guess)
        alike = [
            each.corners_alike(near.now, near.box, moved, self._corners) for each in self._templates
        ]
        shares = [float(each.mean()) for each in alike]
        sure = min(near.sure, max(shares))
        if sure < LOST:
            return None
        self._moved, self.frame = moved / moved[2, 2], frame
        self._look_anew(near, shares)
        return sure

    def _set_right(self, near: "_Sought", guess: Matrix) -> Matrix:
        """Set a matrix right against the first frame, or else against a later one."""
        for template in self._templates:
            as_guessed = template.corners_alike(near.now, near.box, guess, self._corners).mean()
            if as_guessed < GUESSED:
                continue
            right, correlation = template.align(near.now, near.box, guess)
            as_right = template.corners_alike(near.now, near.box, right, self._corners).mean()
            if correlation > ALIKE and as_right >= max(as_guessed, KNOWN):
                return right
        return guess

    def _look_anew(self, near: "_Sought", alike: list[float]) -> None:
        """Where the part has changed, keep how it looks here, and look for corners in it."""
        if alike[0] >= CHANGED:
            self._templates = self._templates[:1]
        elif max(alike) < CHANGED:
            here = Template(near.now, near.box, self._outline, self._moved, self._kind)
            self._templates = [self._templates[0], here]
        if near.sure >= CHANGED:
            return
        corners = self._corners_of(near.now, near.box)
        known = [
            each.corners_alike(near.now, near.box, self._moved, corners) for each in self._templates
        ]
        corners = corners[np.any(known, axis=0)]
        if len(corners) > len(self._corners) // 2:
            self._corners = corners

    def _seek_corners(self, frame: int, reach: float, *, coarse: bool = False) -> "_Sought | None":
        """Look for the part's corners in a frame, so far about it; None where it is not in it.

        With `coarse`, from where the part as a whole is most like what it was.
        """
        box = self._box_about(reach)
        if min(box.width, box.height) < SMALLEST:
            return None
        was_grey, now_grey = self._grey(self.frame, box), self._grey(frame, box)
        shift = np.zeros(2)
        if coarse:
            edge = map_places(self._moved, self._outline) - box.corner
            shift = _coarse_shift(was_grey, now_grey, edge)
        now = normalize_contrast(now_grey)
        was = map_places(self._moved, self._corners) - box.corner
        matrix, sure = self._fit_motion(normalize_contrast(was_grey), now, was, shift)
        return _Sought(box, now, matrix, sure)

    def _fit_motion(
        self, before: Codes, now: Codes, was: Points, shift: Points
    ) -> tuple[Matrix, float]:
        """Fit the motion of corners to the next frame; the share of them that agree with it."""
        height, width = now.shape
        inside = np.all((was > 3) & (was < (width - 4, height - 4)), axis=1)
        if inside.sum() < 2:
            return np.eye(3), 0.0
        start = was[inside].astype(np.float32)[:, None]
        there, ok = _flow_of(before, now, start, start + shift.astype(np.float32))
        back, ok_back = _flow_of(now, before, there, there - shift.astype(np.float32))
        good = ok & ok_back
        good &= np.hypot(*(start - back)[:, 0].T) < AGREE
        places = start[good, 0].astype(np.float64), there[good, 0].astype(np.float64)
        found = fit_motion(self._kind, *places)
        too_few = found is None or found.agree.sum() < LOST * len(was)
        if too_few and self._kind == "corners":
            found = fit_motion("turn", *places)  # fewer of them are enough for less
        if found is None:
            return np.eye(3), 0.0
        return found.matrix, float(found.agree.sum()) / len(was)

    def _corners_of(self, levelled: Codes, box: PixelBox) -> Points:
        """Corners of the part in a box of the frame that it is in, as places of the first frame."""
        mask = fill_outline(map_places(self._moved, self._outline), box)
        apart = max(3, max(cv2.boundingRect(mask)[2:]) / 40)
        found = cv2.goodFeaturesToTrack(
            levelled, CORNERS, CORNER_QUALITY, apart, mask=mask, blockSize=5
        )
        if found is None:
            return np.zeros((0, 2))
        back = np.asarray(np.linalg.inv(self._moved), np.float64)
        return map_places(back, found[:, 0].astype(np.float64) + box.corner)

    def _box_about(self, reach: float) -> PixelBox:
        """The part's box where it is, with so many pixels about it, within the frame."""
        edge = map_places(self._moved, self._outline)
        (left, top), (right, bottom) = edge.min(0) - reach, edge.max(0) + reach
        left, right = np.clip([left, right + 1], 0, self._size[0]).astype(int).tolist()
        top, bottom = np.clip([top, bottom + 1], 0, self._size[1]).astype(int).tolist()
        return PixelBox(left, top, right - left, bottom - top)


class _Sought(NamedTuple):
    """Where a part was found.

    That is the box that was looked through, what is there, the motion within it and the share of
    corners that agree.
    """

    box: PixelBox
    now: Codes
    matrix: Matrix
    sure: float


def _flow_of(
    before: Codes, now: Codes, places: NDArray[np.float32], guess: NDArray[np.float32]
) -> tuple[NDArray[np.float32], NDArray[np.bool_]]:
    """Where places of a frame are in another, shape `(n, 1, 2)`, and which of them were found."""
    until = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 30, 0.01)
    there, found, _ = cv2.calcOpticalFlowPyrLK(
        before,
        now,
        places,
        guess.copy(),
        winSize=WINDOW,
        maxLevel=LEVELS,
        criteria=until,
        flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )
    return np.asarray(there, np.float32), np.asarray(found)[:, 0] == 1


def _coarse_shift(before: Codes, now: Codes, edge: Points) -> Points:
    """Return how far what lies within an edge has moved, to a few pixels, by correlation."""
    height, width = before.shape
    left, top = np.clip(edge.min(0), 0, (width - 1, height - 1)).astype(int).tolist()
    right, bottom = np.clip(edge.max(0) + 1, (left + 1, top + 1), (width, height)).astype(int)
    by = min(1.0, COARSE / max(right - left, bottom - top))

    def reduce_codes(codes: Codes) -> Codes:
        size = max(1, round(codes.shape[1] * by)), max(1, round(codes.shape[0] * by))
        return np.asarray(cv2.resize(codes, size, interpolation=cv2.INTER_AREA), np.uint8)

    part, whole = reduce_codes(before[top:bottom, left:right]), reduce_codes(now)
    if part.shape[0] > whole.shape[0] or part.shape[1] > whole.shape[1]:
        return np.zeros(2)
    alike = cv2.matchTemplate(whole, part, cv2.TM_CCOEFF_NORMED)
    _, _, _, place = cv2.minMaxLoc(alike)
    return np.asarray(np.array(place) / by - np.array([left, top]))
