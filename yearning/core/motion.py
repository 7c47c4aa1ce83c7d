"""Motion between two pictures: dense flow, warping, and where the flow can be trusted."""

from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR
from yearning.core.memory import new_like
from yearning.core.picture import Picture, Plane

Flow = NDArray[np.float32]
"""Shape `(height, width, 2)`: where in the other picture each pixel is, in pixels from its own
place, x first."""

Codes = NDArray[np.uint8]
Mask = NDArray[np.bool_]

LEAST_LINES = 24
"""Of a picture in which motion can be told; smaller ones are held to stand still."""


def seen_codes(picture: Picture) -> Codes:
    """The picture's luma in 8 bits, shape `(height, width)`: what flow is found on."""
    luma = KR * picture[0] + KG * picture[1] + KB * picture[2]
    np.clip(luma, 0, 1, out=luma)
    return np.asarray(luma * np.float32(255) + np.float32(0.5), np.uint8)


def flow_between(first: Codes, second: Codes) -> Flow:
    """Where each pixel of the first picture is in the second.

    Dense inverse search (Kroeger et al., Fast Optical Flow Using Dense Inverse Search, ECCV 2016),
    as OpenCV has it, from its medium preset. The same pictures give the same flow.
    """
    if min(first.shape) < LEAST_LINES:
        return np.zeros((*first.shape, 2), np.float32)
    search = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)
    return np.asarray(search.calc(first, second, None), np.float32)  # type: ignore[call-overload]


def places(flow: Flow) -> Flow:
    """Where in the other picture each pixel is, in pixels from that picture's corner."""
    height, width = flow.shape[:2]
    at = flow.copy()
    at[..., 0] += np.arange(width, dtype=np.float32)
    at[..., 1] += np.arange(height, dtype=np.float32)[:, None]
    return at


def warped(picture: Picture, at: Flow) -> Picture:
    """The picture drawn from those places of it, bilinearly; beyond its edges mirrored."""
    out = new_like(picture)
    for plane, drawn in zip(picture, out, strict=True):
        cv2.remap(plane, at, None, cv2.INTER_LINEAR, dst=drawn, borderMode=cv2.BORDER_REFLECT_101)  # type: ignore[call-overload]
    return out


def trusted(flow: Flow, back: Flow) -> Mask:
    """Where a flow and the one back agree, and lead to a place within the picture.

    With w̃ the flow back where the flow w leads: not where |w + w̃|² > 0.01 (|w|² + |w̃|²) + 0.5
    (Ruder et al., Artistic Style Transfer for Videos, GCPR 2016, eq. 5; taken over by Lai et al.,
    ECCV 2018, for the warping error).
    """
    at = places(flow)
    returned = cv2.remap(back, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    apart = np.square(flow + returned).sum(axis=2)
    far = np.square(flow).sum(axis=2) + np.square(returned).sum(axis=2)
    height, width = flow.shape[:2]
    within = (at[..., 0] >= 0) & (at[..., 0] <= width - 1) & (at[..., 1] >= 0)
    within &= at[..., 1] <= height - 1
    return np.asarray(within & (apart <= 0.01 * far + 0.5), np.bool_)


class Between(NamedTuple):
    """What is between two frames: the flows at reduced size, and where each is to be trusted."""

    forth: Flow
    back: Flow
    known_before: Plane
    known_after: Plane
    """0..1: how far a pixel of the frame before is found in the one after, and the other way."""


LEAST_KNOWN = 0.25
"""Of the picture: where the flow finds less, it has failed, and the frames are dissolved."""

MOST_APART = 24
"""Codes of 255 by which two places may differ and still be held for the same, noise averaged."""

SOFT = 2.0
"""σ in pixels over which trust fades, so that no edge of it is seen."""


def motion_between(before: Codes, after: Codes) -> Between | None:
    """Flow both ways between two frames, and what of each is found in the other.

    None where the flow fails: too little of the one frame is found in the other.
    """
    with ThreadPoolExecutor(1) as other:
        later = other.submit(flow_between, after, before)
        forth = flow_between(before, after)
    back = later.result()
    known = (
        trusted(forth, back) & _alike(before, after, forth),
        trusted(back, forth) & _alike(after, before, back),
    )
    if min(float(k.mean()) for k in known) < LEAST_KNOWN:
        return None
    first, second = (
        np.asarray(cv2.GaussianBlur(k.astype(np.float32), (0, 0), SOFT), np.float32) for k in known
    )
    return Between(forth, back, first, second)


def _alike(first: Codes, second: Codes, flow: Flow) -> Mask:
    """Where the first picture and what the flow finds in the second look alike."""
    found = cv2.remap(second, places(flow), None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    apart = cv2.blur(cv2.absdiff(first, found), (3, 3))
    return np.asarray(apart <= MOST_APART, np.bool_)


def inbetween(before: Picture, after: Picture, between: Between, part: float) -> Picture:
    """The picture `part` of the way (0..1) from one frame to the next, along their motion.

    With F01 and F10 the flows there and back, the flows from the time t between are taken as
    F_t0 = −(1 − t) t F01 + t² F10 and F_t1 = (1 − t)² F01 − t (1 − t) F10, and both frames are
    drawn along them (Jiang et al., Super SloMo, CVPR 2018, eq. 4). They are weighed by nearness in
    time and by how far what is drawn was found in the other frame. Where neither is to be trusted
    the frames as they are, dissolved, come in.

    Args:
        before: the frame before, shape `(3, height, width)`.
        after: the frame after, of the same shape.
        between: of the two, from `motion_between`, at any size of the same shape.
        part: where between them.
    """
    height, width = before.shape[1:]
    t = np.float32(part)
    to_before = (1 - t) * -t * between.forth + t * t * between.back
    to_after = (1 - t) * (1 - t) * between.forth - t * (1 - t) * between.back
    small = places(to_before), places(to_after)
    known = [
        cv2.remap(k, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
        for k, at in zip((between.known_before, between.known_after), small, strict=True)
    ]
    rows, columns = between.forth.shape[:2]
    if (rows, columns) != (height, width):
        scale = np.array([width / columns, height / rows], np.float32)
        flows = [
            cv2.resize(flow, (width, height), interpolation=cv2.INTER_LINEAR) * scale
            for flow in (to_before, to_after)
        ]
        known = [cv2.resize(k, (width, height), interpolation=cv2.INTER_LINEAR) for k in known]
    else:
        flows = [to_before, to_after]
    first, second = (
        warped(picture, places(np.asarray(flow, np.float32)))
        for picture, flow in zip((before, after), flows, strict=True)
    )
    out = new_like(before)
    _blend(first, second, before, after, known[0], known[1], t, out)
    return out


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
    """Both drawn frames by nearness and trust, and the dissolve where there is none."""
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
