"""How large pictures from outside may be: told from their headers, before they are decoded."""

from pathlib import Path

import imagesize
import OpenEXR

from yearning.core.picture import Size
from yearning.media.errors import MediaError

MAX_SIDE = 16_384
"""Pixels of the longest side."""

MAX_PIXELS = 64 << 20
"""Pixels of a picture, once they are square."""


def check_picture_size(name: str, size: Size) -> None:
    """Refuse a picture that is too large.

    Args:
        name: what messages begin with.
        size: of the picture.

    Raises:
        MediaError: its sides or its pixels are more than can be used; the message says how many.
    """
    if max(size) > MAX_SIDE or size.width * size.height > MAX_PIXELS:
        raise MediaError(
            f"{name}: {size.width}x{size.height} pixels, where {MAX_SIDE} a side and "
            f"{MAX_PIXELS >> 20} million in all can be used; make it smaller"
        )


def check_still_size(path: Path) -> None:
    """Refuse a still that is too large, or whose header does not say how large it is.

    Args:
        path: PNG, JPEG, TIFF or OpenEXR.

    Raises:
        MediaError: it can't be used.
        OSError: it can't be read.
    """
    size = _exr_size(path) if path.suffix.lower() == ".exr" else Size(*imagesize.get(path))
    if min(size) < 1:
        raise MediaError(f"{path.name}: is no picture that can be read; export it anew, as PNG")
    check_picture_size(path.name, size)


def _exr_size(path: Path) -> Size:
    with OpenEXR.File(str(path), header_only=True) as file:
        low, high = file.header()["dataWindow"]
    return Size(int(high[0] - low[0] + 1), int(high[1] - low[1] + 1))
