"""What drives a treatment, smoothed over neighbouring frames along the motion between them."""

from collections.abc import Callable

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.measure.deflicker import is_cut
from yearning.core.memory import new_like
from yearning.core.motion import codes_of, flow_between, places, trusted
from yearning.core.picture import Plane

Array = NDArray[np.float32]

LINES = 100
"""At most, of the pictures motion is found on: what drives a treatment is blurred far wider."""

SOFT = 1.0
"""σ in pixels of those over which trust fades."""


def link_shape(height: int, width: int) -> tuple[int, int, int, int]:
    """The shape of what `link` finds between lumas of that shape."""
    lines = min(LINES, height)
    return 2, lines, max(1, round(width * lines / height)), 3


def link(first: Plane, second: Plane) -> Array:
    """Motion between two frames' lumas, shape `(2, lines, columns, 3)`: from the first, and back.

    Each way has, at reduced size, the flow across and down in pixels of that size, and how far it
    is to be trusted, 0..1. Over a cut there is none: it has no lines.
    """
    _, lines, columns, _ = shape = link_shape(*first.shape)
    small = (columns, lines)
    seen = [_resized(luma, small) for luma in (first, second)]
    if is_cut(*seen):
        return np.zeros((2, 0, 0, 3), np.float32)
    codes = [codes_of(luma) for luma in seen]
    out = np.empty(shape, np.float32)
    flows = [np.empty(0, np.float32)] * 2

    def find(n: int) -> None:
        flows[n] = flow_between(codes[n], codes[1 - n], "fast")

    def trust(n: int) -> None:
        out[n, ..., :2] = flows[n]
        known = trusted(flows[n], flows[1 - n]).astype(np.float32)
        out[n, ..., 2] = cv2.GaussianBlur(known, (0, 0), SOFT)

    bands.each(find, 2)
    bands.each(trust, 2)
    return out


def _resized(luma: Plane, to: tuple[int, int]) -> Plane:
    return np.asarray(cv2.resize(luma, to, interpolation=cv2.INTER_AREA), np.float32)


def binomial(n: int) -> Array:
    """The n + 1 weights of row n of Pascal's triangle, made to sum to 1."""
    row = np.array([1.0])
    for _ in range(n):
        row = np.convolve(row, [0.5, 0.5])
    return row.astype(np.float32)


def settled(
    driven: Callable[[int], Array], linked: Callable[[int, int], Array | None], frames: int
) -> Array:
    """Values smoothed over `frames` frames before and after, each brought to where this one is.

    The frames are weighed binomially (1 2 1 for one frame on each side), and those before or after
    by how far each place of this frame is found in them, from frame to frame. What is beyond a cut,
    or the clip's ends, has no weight. Equal frames give exactly their values.

    Args:
        driven: the values so many frames from this one, shape `(planes, height, width)`.
        linked: flow and trust from one such frame to the next to it, as `link` has them; None
            where there is nothing to go to.
        frames: how many on each side.
    """
    own = driven(0)
    if frames == 0:
        return own
    weights = binomial(2 * frames)[frames:]
    height, width = own.shape[1:]
    others: list[tuple[np.float32, Array, Array]] = []
    for way in (-1, 1):
        going: Array | None = None
        for k in range(1, frames + 1):
            found = linked(way * (k - 1), way * k)
            if found is None:
                break
            going = found if going is None else _onward(going, found)
            others.append((weights[k], driven(way * k), going))
    places_of: list[tuple[Plane, Plane, Plane]] = [(own[0], own[0], own[0])] * len(others)

    def place(n: int) -> None:
        places_of[n] = _places(others[n][2], height, width)

    bands.each(place, len(others))
    there, more = new_like(own), np.zeros_like(own)
    weight = np.full((height, width), weights[0], np.float32)

    def add(top: int, bottom: int) -> None:
        rows = np.s_[top:bottom]
        for (share, values, _), (right, down, trust) in zip(others, places_of, strict=True):
            for plane, drawn in zip(values, there, strict=True):
                cv2.remap(
                    plane,
                    right[rows],
                    down[rows],
                    cv2.INTER_LINEAR,
                    dst=drawn[rows],
                    borderMode=cv2.BORDER_REPLICATE,
                )
            _add(there[:, rows], own[:, rows], trust[rows], share, more[:, rows], weight[rows])
        more[:, rows] /= weight[rows]
        more[:, rows] += own[:, rows]

    bands.each_band(height, add, -(-height // bands.CORES))
    return more


def _onward(going: Array, then: Array) -> Array:
    """The flow and trust that come of going by the one, and from there by the other."""
    flow = np.ascontiguousarray(going[..., :2])
    further = cv2.remap(  # type: ignore[call-overload]
        then, places(flow), None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    further[..., :2] += flow
    further[..., 2] *= going[..., 2]
    return np.asarray(further, np.float32)


def _places(going: Array, height: int, width: int) -> tuple[Plane, Plane, Plane]:
    """Where each of the driving values is to be taken from, across and down, and the trust."""
    lines, columns = going.shape[:2]
    right, down, trust = (
        np.asarray(cv2.resize(plane, (width, height)), np.float32) for plane in cv2.split(going)
    )
    right *= np.float32(width / columns)
    right += np.arange(width, dtype=np.float32)
    down *= np.float32(height / lines)
    down += np.arange(height, dtype=np.float32)[:, None]
    return right, down, trust


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add(
    there: Array, own: Array, trust: Plane, share: np.float32, more: Array, weight: Plane
) -> None:
    """Add how values brought there differ from the own, so weighed, and the weight."""
    planes, height, width = own.shape
    for y in range(height):
        for x in range(width):
            weight[y, x] += share * trust[y, x]
        for p in range(planes):
            for x in range(width):
                more[p, y, x] += share * trust[y, x] * (there[p, y, x] - own[p, y, x])
