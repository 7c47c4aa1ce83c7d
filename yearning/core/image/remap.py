"""Remapping: pictures sampled at given coordinates, bicubically."""

import cv2

from yearning.core.picture import Plane


def remap_plane(plane: Plane, right: Plane, down: Plane, black: bool, out: Plane) -> None:
    """Sample a plane bicubically at coordinates in pixels from the first one's centre.

    What lies beyond the plane is mirrored, or black.

    Args:
        plane: the samples.
        right: of each pixel of `out`, its coordinate across.
        down: its coordinate down.
        black: whether what lies beyond is black.
        out: takes the samples.
    """
    border = cv2.BORDER_CONSTANT if black else cv2.BORDER_REFLECT
    cv2.remap(plane, right, down, cv2.INTER_CUBIC, dst=out, borderMode=border)
