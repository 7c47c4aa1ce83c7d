"""Stand-in plates written as files."""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np

from yearning.core.colour.matrices import Coding
from yearning.core.picture import Size
from yearning.core.plates.generated_plates import GENERATED_PLATES
from yearning.media.atomic_write import atomic_write
from yearning.media.encode.encoder import video_frame
from yearning.media.errors import MediaError
from yearning.media.quantizing import picture_to_planes, quantize

RATE = 24
CODING = Coding("bt709", "limited", 8)
LEAST, MOST = 16, 8192
"""Of a plate's width and height, in pixels."""


def plate_suffix(kind: str) -> str:
    """What the file of a kind of stand-in ends in.

    Raises:
        MediaError: there is no such kind.
    """
    plate = GENERATED_PLATES.get(kind)
    if plate is None:
        raise MediaError(f"'{kind}' is no kind of plate; known are {', '.join(GENERATED_PLATES)}")
    return ".png" if plate.frames == 1 else ".mp4"


def write_generated_plate(
    kind: str,
    path: Path,
    seed: int = 1,
    size: Size = Size(1920, 1080),
    *,
    crf: int = 14,
    on_frame: Callable[[int, int], None] = lambda done, of: None,
) -> None:
    """Make a plate and write it: one picture as PNG, more as H.264 in MP4.

    Args:
        kind: of `generated_plates`.
        path: of the file.
        seed: another gives another plate.
        size: in pixels.
        crf: constant rate factor of H.264.
        on_frame: is told the frames done, and of how many.

    Raises:
        MediaError: there is no such kind, or it can't be written so.
        OSError: there is no room.
    """
    ending = plate_suffix(kind)
    if path.suffix.lower() != ending:
        raise MediaError(f"{path.name}: a plate of '{kind}' is written as {ending}")
    if not all(LEAST <= side <= MOST for side in size):
        raise MediaError(f"size: a plate has {LEAST} to {MOST} pixels a side, not {size}")
    with atomic_write(path) as part:
        if ending == ".png":
            _write_still(kind, part, seed, size)
        else:
            even = Size(size.width - size.width % 2, size.height - size.height % 2)
            _write_clip(kind, part, seed, even, crf, on_frame)


def _write_still(kind: str, path: Path, seed: int, size: Size) -> None:
    plate = GENERATED_PLATES[kind]
    codes = quantize(plate.picture(seed, 0, size), 8)
    if plate.matte is not None:
        matte = np.rint(255 * plate.matte(seed, size)).astype(np.uint8)
        codes = np.asarray(np.dstack([codes, matte]), np.uint8)
    written, data = cv2.imencode(".png", codes)
    assert written
    path.write_bytes(data.tobytes())


def _write_clip(
    kind: str, path: Path, seed: int, size: Size, crf: int, on_frame: Callable[[int, int], None]
) -> None:
    plate = GENERATED_PLATES[kind]
    with av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"}) as out:
        video = out.add_stream("libx264", rate=RATE)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = size.width, size.height, "yuv420p"
        context.options = {"crf": str(crf), "preset": "medium", "g": "12", "tune": "grain"}
        context.color_primaries = context.color_trc = context.colorspace = context.color_range = 1
        for n in range(plate.frames):
            planes = picture_to_planes(plate.picture(seed, n, size), CODING, (2, 2))
            frame = video_frame(planes, "yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, RATE)
            out.mux(video.encode(frame))
            on_frame(n + 1, plate.frames)
        out.mux(video.encode(None))
