"""The guided filter: a plane made smooth but for the edges of a picture.

Source: He, Sun, Tang, Guided Image Filtering, IEEE PAMI 35(6), 2013, equations 19 to 21 (colour).
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Picture, Plane


def guided_filter(guide: Picture, plane: Plane, radius: int, epsilon: float) -> Plane:
    """A plane that is, about each pixel, a linear function of the guide's colours.

    Args:
        guide: shape `(3, height, width)`.
        plane: shape `(height, width)`.
        radius: of the squares over which it is linear, in pixels.
        epsilon: variance of the guide below which it is taken as even.
    """
    side = (2 * radius + 1, 2 * radius + 1)

    def mean(values: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(cv2.blur(values, side, borderType=cv2.BORDER_REFLECT), np.float32)

    means = [mean(c) for c in guide]
    mean_plane = mean(plane)
    r, g, b = guide
    mr, mg, mb = means
    eps = np.float32(epsilon)
    rr, gg, bb = (mean(c * c) - m * m + eps for c, m in zip(guide, means, strict=True))
    rg, rb, gb = mean(r * g) - mr * mg, mean(r * b) - mr * mb, mean(g * b) - mg * mb
    cov = [mean(c * plane) - m * mean_plane for c, m in zip(guide, means, strict=True)]
    # the inverse of the symmetric 3×3 matrix, by its cofactors
    i_rr, i_rg, i_rb = gg * bb - gb * gb, rb * gb - rg * bb, rg * gb - rb * gg
    i_gg, i_gb, i_bb = rr * bb - rb * rb, rb * rg - rr * gb, rr * gg - rg * rg
    det = rr * i_rr + rg * i_rg + rb * i_rb
    slopes = (
        (i_rr * cov[0] + i_rg * cov[1] + i_rb * cov[2]) / det,
        (i_rg * cov[0] + i_gg * cov[1] + i_gb * cov[2]) / det,
        (i_rb * cov[0] + i_gb * cov[1] + i_bb * cov[2]) / det,
    )
    offset = mean_plane - sum(a * m for a, m in zip(slopes, means, strict=True))
    out: Plane = mean(offset)
    for a, c in zip(slopes, guide, strict=True):
        out += mean(a) * c
    return out
