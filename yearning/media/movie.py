"""Results out: H.264 in MP4 with the sound copied."""

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from types import TracebackType

import av
import numpy as np
from av.container import InputContainer, OutputContainer
from av.packet import Packet

from yearning.core.colour.matrices import Coding
from yearning.core.picture import Picture, Size
from yearning.media.errors import MediaError
from yearning.media.planes import Planes, planes_of
from yearning.media.probe import FrameIndex, Probe, open_container

CRF = 17
PRESET = "fast"
"""x264's constant rate factor and preset: fine quality at a fair speed."""

COPIED = {"aac", "mp3", "ac3", "eac3", "alac", "opus", "flac", "mp2"}
"""Sound that MP4 holds as it is (ISO/IEC 14496-14 and the registered sample entries)."""

TAGS = {"bt601": (6, 6, 6), "bt709": (1, 1, 1), "bt2020": (9, 14, 9)}
"""Primaries, transfer and matrix by ITU-T H.273, for footage that does not say."""

UNSPECIFIED = 2


def result_format(probe: Probe, size: Size) -> tuple[str, int, tuple[int, int]]:
    """Pixel format of the result, its bits and subsampling: those of the footage.

    More than 8 bits become 10; sizes that the subsampling does not divide become 4:4:4.
    """
    across, down = probe.subsampling
    if size.width % across or size.height % down:
        across, down = 1, 1
    name = {(2, 2): "yuv420p", (2, 1): "yuv422p", (1, 1): "yuv444p"}[across, down]
    bits = 8 if probe.bits == 8 else 10
    return name + ("" if bits == 8 else "10le"), bits, (across, down)


class Movie:
    """An MP4 being written; a context manager. The file appears only when all is written.

    Args:
        path: where it goes, ending in `.mp4`.
        source: the footage's file, for its sound.
        probe: what the footage is.
        index: when its frames are shown.
        first: the first frame rendered; the result's time 0.
        end: one past the last.

    Raises:
        MediaError: the name or folder can't be written, or the sound can't be held by MP4.
    """

    def __init__(
        self, path: Path, source: Path, probe: Probe, index: FrameIndex, first: int, end: int
    ) -> None:
        check_movie_name(path)
        self._path = path
        self._part = path.with_name(path.name + ".part")
        self._index = index
        self._probe = probe
        self._start = int(index.times[first])
        self._format, bits, self._subsampling = result_format(probe, probe.size)
        self._coding = Coding(probe.matrix, "limited", bits)
        until = index.times[end] if end < index.frames else None
        seconds = None if until is None else float((int(until) - self._start) * index.time_base)
        self._sound = SoundCopy(source, probe, self._start * index.time_base, seconds)
        self._out: OutputContainer = av.open(
            str(self._part), "w", format="mp4", options={"movflags": "+faststart+write_colr"}
        )
        try:
            self._stream = self._video_stream()
            self._sound.add_streams(self._out)
        except BaseException:
            self._abandon()
            raise

    def _video_stream(self) -> av.VideoStream:
        rate = self._probe.rate
        stream = self._out.add_stream("libx264", rate=rate)
        context = stream.codec_context
        context.width, context.height = self._probe.size
        context.pix_fmt = self._format
        context.options = {"preset": PRESET, "crf": str(CRF)}
        context.time_base = self._index.time_base if self._index.timed else 1 / rate
        primaries, transfer, matrix = TAGS[self._probe.matrix]
        if self._probe.primaries != UNSPECIFIED:
            primaries = self._probe.primaries
        if self._probe.transfer != UNSPECIFIED:
            transfer = self._probe.transfer
        context.color_primaries, context.color_trc = primaries, transfer
        context.colorspace, context.color_range = matrix, 1
        return stream

    def __enter__(self) -> "Movie":
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        if kind is None:
            self._finish()
        else:
            self._abandon()

    def write(self, frame: int, picture: Picture) -> None:
        """Encode the picture of the footage's frame `frame`, to be shown when that was."""
        planes = planes_of(picture, self._coding, self._subsampling)
        video = video_frame(planes, self._format)
        ticks = int(self._index.times[frame]) - self._start
        if not self._index.timed:
            ticks = int(self._index.times[frame] - self._index.times[0])
        video.pts = ticks
        video.time_base = self._stream.codec_context.time_base
        for packet in self._stream.encode(video):
            self._out.mux(packet)
        for packet in self._sound.until(float(ticks * video.time_base)):
            self._out.mux(packet)

    def _finish(self) -> None:
        try:
            for packet in self._stream.encode(None):
                self._out.mux(packet)
            for packet in self._sound.until(float("inf")):
                self._out.mux(packet)
            self._out.close()
        except BaseException:
            self._abandon()
            raise
        self._sound.close()
        self._part.replace(self._path)

    def _abandon(self) -> None:
        self._sound.close()
        try:
            self._out.close()
        except (av.error.FFmpegError, ValueError):
            pass  # nothing of it is kept
        finally:
            self._part.unlink(missing_ok=True)


def check_movie_name(path: Path) -> None:
    """Raise `MediaError` unless a movie can be written under that name."""
    if path.suffix.lower() != ".mp4":
        raise MediaError(f"{path.name}: results are .mp4, or numbered stills like DIR/%05d.png")
    if not path.parent.is_dir():
        raise MediaError(f"{path.parent}: no such folder to write {path.name} in")


def video_frame(planes: Planes, name: str) -> av.VideoFrame:
    """A frame for the encoder, of pixel format `name`, with the codes of `planes`."""
    height, width = planes.luma.shape
    frame = av.VideoFrame(width, height, name)
    for plane, codes in zip(frame.planes, planes, strict=True):
        lines = np.frombuffer(plane, codes.dtype).reshape(-1, plane.line_size // codes.itemsize)
        lines[: codes.shape[0], : codes.shape[1]] = codes
    return frame


class SoundCopy:
    """The footage's sound, packet by packet, as it was encoded.

    Args:
        source: the footage's file.
        probe: what it holds.
        start: the footage's time, in seconds, that is the result's 0.
        seconds: how long the result is; None for all there is.
    """

    def __init__(self, source: Path, probe: Probe, start: Fraction, seconds: float | None) -> None:
        for sound in probe.sounds:
            if sound.codec not in COPIED:
                raise MediaError(
                    f"{source.name}: its sound is {sound.codec}, which MP4 does not hold; "
                    "convert the sound to AAC first"
                )
        self._start = start
        self._seconds = float("inf") if seconds is None else seconds
        self._container: InputContainer | None = open_container(source) if probe.sounds else None
        self._streams: dict[int, av.AudioStream] = {}
        self._waiting: Packet | None = None
        self._packets: Iterator[Packet] = iter(())

    def add_streams(self, out: OutputContainer) -> None:
        """Add a stream of sound to `out` for each of the footage's."""
        if self._container is None:
            return
        for stream in self._container.streams.audio:
            self._streams[stream.index] = out.add_stream_from_template(stream)
        self._packets = self._container.demux(self._container.streams.audio)

    def until(self, seconds: float) -> Iterator[Packet]:
        """The packets that begin before the result's time `seconds` and were not given yet."""
        while True:
            packet = self._waiting or next(self._packets, None)
            self._waiting = None
            if packet is None:
                return
            if packet.size == 0 or packet.pts is None:
                continue
            base = packet.time_base
            begins = float(packet.pts * base - self._start)
            if begins >= self._seconds:
                continue
            if begins >= seconds:
                self._waiting = packet
                return
            if begins + float((packet.duration or 0) * base) <= 0 and self._start > 0:
                continue
            shift = round(self._start / base)
            packet.pts -= shift
            packet.dts = packet.pts if packet.dts is None else packet.dts - shift
            packet.stream = self._streams[packet.stream_index]
            yield packet

    def close(self) -> None:
        """Close the footage's file."""
        if self._container is not None:
            self._container.close()
            self._container = None
            self._packets = iter(())
