"""Pictures between two frames, drawn along their motion."""

from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array, new_like
from yearning.core.motion.flow import (
    Codes,
    Flow,
    Mask,
    flow_between,
    flow_consistency,
    flow_targets,
)
from yearning.core.picture import Picture, Plane


class BidirectionalFlow(NamedTuple):
    """Optical flow both ways between two frames at reduced size, and where each is trusted."""

    forth: Flow
    back: Flow
    known_before: Plane
    known_after: Plane
    """0..1: how far a pixel of the frame before is found in the one after, and the other way."""
    before: Plane
    after: Plane
    """The luma of both frames, 0..1."""


MIN_KNOWN = 0.25
"""Of the picture: where the flow finds less, it has failed, and the frames are dissolved."""

MAX_APART = 24
"""Codes of 255 by which two places may differ and still be held for the same, noise averaged."""

PLANES = 7
"""Of what a picture is drawn by."""

UNKNOWN = np.float32(0.02)
"""The weight of a pixel that is not found in the other frame, where one that is has 1."""

HOLE = 5
"""Pixels to either side from which flow is taken where none lands."""

ABOUT = 5
"""Pixels about, across and down, over which frames are compared."""

CAREFUL = np.float32(4)
"""How much liker frames must be along their motion than in place, to be drawn by it."""

TINY, FAINT = np.float32(1e-4), np.float32(1e-4)
"""Weights, and squares of differences, that are nothing."""

SOFT = 2.0
"""σ in pixels over which trust fades, so that no edge of it is seen."""


def estimate_motion(before: Codes, after: Codes) -> BidirectionalFlow | None:
    """Estimate flow both ways between two frames, and where each is consistent.

    None where the flow fails: too little of the one frame is found in the other.

    Args:
        before: grey, 8 bits.
        after: of the same size.
    """
    with ThreadPoolExecutor(1) as other:
        later = other.submit(flow_between, after, before, "fast")
        forth = flow_between(before, after, "fast")
    back = later.result()
    known = (
        flow_consistency(forth, back) & _similarity_mask(before, after, forth),
        flow_consistency(back, forth) & _similarity_mask(after, before, back),
    )
    if min(float(k.mean()) for k in known) < MIN_KNOWN:
        return None
    first, second = (
        np.asarray(cv2.GaussianBlur(k.astype(np.float32), (0, 0), SOFT), np.float32) for k in known
    )
    lumas = (codes.astype(np.float32) / np.float32(255) for codes in (before, after))
    return BidirectionalFlow(forth, back, first, second, *lumas)


def _similarity_mask(first: Codes, second: Codes, flow: Flow) -> Mask:
    """Compare the first picture with the second warped along the flow."""
    found = cv2.remap(
        second, flow_targets(flow), None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )  # type: ignore[call-overload]
    apart = cv2.blur(cv2.absdiff(first, found), (3, 3))
    return np.asarray(apart <= MAX_APART, np.bool_)


def interpolate_frame(
    before: Picture, after: Picture, between: BidirectionalFlow, part: float
) -> Picture:
    """Make the picture `part` of the way (0..1) from one frame to the next, along their motion.

    The flow of each frame is splatted to where its pixels are at that time, those that are found in
    the other frame before others (Niklaus, Liu, Softmax Splatting for Video Frame Interpolation,
    CVPR 2020, with forward-backward consistency as the importance). A pixel on which pixels of one
    frame land and none of the other is hidden in that other frame, and drawn from the one. Where
    flow is not to be trusted, it is held against staying in place: whichever has both frames more
    alike counts more, so that reeds move and a lamp that flickers is dissolved.

    Args:
        before: the frame before, shape `(3, height, width)`.
        after: the frame after, of the same shape.
        between: of the two, from `estimate_motion`, at any size of the same shape.
        part: where between them.
    """
    height, width = before.shape[1:]
    rows, columns = between.forth.shape[:2]
    t = np.float32(part)
    guide = _guide(between, t)
    guide[0:4:2] *= np.float32(width / columns)
    guide[1:4:2] *= np.float32(height / rows)
    wide = np.stack([cv2.resize(p, (width, rows)) for p in guide], dtype=np.float32)
    out = new_like(before)

    def work(top: int, bottom: int) -> None:
        led = new_array((PLANES, bottom - top, width))
        _enlarge_down(wide, top, height, led)
        first, second = (
            _warp_rows(picture, led[n], led[n + 1]) for picture, n in ((before, 0), (after, 2))
        )
        band = np.s_[:, top:bottom]
        seen_first, seen_second, trust = led[4:]
        _blend(
            first, second, before[band], after[band], seen_first, seen_second, trust, t, out[band]
        )

    parallel.for_each_band(height, work, parallel.band_rows(width))
    return out


def _guide(between: BidirectionalFlow, t: np.float32) -> Picture:
    """What a picture is drawn by, at the flow's size, shape `(PLANES, rows, columns)`.

    The flow to the frame before and to the one after, x and y; how far each is seen, 0..1; and how
    far what is drawn is to be trusted.
    """
    rest = np.float32(1) - t
    with ThreadPoolExecutor(1) as beside:
        later = beside.submit(_splat_flow, between.back, between.known_after, rest)
        first = _splat_flow(between.forth, between.known_before, t)
    guide = np.empty((PLANES, *between.before.shape), np.float32)
    found = np.empty(between.before.shape, np.float32)
    _weigh(first, later.result(), t, guide, found)
    along = _mismatch(between, guide[0:2], guide[2:4])
    in_place = _unlike(between.before, between.after)
    _trust(along, in_place, found, guide[6])
    for plane in guide[4:]:
        cv2.GaussianBlur(plane, (0, 0), 1.0, dst=plane)
    return guide


def _splat_flow(flow: Flow, known: Plane, part: np.float32) -> NDArray[np.float32]:
    """A frame's flow where its pixels are `part` of the way along it, with a border of a pixel.

    Shape `(rows + 2, columns + 2, 5)`: sums of flow by weight, x and y, and of weight; of how many
    land there, and of how many that are known. Where none does, flow is that of those about.
    """
    sums = np.zeros((known.shape[0] + 2, known.shape[1] + 2, 5), np.float32)
    _splat(flow, known, part, sums)
    _fill(sums)
    return sums


@numba.njit(nogil=True, cache=True, fastmath=True)
def _fill(sums: NDArray[np.float32]) -> None:
    """Give pixels on which none lands the mean flow of those about, with next to no weight."""
    height, width = sums.shape[:2]
    few = UNKNOWN / np.float32(4)
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if sums[y, x, 2] >= few:
                continue
            u = v = weight = np.float32(0)
            for row in range(max(y - HOLE, 1), min(y + HOLE + 1, height - 1)):
                for column in range(max(x - HOLE, 1), min(x + HOLE + 1, width - 1)):
                    near = sums[row, column]
                    if near[2] >= few:
                        u, v, weight = u + near[0], v + near[1], weight + near[2]
            share = few / np.float32(2) / max(weight, TINY)
            sums[y, x, 0], sums[y, x, 1], sums[y, x, 2] = share * u, share * v, few / np.float32(2)


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _weigh(
    first: NDArray[np.float32],
    second: NDArray[np.float32],
    t: np.float32,
    guide: Picture,
    found: Plane,
) -> None:
    """From both frames' splatted flow the guide, and how far either's was found in the other.

    The last plane is how far a place is hidden in one of them.
    """
    one = np.float32(1)
    for y in range(found.shape[0]):
        for x in range(found.shape[1]):
            a, b = first[y + 1, x + 1], second[y + 1, x + 1]
            landed, other_landed = min(a[3], one), min(b[3], one)
            known, other_known = min(a[4], one), min(b[4], one)
            share, other_share = known + UNKNOWN * landed, other_known + UNKNOWN * other_landed
            whole = one / max(share + other_share, TINY)
            share *= whole / max(a[2], TINY)
            other_share *= whole / max(b[2], TINY)
            u, v = share * a[0] - other_share * b[0], share * a[1] - other_share * b[1]
            guide[0, y, x], guide[1, y, x] = -t * u, -t * v
            guide[2, y, x], guide[3, y, x] = (one - t) * u, (one - t) * v
            sure = max(known, other_known)
            part = landed / max(landed + other_landed, TINY)
            guide[4, y, x] = sure + (one - sure) * part
            guide[5, y, x] = sure + (one - sure) * (one - part)
            guide[6, y, x] = abs(part + part - one)
            found[y, x] = sure


@numba.njit(nogil=True, cache=True, fastmath=True)
def _trust(along: Plane, in_place: Plane, found: Plane, trust: Plane) -> None:
    """How far to trust what is drawn, of how far a place is hidden in one of the frames."""
    one = np.float32(1)
    for y in range(trust.shape[0]):
        for x in range(trust.shape[1]):
            moved, still = along[y, x] * along[y, x], in_place[y, x] * in_place[y, x]
            moves = still / (still + CAREFUL * moved + FAINT)
            trust[y, x] = found[y, x] + (one - found[y, x]) * max(trust[y, x], moves)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _splat(flow: Flow, known: Plane, part: np.float32, sums: NDArray[np.float32]) -> None:
    """Add each pixel's flow, weight, one, and whether it is known to the four that it lands on.

    `sums` has a border of a pixel: shape `(height + 2, width + 2, 5)`.
    """
    height, width = known.shape
    one = np.float32(1)
    for y in range(height):
        for x in range(width):
            u, v = flow[y, x, 0], flow[y, x, 1]
            at_x, at_y = np.float32(x + 1) + part * u, np.float32(y + 1) + part * v
            left, top = np.int64(at_x), np.int64(at_y)
            if at_x < 0 or at_y < 0 or left > width or top > height:
                continue
            to_x, to_y = at_x - np.float32(left), at_y - np.float32(top)
            found = known[y, x]
            for row, down in ((top, one - to_y), (top + 1, to_y)):
                for column, right in ((left, one - to_x), (left + 1, to_x)):
                    share = down * right
                    weight = share * (found + UNKNOWN)
                    at = sums[row, column]
                    at[0] += weight * u
                    at[1] += weight * v
                    at[2] += weight
                    at[3] += share
                    at[4] += share * found


def _mismatch(
    between: BidirectionalFlow, to_before: NDArray[np.float32], to_after: NDArray[np.float32]
) -> Plane:
    """How unlike both frames are where flows lead to, of white, about each pixel."""
    before, after = (
        cv2.remap(  # type: ignore[call-overload]
            luma, flow_targets(flow), None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        for luma, flow in (
            (between.before, np.dstack([*to_before])),
            (between.after, np.dstack([*to_after])),
        )
    )
    return _unlike(before, after)


def _unlike(before: Plane, after: Plane) -> Plane:
    """How unlike two planes are about each pixel."""
    return np.asarray(cv2.blur(cv2.absdiff(before, after), (ABOUT, ABOUT)), np.float32)


def _warp_rows(picture: Picture, x: Plane, y: Plane) -> Picture:
    """Warp rows of a picture bilinearly, with mirrored edges."""
    out = new_array((3, *x.shape))
    for plane, drawn in zip(picture, out, strict=True):
        cv2.remap(plane, x, y, cv2.INTER_LINEAR, dst=drawn, borderMode=cv2.BORDER_REFLECT)
    return out


@numba.njit(nogil=True, cache=True, fastmath=True)
def _enlarge_down(wide: NDArray[np.float32], top: int, height: int, out: Picture) -> None:
    """Enlarge the flow field to rows from `top` on, as coordinates in the picture."""
    count = wide.shape[1]
    for i in range(out.shape[1]):
        at = min(max((top + i + 0.5) * count / height - 0.5, 0.0), count - 1.0)
        above = int(at)
        below = min(above + 1, count - 1)
        part = np.float32(at - above)
        for p in range(PLANES):
            own = np.float32(top + i if p == 1 or p == 3 else 0)
            step = np.float32(1 if p == 0 or p == 2 else 0)
            for x in range(out.shape[2]):
                led = wide[p, above, x] + part * (wide[p, below, x] - wide[p, above, x])
                out[p, i, x] = led + own + step * np.float32(x)


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _blend(
    first: Picture,
    second: Picture,
    before: Picture,
    after: Picture,
    seen_first: Plane,
    seen_second: Plane,
    trust: Plane,
    t: np.float32,
    out: Picture,
) -> None:
    """Blend both warped frames by nearness and where each is seen; dissolve without trust."""
    one, least = np.float32(1), np.float32(1e-3)
    for c in range(3):
        for y in range(out.shape[1]):
            for x in range(out.shape[2]):
                w0 = (one - t) * max(seen_first[y, x], least)
                w1 = t * max(seen_second[y, x], least)
                drawn = (w0 * first[c, y, x] + w1 * second[c, y, x]) / (w0 + w1)
                plain = (one - t) * before[c, y, x] + t * after[c, y, x]
                out[c, y, x] = plain + trust[y, x] * (drawn - plain)
