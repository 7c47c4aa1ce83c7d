"""Still pictures as files and as bytes."""

from pathlib import Path

import cv2
import numpy as np
import OpenEXR

from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.picture import Picture
from yearning.media.errors import MediaError
from yearning.media.planes import quantized

JPEG_QUALITY = 92


def write_png(picture: Picture, path: Path) -> None:
    """Write a PNG of 16 bits a channel (ISO/IEC 15948), R'G'B' as displayed."""
    done, data = cv2.imencode(".png", quantized(picture, 16), [cv2.IMWRITE_PNG_COMPRESSION, 3])
    if not done:
        raise MediaError(f"{path.name}: the picture can't be written as PNG")
    _write_whole(path, data.tobytes())


def write_exr(picture: Picture, path: Path) -> None:
    """Write an OpenEXR of 32-bit float: display light, L = V^2.4 (BT.1886), BT.709 primaries.

    Negative values keep their sign.
    """
    light = np.sign(picture) * np.abs(picture) ** DISPLAY_GAMMA
    part = path.with_name(path.name + ".part.exr")
    header = {
        "compression": OpenEXR.ZIP_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        # ITU-R BT.709-6, items 1.3 and 1.4
        "chromaticities": (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290),
    }
    with OpenEXR.File(header, {"RGB": np.ascontiguousarray(light.transpose(1, 2, 0))}) as file:
        file.write(str(part))
    part.replace(path)


def _write_whole(path: Path, data: bytes) -> None:
    part = path.with_name(path.name + ".part")
    part.write_bytes(data)
    part.replace(path)


WRITERS = {".png": write_png, ".exr": write_exr}


def check_still_name(path: Path) -> None:
    """Raise `MediaError` unless a still can be written under that name."""
    if path.suffix.lower() not in WRITERS:
        raise MediaError(f"{path.name}: a still ends in .png or .exr")
    if not path.parent.is_dir():
        raise MediaError(f"{path.parent}: no such folder to write {path.name} in")


def write_still(picture: Picture, path: Path) -> None:
    """Write a picture as PNG or OpenEXR, by the name's ending; it appears only when whole."""
    check_still_name(path)
    WRITERS[path.suffix.lower()](picture, path)


def jpeg(picture: Picture, quality: int = JPEG_QUALITY) -> bytes:
    """A JPEG with full colour resolution, for pictures on screen."""
    options = [
        cv2.IMWRITE_JPEG_QUALITY,
        quality,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444,
    ]
    return bytes(cv2.imencode(".jpg", quantized(picture, 8), options)[1])


def png(picture: Picture) -> bytes:
    """A PNG of 8 bits a channel, lossless, for true pixels on screen."""
    options = [cv2.IMWRITE_PNG_COMPRESSION, 1]
    return bytes(cv2.imencode(".png", quantized(picture, 8), options)[1])
