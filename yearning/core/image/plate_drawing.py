"""Drawing plates where they lie."""

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Picture, Plane, Size, new_picture

LEAST_ALPHA = np.float32(1 / 1024)
"""Alpha that colour is divided by at the least."""

Layer = tuple[Picture, Plane | None]
"""Straight colour, and how much it covers; all where that is None."""

WITHIN = 1e-3
"""Pixels by which a plate may lie beside the picture's and still counts as on them."""


def drawn_plate(
    picture: Picture, matte: Plane | None, place: NDArray[np.float64], size: Size, border: int
) -> tuple[Picture, Plane | None]:
    """Draw a plate's picture and its matte where its pixels come to lie.

    Args:
        picture: the plate's, shape `(3, height, width)`.
        matte: its alpha, 0..1; None where it covers all.
        place: where its pixels come to lie, 2×3, in OpenCV's coordinates.
        size: of the picture that is drawn.
        border: OpenCV's border mode, of what lies beyond the plate.

    Returns:
        The picture and the coverage at `size`; None where all is covered.
    """
    to = (size.width, size.height)
    # pixels on pixels, however turned by quarters and flipped
    whole = np.isin(np.abs(place[:, :2]), (0, 1)).all() and not np.any(place[:, 2] % 1)
    flags = cv2.INTER_NEAREST if whole else cv2.INTER_CUBIC
    drawn: Picture = new_picture(size)
    for plane, out in zip(picture, drawn, strict=True):
        cv2.warpAffine(plane, place, to, dst=out, flags=flags, borderMode=border)
    if matte is None:
        return drawn, None
    flags = cv2.INTER_NEAREST if whole else cv2.INTER_LINEAR
    cover: Plane = np.empty((size.height, size.width), np.float32)
    cv2.warpAffine(matte, place, to, dst=cover, flags=flags, borderMode=border)
    return drawn, cover


def dissolve_layers(first: Layer, other: Layer, part: float) -> Layer:
    """A layer dissolved into another, of which a part is seen; colours as far as each covers.

    Args:
        first: colours and coverage, None where all is covered.
        other: likewise.
        part: of `other`, 0..1.
    """
    (picture, cover), (coming, covering), share = first, other, np.float32(part)
    if cover is None and covering is None:
        return picture + share * (coming - picture), None
    before = np.float32(1) if cover is None else cover
    after = np.float32(1) if covering is None else covering
    whole: Plane = np.asarray(before + share * (after - before))
    weight = share * after / np.maximum(whole, LEAST_ALPHA)
    return picture + weight * (coming - picture), whole


@numba.njit(nogil=True, cache=True)
def cut_beyond(back: NDArray[np.float64], width: int, height: int, cover: Plane) -> bool:
    """Clear a coverage beyond a plate's edges; return whether nothing lay beyond.

    `back` gives each pixel's place in the plate; a pixel on the edge is covered by as much of its
    width as lies within.

    Args:
        back: from pixels of the picture to places in the plate, 2×3.
        width: of the plate, in its pixels.
        height: of the plate.
        cover: 0..1; cleared in place.
    """
    across = np.sqrt(back[0, 0] ** 2 + back[0, 1] ** 2)
    down = np.sqrt(back[1, 0] ** 2 + back[1, 1] ** 2)
    whole = True
    for y in range(cover.shape[0]):
        for x in range(cover.shape[1]):
            u = back[0, 0] * x + back[0, 1] * y + back[0, 2]
            v = back[1, 0] * x + back[1, 1] * y + back[1, 2]
            inside = min(
                min(u + 0.5, width - 0.5 - u) / across, min(v + 0.5, height - 0.5 - v) / down
            )
            if inside < 0.5 - WITHIN:
                whole = False
                cover[y, x] *= np.float32(max(inside + 0.5, 0.0))
    return whole
