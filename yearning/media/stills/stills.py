"""Still pictures as files and as bytes."""

from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
import OpenEXR

from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.picture import Picture, Plane
from yearning.media.atomic_write import atomic_write
from yearning.media.errors import MediaError
from yearning.media.quantizing import quantize, quantize_with_alpha

JPEG_QUALITY = 92

_FAST_PNG = [
    cv2.IMWRITE_PNG_COMPRESSION,
    1,
    cv2.IMWRITE_PNG_STRATEGY,
    cv2.IMWRITE_PNG_STRATEGY_RLE,
    cv2.IMWRITE_PNG_FILTER,
    cv2.IMWRITE_PNG_FILTER_SUB,
]
"""Differences from pixel to pixel, their runs and Huffman codes (ISO/IEC 15948 and RFC 1951): half
the time of a search for what repeats, of which grain leaves nothing to find. Footage is as large,
pictures in two tones by a fifth larger."""


Write = Callable[[Picture, Plane | None, Path, int], None]


def _encoder_of(ending: str, options: list[int]) -> Write:
    def write(picture: Picture, alpha: Plane | None, path: Path, bits: int) -> None:
        if alpha is None:
            codes = quantize(picture, bits)
        else:
            codes = quantize_with_alpha(picture, alpha, bits)
        done, data = cv2.imencode(ending, codes, options)
        if not done:
            raise MediaError(f"{path.name}: the picture can't be written as {ending}")
        with atomic_write(path) as part:
            part.write_bytes(data.tobytes())

    return write


def _write_exr(picture: Picture, alpha: Plane | None, path: Path, bits: int) -> None:
    """Display light, L = V^2.4 (BT.1886), BT.709 primaries. Negative values keep their sign.

    Alpha is multiplied into the light, as OpenEXR has it (Technical Introduction, "Alpha").
    """
    light = np.sign(picture) * np.abs(picture) ** DISPLAY_GAMMA
    if alpha is not None:
        light = np.concatenate([light * alpha, alpha[np.newaxis]])
    kind = np.float16 if bits == 16 else np.float32
    if bits == 16:
        light = np.clip(light, -HALF_MOST, HALF_MOST)
    header = {
        "compression": OpenEXR.ZIP_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        # ITU-R BT.709-6, items 1.3 and 1.4
        "chromaticities": (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290),
    }
    channels = "RGB" if alpha is None else "RGBA"
    pixels = np.ascontiguousarray(light.transpose(1, 2, 0).astype(kind))
    with atomic_write(path) as part, OpenEXR.File(header, {channels: pixels}) as file:
        file.write(str(part))


HALF_MOST = 65504.0
"""The largest number of IEEE 754's half precision."""

_tiff = _encoder_of(".tiff", [cv2.IMWRITE_TIFF_COMPRESSION, cv2.IMWRITE_TIFF_COMPRESSION_DEFLATE])

STILLS: dict[str, tuple[tuple[int, ...], Write]] = {
    ".png": ((16, 8), _encoder_of(".png", _FAST_PNG)),
    ".tif": ((16,), _tiff),
    ".tiff": ((16,), _tiff),
    ".exr": ((32, 16), _write_exr),
}
"""By ending: bits a channel, those that are taken when none are asked for first, and the writer.
PNG (ISO/IEC 15948) and TIFF hold R'G'B' as displayed; OpenEXR holds floating-point light."""

WITH_ALPHA = (".png", ".exr")
"""Endings of stills that are written with alpha: straight in PNG, premultiplied in OpenEXR."""


KINDS = {"PNG": ".png", "TIFF": ".tif", "OpenEXR": ".exr"}
"""Kinds of numbered stills by name, with their ending."""


def still_bits(ending: str, bits: int | None) -> int:
    """Return the bits a channel of a still.

    Args:
        ending: of the file.
        bits: that are asked for; None for those of the kind.

    Raises:
        MediaError: it can't have so many.
    """
    depths = STILLS[ending][0]
    if bits is not None and bits not in depths:
        known = " or ".join(str(depth) for depth in sorted(depths))
        raise MediaError(f"bits: {ending} is written with {known} a channel, not {bits}")
    return bits or depths[0]


def check_still_name(path: Path) -> None:
    """Raise `MediaError` unless a still can be written under that name."""
    if path.suffix.lower() not in STILLS:
        raise MediaError(f"{path.name}: a still ends in {', '.join(STILLS)}")
    if not path.parent.is_dir():
        raise MediaError(f"{path.parent}: no such folder to write {path.name} in")


def write_still(
    picture: Picture, path: Path, bits: int | None = None, alpha: Plane | None = None
) -> None:
    """Write a picture by the name's ending; it appears only when whole.

    Args:
        picture: R'G'B'; straight where there is alpha.
        path: one of `WITH_ALPHA` where there is alpha.
        bits: a channel; None for the most usual.
        alpha: how far it covers, 0..1.
    """
    check_still_name(path)
    ending = path.suffix.lower()
    STILLS[ending][1](picture, alpha, path, still_bits(ending, bits))


def jpeg(picture: Picture, quality: int = JPEG_QUALITY) -> bytes:
    """Return a JPEG with full colour resolution, for pictures on screen.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        quality: 0..100, libjpeg's.
    """
    options = [
        cv2.IMWRITE_JPEG_QUALITY,
        quality,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444,
    ]
    return bytes(cv2.imencode(".jpg", quantize(picture, 8), options)[1])


def png(picture: Picture, rows: slice = slice(None), columns: slice = slice(None)) -> bytes:
    """Return a lossless PNG of 8 bits a channel of a window of a picture.

    The whole picture is dithered, so that a pixel has its code in whichever window it is seen.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        rows: of the window.
        columns: of the window.
    """
    codes = np.ascontiguousarray(quantize(picture, 8)[rows, columns], np.uint8)
    return bytes(cv2.imencode(".png", codes, _FAST_PNG)[1])
