"""Numbered stills written as one movie, so that they can be a plate of a project."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from yearning.core.picture import Size
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.probe import FULL
from yearning.media.plates.plates import OpenPlate

MOST = (1 << 16) - 1
"""The code of white, and of what hides all."""


def write_plate_of_stills(pattern: Path, path: Path) -> None:
    """Write numbered stills as FFV1 in Matroska (RFC 9043), R'G'B' of 16 bits, with their alpha.

    Their colour is straight, whatever it was; what lies beyond black and white is cut.

    Args:
        pattern: of the stills, like `DIR/%05d.png`.
        path: of the plate.

    Raises:
        MediaError: a still is missing, or can't be read.
        OSError: there is no room.
    """
    plate = OpenPlate(pattern)
    rate = Fraction(plate.rate or 24).limit_denominator(1001)
    kind = "gbrap16le" if plate.has_matte else "gbrp16le"
    with atomic_write(path) as part, av.open(str(part), "w", format="matroska") as out:
        stream = out.add_stream("ffv1", rate=rate)
        context = stream.codec_context
        context.width, context.height, context.pix_fmt = *plate.size, kind
        context.color_range = FULL
        context.options = {"level": "3", "slices": "4", "slicecrc": "1"}
        for n in range(plate.frames):
            frame = _frame(plate, n, plate.size, kind)
            frame.pts, frame.time_base = n, 1 / rate
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))


def _frame(plate: OpenPlate, n: int, size: Size, kind: str) -> av.VideoFrame:
    red, green, blue = plate.picture(n, size)
    matte = plate.matte(n, size)
    frame = av.VideoFrame(*size, kind)
    for values, plane in zip((green, blue, red, matte), frame.planes, strict=False):
        assert values is not None
        codes = np.zeros((size.height, plane.line_size // 2), np.uint16)
        codes[:, : size.width] = np.rint(np.clip(values, 0, 1) * MOST)
        plane.update(codes.tobytes())
    return frame
