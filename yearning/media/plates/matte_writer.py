"""Mattes written as grey clips, without loss, with what they were found from."""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from yearning.core.picture import Plane, Size
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.probe import FULL
from yearning.media.errors import MediaError

BITS, FORMAT = 16, "gray16le"

NO_FILES: Mapping[str, bytes] = {}


def check_matte_name(path: Path) -> None:
    """Make sure that a matte can be written under a name.

    Raises:
        MediaError: it ends otherwise.
    """
    if path.suffix.lower() != ".mkv":
        raise MediaError(f"{path.name}: mattes are written as .mkv")


@contextmanager
def matte_writer(
    path: Path, size: Size, rate: Fraction, attached: Mapping[str, bytes] = NO_FILES
) -> Iterator[Callable[[Plane], None]]:
    """Yield what takes mattes frame by frame; the file appears at the end, when it is whole.

    It is FFV1 in Matroska (RFC 9043), grey of 16 bits, full range.

    Args:
        path: ends in .mkv.
        size: of each matte, whose values are 0..1.
        rate: frames a second.
        attached: files that it holds besides (RFC 9559, attachments), by name.

    Raises:
        MediaError: the file is called otherwise.
        OSError: there is no room.
    """
    check_matte_name(path)
    with atomic_write(path) as part, av.open(str(part), "w", format="matroska") as out:
        stream = out.add_stream("ffv1", rate=rate)
        context = stream.codec_context
        context.width, context.height, context.pix_fmt = size.width, size.height, FORMAT
        context.color_range = FULL
        context.options = {"level": "3", "slices": "4", "slicecrc": "1"}
        for name, data in attached.items():
            out.add_attachment(name, "application/octet-stream", data)
        written = 0

        def write(matte: Plane) -> None:
            nonlocal written
            codes = np.rint(np.clip(matte, 0, 1) * ((1 << BITS) - 1)).astype(np.uint16)
            frame = av.VideoFrame.from_ndarray(codes, format=FORMAT)
            frame.pts, frame.time_base = written, 1 / rate
            out.mux(stream.encode(frame))
            written += 1

        yield write
        out.mux(stream.encode(None))
