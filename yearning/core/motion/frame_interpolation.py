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


MIN_KNOWN = 0.25
"""Of the picture: where the flow finds less, it has failed, and the frames are dissolved."""

MAX_APART = 24
"""Codes of 255 by which two places may differ and still be held for the same, noise averaged."""

SOFT = 2.0
"""σ in pixels over which trust fades, so that no edge of it is seen."""


def estimate_motion(before: Codes, after: Codes) -> BidirectionalFlow | None:
    """Estimate flow both ways between two frames, and where each is consistent.

    None where the flow fails: too little of the one frame is found in the other.
    """
    with ThreadPoolExecutor(1) as other:
        later = other.submit(flow_between, after, before, "fast")
        forth = flow_between(before, after, "fast")
    back = later.result()
    known = (
        flow_consistency(forth, back) & _alike(before, after, forth),
        flow_consistency(back, forth) & _alike(after, before, back),
    )
    if min(float(k.mean()) for k in known) < MIN_KNOWN:
        return None
    first, second = (
        np.asarray(cv2.GaussianBlur(k.astype(np.float32), (0, 0), SOFT), np.float32) for k in known
    )
    return BidirectionalFlow(forth, back, first, second)


def _alike(first: Codes, second: Codes, flow: Flow) -> Mask:
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

    With F01 and F10 the flows there and back, the flows from the time t between are taken as
    F_t0 = −(1 − t) t F01 + t² F10 and F_t1 = (1 − t)² F01 − t (1 − t) F10, and both frames are
    drawn along them (Jiang et al., Super SloMo, CVPR 2018, eq. 4). They are weighed by nearness in
    time and by how far what is drawn was found in the other frame. Where neither is to be trusted
    the frames as they are, dissolved, come in.

    Args:
        before: the frame before, shape `(3, height, width)`.
        after: the frame after, of the same shape.
        between: of the two, from `estimate_motion`, at any size of the same shape.
        part: where between them.
    """
    height, width = before.shape[1:]
    rows, columns = between.forth.shape[:2]
    t = np.float32(part)
    to_before = (1 - t) * -t * between.forth + t * t * between.back
    to_after = (1 - t) * (1 - t) * between.forth - t * (1 - t) * between.back
    guide = np.empty((6, rows, columns), np.float32)
    known = (between.known_before, between.known_after)
    for n, (flow, plane) in enumerate(zip((to_before, to_after), known, strict=True)):
        guide[2 * n], guide[2 * n + 1] = flow[..., 0], flow[..., 1]
        cv2.remap(  # type: ignore[call-overload]
            plane,
            flow_targets(flow),
            None,
            cv2.INTER_LINEAR,
            dst=guide[4 + n],
            borderMode=cv2.BORDER_REPLICATE,
        )
    guide[0:4:2] *= np.float32(width / columns)
    guide[1:4:2] *= np.float32(height / rows)
    wide = np.stack([cv2.resize(p, (width, rows)) for p in guide], dtype=np.float32)
    out = new_like(before)

    def work(top: int, bottom: int) -> None:
        led = new_array((6, bottom - top, width))
        _enlarge_down(wide, top, height, led)
        first, second = (
            _drawn(picture, led[n], led[n + 1]) for picture, n in ((before, 0), (after, 2))
        )
        band = np.s_[:, top:bottom]
        _blend(first, second, before[band], after[band], led[4], led[5], t, out[band])

    parallel.for_each_band(height, work, parallel.band_rows(width))
    return out


def _drawn(picture: Picture, x: Plane, y: Plane) -> Picture:
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
        for p in range(6):
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
    known_first: Plane,
    known_second: Plane,
    t: np.float32,
    out: Picture,
) -> None:
    """Blend both warped frames by nearness and trust, and dissolve where neither is trusted."""
    one, least = np.float32(1), np.float32(1e-3)
    for c in range(3):
        for y in range(out.shape[1]):
            for x in range(out.shape[2]):
                w0 = (one - t) * max(known_first[y, x], least)
                w1 = t * max(known_second[y, x], least)
                drawn = (w0 * first[c, y, x] + w1 * second[c, y, x]) / (w0 + w1)
                plain = (one - t) * before[c, y, x] + t * after[c, y, x]
                trust = max(known_first[y, x], known_second[y, x])
                out[c, y, x] = plain + trust * (drawn - plain)
