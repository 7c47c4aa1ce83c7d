"""Alpha of plates: colour taken apart from it, and averaged as far as it is seen.

Straight colour stands beside its alpha (PNG, W3C Portable Network Graphics, 6.2); premultiplied
colour has it in it (OpenEXR, Technical Introduction, "Alpha"; T. Porter and T. Duff, Compositing
Digital Images, SIGGRAPH 1984). Movies say neither.
"""

import cv2
import numpy as np

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.image.plate_drawing import LEAST_ALPHA
from yearning.core.picture import Picture, Plane, Size, new_picture, size_of

SOFT = (0.08, 0.92)
"""Alpha of what is neither clear nor whole."""

ENOUGH = 64
"""Soft pixels from which a picture tells how it was written."""

ABOVE = 0.06
"""By how much colour must exceed alpha to be straight: chroma is coarser than alpha, and coded."""

THIN, THICK = 0.35, 0.65
"""Alpha below and above which the lightness of soft parts is compared."""

DARK = 0.02
"""Lightness of thick parts under which colour tells nothing."""

FALLS = 0.6
"""Premultiplied, thin parts are less light than this part of thick ones; by their alpha 0.3."""


AROUND = (5, 5)
"""Pixels about a clear one whose colour it is given: a picture that is moved or turned reads it."""


def tells_premultiplied(picture: Picture, alpha: Plane) -> bool | None:
    """Whether a picture is premultiplied, by its soft parts; None where they do not tell.

    No premultiplied colour exceeds its alpha, and it falls with it; straight colour does not.
    """
    soft = (alpha > SOFT[0]) & (alpha < SOFT[1])
    if np.count_nonzero(soft) < ENOUGH:
        return None
    lightest, part = picture[:, soft].max(axis=0), alpha[soft]
    if np.mean(lightest > part + ABOVE) > 0.002:
        return False
    thin, thick = lightest[part < THIN], lightest[part > THICK]
    if not (thin.size and thick.size) or thick.mean() < DARK:
        return None
    return bool(thin.mean() < FALLS * thick.mean())


def straightened(picture: Picture, alpha: Plane) -> Picture:
    """Colour without the alpha that was multiplied into it, and something like it where it is 0."""
    return _divided(picture, alpha)


def averaged(
    picture: Picture, alpha: Plane, size: Size, premultiplied: bool
) -> tuple[Picture, Plane]:
    """Straight colour and alpha at a size no larger than their own, averaged as they are seen.

    What is clear does not colour what is not.
    """
    if size == size_of(picture):
        return (straightened(picture, alpha) if premultiplied else picture), alpha
    to = (size.width, size.height)
    small = np.asarray(cv2.resize(alpha, to, interpolation=cv2.INTER_AREA), np.float32)
    seen = new_picture(size)

    def average(c: int) -> None:
        weighted = picture[c]
        if not premultiplied:
            weighted = new_array(alpha.shape)
            cv2.multiply(picture[c], alpha, dst=weighted)
        cv2.resize(weighted, to, dst=seen[c], interpolation=cv2.INTER_AREA)

    parallel.for_each(average, 3)
    return _divided(seen, small), small


def _divided(seen: Picture, alpha: Plane) -> Picture:
    """Divide colour by alpha; where that is about 0, by that around it."""
    divisor = cv2.max(alpha, float(LEAST_ALPHA))  # type: ignore[call-overload]  # a number does
    clear = cv2.compare(alpha, float(LEAST_ALPHA), cv2.CMP_LE)  # type: ignore[call-overload]
    filled = bool(clear.any())
    around = np.maximum(cv2.blur(alpha, AROUND), LEAST_ALPHA) if filled else divisor
    out = new_picture(size_of(seen))

    def divide(c: int) -> None:
        cv2.divide(seen[c], divisor, dst=out[c])
        if filled:
            cv2.copyTo(cv2.divide(cv2.blur(seen[c], AROUND), around), clear, out[c])

    parallel.for_each(divide, 3)
    return out
