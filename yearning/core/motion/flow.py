"""Motion between two pictures: dense flow, warping, and where the flow can be trusted."""

from typing import Literal

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_like
from yearning.core.colour.luma import luma_plane
from yearning.core.picture import Picture, Plane

Flow = NDArray[np.float32]
"""Shape `(height, width, 2)`: where in the other picture each pixel is, in pixels from its own
place, x first."""

Codes = NDArray[np.uint8]
Mask = NDArray[np.bool_]

MIN_LINES = 24
"""Of a picture in which motion can be estimated; smaller ones are held to stand still."""


def luma_codes(picture: Picture) -> Codes:
    """The picture's luma in 8 bits, shape `(height, width)`: what flow is found on."""
    return to_codes(luma_plane(picture))


def to_codes(luma: Plane) -> Codes:
    """Convert luma 0..1 to 8-bit codes."""
    return np.asarray(np.clip(luma, 0, 1) * np.float32(255) + np.float32(0.5), np.uint8)


PRESETS = {"fast": cv2.DISOPTICAL_FLOW_PRESET_FAST, "fine": cv2.DISOPTICAL_FLOW_PRESET_MEDIUM}


def flow_between(first: Codes, second: Codes, search_for: Literal["fast", "fine"]) -> Flow:
    """Return where each pixel of the first picture is in the second.

    Dense inverse search (Kroeger et al., Fast Optical Flow Using Dense Inverse Search, ECCV 2016),
    as OpenCV has it: `fine` searches with denser patches, at four times the cost of `fast`. The
    same pictures give the same flow, and equal ones none.

    Args:
        first: grey, 8 bits.
        second: of the same size.
        search_for: how densely patches are searched.
    """
    if min(first.shape) < MIN_LINES:
        return np.zeros((*first.shape, 2), np.float32)
    search = cv2.DISOpticalFlow.create(PRESETS[search_for])
    return np.asarray(search.calc(first, second, None), np.float32)  # type: ignore[call-overload]


def flow_targets(flow: Flow) -> Flow:
    """Where in the other picture each pixel is, in pixels from that picture's corner."""
    height, width = flow.shape[:2]
    at = flow.copy()
    at[..., 0] += np.arange(width, dtype=np.float32)
    at[..., 1] += np.arange(height, dtype=np.float32)[:, None]
    return at


def warp(picture: Picture, at: Flow) -> Picture:
    """Warp a picture bilinearly to coordinates of it, with mirrored edges.

    Args:
        picture: shape `(planes, height, width)`.
        at: coordinates in pixels, x then y.
    """
    out = new_like(picture)
    for plane, drawn in zip(picture, out, strict=True):
        cv2.remap(plane, at, None, cv2.INTER_LINEAR, dst=drawn, borderMode=cv2.BORDER_REFLECT)  # type: ignore[call-overload]
    return out


def flow_consistency(flow: Flow, back: Flow) -> Mask:
    """Tell where a flow and the one back agree, and lead to a place within the picture.

    With w̃ the flow back where the flow w leads: not where |w + w̃|² > 0.01 (|w|² + |w̃|²) + 0.5
    (Ruder et al., Artistic Style Transfer for Videos, GCPR 2016, eq. 5; taken over by Lai et al.,
    ECCV 2018, for the warping error).

    Args:
        flow: where each pixel is in the other frame.
        back: the same from there.
    """
    at = flow_targets(flow)
    returned = cv2.remap(back, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    agree = np.empty(flow.shape[:2], np.bool_)
    _agreeing(flow, returned, agree)
    return agree


@numba.njit(nogil=True, cache=True, fastmath=True)
def _agreeing(flow: Flow, returned: Flow, agree: Mask) -> None:
    height, width = agree.shape
    for y in range(height):
        for x in range(width):
            u, v = flow[y, x, 0], flow[y, x, 1]
            p, q = returned[y, x, 0], returned[y, x, 1]
            apart = (u + p) * (u + p) + (v + q) * (v + q)
            far = u * u + v * v + p * p + q * q
            within = x + u >= 0 and x + u <= width - 1 and y + v >= 0 and y + v <= height - 1
            agree[y, x] = within and apart <= np.float32(0.01) * far + np.float32(0.5)
