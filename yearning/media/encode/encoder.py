"""Pictures to packets: the encoder of a result, as it is wanted."""

import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import av
import numpy as np
from av.codec.context import Flags
from av.container import OutputContainer
from numpy.typing import NDArray

from yearning.core.colour.matrices import Coding
from yearning.core.picture import Picture, Plane, Size
from yearning.media.decode.planes import Planes
from yearning.media.decode.probe import FULL, LIMITED, MATRICES, UNSPECIFIED, Probe
from yearning.media.disk import is_full
from yearning.media.encode.results import Output, codec_of, depth, result_box, subsampling
from yearning.media.errors import MediaError
from yearning.media.quantizing import picture_to_planes, quantize, quantize_with_alpha
from yearning.media.streams import AnyPacket, add_video_stream

CHROMA = {(2, 2): "420", (2, 1): "422", (1, 1): "444"}

RGB = {8: "bgr0", 10: "gbrp10le", 16: "gbrp16le"}
"""Pixel formats of lossless results, by their bits."""

RGBA = {8: "bgra", 10: "gbrap10le", 16: "gbrap16le"}
"""The same with alpha; their colour is straight."""

RGB_MATRIX = 0
"""MatrixCoefficients of ITU-T H.273: the channels are R', G' and B' themselves."""


TAGS = {"bt601": (6, 6, 6), "bt709": (1, 1, 1)}
"""Primaries, transfer and matrix by ITU-T H.273, for footage that does not say."""


def result_tags(probe: Probe) -> tuple[int, int, int]:
    """Primaries, transfer and matrix of the result: the footage's, or BT.709 where it was wider."""
    if probe.wide or probe.light != "SDR" or probe.matrix not in TAGS:
        return TAGS["bt709"]
    primaries, transfer, matrix = TAGS[probe.matrix]
    if probe.primaries != UNSPECIFIED:
        primaries = probe.primaries
    if probe.transfer != UNSPECIFIED:
        transfer = probe.transfer
    return primaries, transfer, matrix


class StreamShape(NamedTuple):
    """What all pictures of one stream have alike."""

    size: Size
    rate: Fraction
    pixel_format: str
    tags: tuple[int, int, int]

    def differs_in(self, other: "StreamShape") -> str:
        """How another stream differs, in words; empty where it does not."""
        if self.size != other.size:
            (width, height), (own_width, own_height) = other.size, self.size
            return f"is {width}x{height}, not {own_width}x{own_height}"
        if self.rate != other.rate:
            return f"has {float(other.rate):g} frames a second, not {float(self.rate):g}"
        if self.pixel_format != other.pixel_format:
            return f"is written as {other.pixel_format}, not {self.pixel_format}"
        return "" if self.tags == other.tags else "has other primaries or another transfer"


def stream_shape(probe: Probe, ending: str, output: Output) -> StreamShape:
    """Return what pictures of a clip are as a stream of a result.

    Args:
        probe: of the clip.
        ending: of the result.
        output: how it is written.

    Raises:
        MediaError: what is asked can't be had.
    """
    codec = codec_of(ending, output)
    box = result_box(probe.size, output)
    size = Size(int(box.width), int(box.height))
    bits = depth(probe, codec, output)
    if codec.lossless:
        pixel_format = (RGBA if output.overlay else RGB)[bits]
    else:
        deep = "" if bits == 8 else f"{bits}le"
        pixel_format = f"yuv{CHROMA[subsampling(probe, codec, size)]}p{deep}"
    return StreamShape(size, probe.rate, pixel_format, result_tags(probe))


class Encoder:
    """A video stream of `container`, and the way from pictures to its packets.

    Args:
        container: what the packets go into.
        probe: the footage, for its rate, tags, depth and chroma.
        ending: the result's, which says as what it is encoded.
        output: quality, depth and size.

    Raises:
        MediaError: what is asked can't be had.
    """

    def __init__(
        self, container: OutputContainer, probe: Probe, ending: str, output: Output
    ) -> None:
        self._codec = codec_of(ending, output)
        self._size, self.rate, self._format, tags = stream_shape(probe, ending, output)
        self._bits = depth(probe, self._codec, output)
        self._coding = Coding(MATRICES[tags[2]], "limited", self._bits)
        if not self._codec.lossless:
            self._subsampling = subsampling(probe, self._codec, self._size)
        self.stream = add_video_stream(container, self._codec.encoder, self.rate)
        context = self.stream.codec_context
        context.width, context.height = self._size
        context.pix_fmt = self._format
        context.options = self._codec.encoder_options(output.quality)
        context.time_base = 1 / self.rate
        context.color_primaries, context.color_trc, context.colorspace = tags
        context.color_range = LIMITED
        if self._codec.lossless:
            context.colorspace, context.color_range = RGB_MATRIX, FULL
        context.flags |= Flags.global_header  # the headers stand once, before all segments

    def packets(self, number: int, picture: Picture, alpha: Plane | None = None) -> list[AnyPacket]:
        """The packets that are ready once the stream's picture `number` is in.

        Args:
            number: of the picture, from the stream's beginning.
            picture: straight colour where there is alpha.
            alpha: 0..1, of an overlay.
        """
        if self._codec.lossless:
            video = rgb_frame(picture, self._bits, alpha)
        else:
            video = video_frame(
                picture_to_planes(picture, self._coding, self._subsampling), self._format
            )
        video.pts = number
        video.time_base = 1 / self.rate
        return self.stream.encode(video)

    def rest(self) -> list[AnyPacket]:
        """The packets still held back, after the last picture."""
        return self.stream.encode(None)

    @contextmanager
    def reporting_errors(self, name: str) -> Iterator[None]:
        """Turn FFmpeg's errors into MediaErrors about the file `name`, but for a full disk's."""
        try:
            yield
        except av.error.FFmpegError as error:
            if isinstance(error, OSError) and is_full(error):
                raise OSError(error.errno, error.strerror) from None  # PyAV's own can't be pickled
            size, rate = f"{self._size.width}x{self._size.height}", float(self.rate)
            raise MediaError(
                f"{name}: {self._codec.name} of {size} at {rate:g} frames/s and its sound can't "
                f"be written ({error.strerror}); try another codec, size or rate"
            ) from None
        finally:
            if self._codec.encoder == REAL_TIME:
                share_fairly()


REAL_TIME = "libsvtav1"
"""Begun by root, it puts the whole process on real-time priority: nothing else would run while it
does, and what the process starts would be so too."""


def share_fairly() -> None:
    """Leave Linux's autogroup, so that this process's threads share the machine fairly."""
    tasks = Path("/proc/self/task")
    if not tasks.is_dir():
        return
    for task in tasks.iterdir():
        with suppress(OSError):  # it has ended meanwhile, or may not be changed
            if os.sched_getscheduler(int(task.name)) != os.SCHED_OTHER:
                os.sched_setscheduler(int(task.name), os.SCHED_OTHER, os.sched_param(0))


def _fill(plane: Any, codes: NDArray[Any]) -> None:
    lines = np.frombuffer(plane, codes.dtype).reshape(-1, plane.line_size // codes.itemsize)
    lines[: codes.shape[0], : codes.shape[1]] = codes


def video_frame(planes: Planes, name: str) -> av.VideoFrame:
    """Return a frame for the encoder with the codes of planes.

    Args:
        planes: Y', C'B and C'R.
        name: of the pixel format, FFmpeg's.
    """
    height, width = planes.luma.shape
    frame = av.VideoFrame(width, height, name)
    for plane, codes in zip(frame.planes, planes, strict=True):
        _fill(plane, codes)
    return frame


def rgb_frame(picture: Picture, bits: int, alpha: Plane | None = None) -> av.VideoFrame:
    """Return a frame of full-range R'G'B' codes, and alpha's: packed for 8 bits, else planar.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        bits: of a code.
        alpha: 0..1; None for none.
    """
    codes = quantize(picture, bits) if alpha is None else quantize_with_alpha(picture, alpha, bits)
    formats = RGB if alpha is None else RGBA
    frame = av.VideoFrame(codes.shape[1], codes.shape[0], formats[bits])
    if bits == 8:
        packed = np.zeros((*codes.shape[:2], 4), np.uint8)
        packed[..., : codes.shape[2]] = codes
        _fill(frame.planes[0], packed.reshape(codes.shape[0], -1))
    else:
        for plane, channel in zip(frame.planes, (1, 0, 2, 3), strict=False):  # G, B, R of B, G, R
            _fill(plane, codes[..., channel])
    return frame
