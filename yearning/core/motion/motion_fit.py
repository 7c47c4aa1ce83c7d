"""Fits of a motion to places before and after it, some of which may not belong to it."""

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.tracks import Kind, Matrix, Points, map_places

AGREE = 1.0
"""Pixels within which a corner agrees with a motion."""

TRIES = 64
"""Shifts that are tried: each is that of one corner."""

FEWEST: dict[Kind, int] = {"shift": 2, "turn": 3, "corners": 5}
"""Corners that a fit needs: one more than would be met by any motion."""


class MotionFit(NamedTuple):
    """A motion, and which places agree with it."""

    matrix: Matrix
    agree: NDArray[np.bool_]


def fit_motion(kind: Kind, was: Points, now: Points) -> MotionFit | None:
    """The motion that agrees with places better than any other that was tried; None of too few.

    Source: Fischler, Bolles, Random Sample Consensus, CACM 24(6), 1981; the same each time.

    Args:
        kind: what the motion may be.
        was: places before it, shape `(n, 2)`.
        now: the same after it.
    """
    if len(was) < FEWEST[kind]:
        return None
    if kind == "shift":
        return _fit_shift(was, now)
    before, after = was.astype(np.float32), now.astype(np.float32)
    if kind == "turn":
        part, inliers = cv2.estimateAffinePartial2D(
            before, after, method=cv2.RANSAC, ransacReprojThreshold=AGREE, maxIters=500,
            confidence=0.999, refineIters=10,
        )  # fmt: skip
        matrix = None if part is None else np.vstack([part, [0.0, 0.0, 1.0]])
    else:
        matrix, inliers = cv2.findHomography(
            before, after, cv2.RANSAC, AGREE, maxIters=1000, confidence=0.999
        )
    if matrix is None or abs(np.linalg.det(matrix)) < 1e-6:
        return None
    return MotionFit(np.asarray(matrix, np.float64), inliers[:, 0].astype(bool))


def _fit_shift(was: Points, now: Points) -> MotionFit:
    shifts = now - was
    tried = shifts[np.random.default_rng(1).permutation(len(shifts))[:TRIES]]
    apart = np.hypot(*np.moveaxis(shifts[None] - tried[:, None], 2, 0))
    best = apart[np.argmax((apart < AGREE).sum(1))] < AGREE
    matrix = np.eye(3)
    matrix[:2, 2] = shifts[best].mean(0)
    return MotionFit(matrix, np.hypot(*(shifts - matrix[:2, 2]).T) < AGREE)


def nearest_motion(kind: Kind, matrix: Matrix, places: Points) -> Matrix:
    """The motion of a kind that is nearest to a matrix, by least squares over places.

    Args:
        kind: what the motion may be.
        matrix: any.
        places: shape `(n, 2)`, spread over the part that moves.
    """
    if kind == "corners":
        return matrix
    moved = map_places(matrix, places)
    middle, moved_middle = places.mean(0), moved.mean(0)
    near = np.eye(3)
    if kind == "turn":
        was, now = ((p - m) @ [1, 1j] for p, m in ((places, middle), (moved, moved_middle)))
        turn = (was.conj() @ now) / (was.conj() @ was).real
        near[:2, :2] = [[turn.real, -turn.imag], [turn.imag, turn.real]]
    near[:2, 2] = moved_middle - near[:2, :2] @ middle
    return near
