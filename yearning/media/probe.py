"""What a file holds: streams, sizes, colour tags, and where each of its frames is."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
from av.container import InputContainer
from av.video.stream import VideoStream
from numpy.typing import NDArray

from yearning.core.colour.matrices import Coding, Matrix, Range, guessed_matrix
from yearning.core.picture import Size
from yearning.media.errors import MediaError

DEMUXERS = (
    "mov,matroska,webm,avi,mpegts,mpeg,mpegvideo,mxf,flv,asf,ogg,nut,yuv4mpegpipe,ivf,"
    "h264,hevc,obu,gif,dv,rm,wtv,gxf"
)
"""Containers that hold their own pictures. Play lists, which open other files, are left out."""

MATRICES: dict[int, Matrix] = {1: "bt709", 5: "bt601", 6: "bt601", 9: "bt2020", 10: "bt2020"}
"""MatrixCoefficients of ITU-T H.273 table 4."""

PLANAR: dict[str, tuple[int, tuple[int, int]]] = {
    f"yuv{letter}{name}p{depth}": (bits, subsampling)
    for name, subsampling in {"420": (2, 2), "422": (2, 1), "444": (1, 1)}.items()
    for letter in ("", "j")
    for depth, bits in {"": 8, "9le": 9, "10le": 10, "12le": 12, "14le": 14, "16le": 16}.items()
    if not (letter and depth)
}
"""Pixel formats taken as they are: bits, and chroma subsampling across and down. Others go through
libswscale to 4:4:4 of 16 bits first."""

VIA = "yuv444p16le"


@dataclass(frozen=True)
class Sound:
    """One stream of sound."""

    stream: int
    codec: str
    rate: int
    channels: int
    language: str | None


@dataclass(frozen=True)
class Probe:
    """What a clip is."""

    size: Size
    frames: int
    rate: Fraction
    duration: float
    """Seconds of picture."""
    pixel_format: str
    bits: int
    subsampling: tuple[int, int]
    matrix: Matrix
    range: Range
    primaries: int
    transfer: int
    """Colour primaries and transfer characteristics as coded by ITU-T H.273; 2 is unspecified."""
    tagged: bool
    """Whether the matrix stands in the file; otherwise it was guessed from the size."""
    rotation: int
    """Degrees, anticlockwise, by which players turn the coded picture; `size` is as shown."""
    codec: str
    container: str
    sounds: tuple[Sound, ...]

    @property
    def coding(self) -> Coding:
        """How the codes of the stream stand for R'G'B'."""
        return Coding(self.matrix, self.range, self.bits)

    def as_json(self) -> dict[str, Any]:
        """The probe as `yearning probe --json` prints it."""
        return {
            "width": self.size.width,
            "height": self.size.height,
            "frames": self.frames,
            "rate": float(self.rate),
            "rate_exact": f"{self.rate.numerator}/{self.rate.denominator}",
            "duration": self.duration,
            "pixel_format": self.pixel_format,
            "matrix": self.matrix,
            "matrix_tagged": self.tagged,
            "range": self.range,
            "rotation": self.rotation,
            "codec": self.codec,
            "container": self.container,
            "audio": [
                {
                    "codec": s.codec,
                    "rate": s.rate,
                    "channels": s.channels,
                    "language": s.language,
                }
                for s in self.sounds
            ],
        }


@dataclass(frozen=True)
class FrameIndex:
    """When each frame is shown, and where decoding can begin."""

    times: NDArray[np.int64]
    """Presentation times in the stream's time base, ascending: frame n is at `times[n]`."""
    keys: NDArray[np.int64]
    """Presentation times of key frames, ascending."""
    time_base: Fraction
    timed: bool
    """Whether the packets carry presentation times; otherwise frames can only be counted."""

    @property
    def frames(self) -> int:
        """Number of frames."""
        return len(self.times)

    def key_for(self, frame: int, earlier: int = 0) -> int:
        """Time of the last key frame at or before `frame`, or one `earlier` ones before it."""
        at = int(np.searchsorted(self.keys, self.times[frame], side="right")) - 1
        return int(self.keys[max(at - earlier, 0)])


def open_container(path: Path) -> InputContainer:
    """Open a file for reading.

    Raises:
        MediaError: it is missing, empty, or no container of video.
    """
    if not path.exists():
        raise MediaError(f"{path.name}: no such file")
    if path.is_dir():
        raise MediaError(f"{path.name}: a folder; give one file")
    if path.stat().st_size == 0:
        raise MediaError(f"{path.name}: the file is empty (0 bytes); copy or export it again")
    options = {"protocol_whitelist": "file", "format_whitelist": DEMUXERS}
    try:
        return av.open(str(path), options=options, metadata_errors="replace")
    except (av.error.FFmpegError, ValueError):
        reason = "not a video file that can be read"
        if _cut_off_mp4(path):
            reason = "cut off: an MP4 without its index (moov); copy or export it again"
        raise MediaError(f"{path.name}: {reason}") from None


def _cut_off_mp4(path: Path) -> bool:
    with path.open("rb") as file:
        head = file.read(12)
    return head[4:8] == b"ftyp"


def picture_stream(container: InputContainer, path: Path) -> VideoStream:
    """The video stream that is not a cover picture.

    Raises:
        MediaError: there is none, or no decoder for it.
    """
    attached = av.stream.Disposition.attached_pic
    streams = [s for s in container.streams.video if not s.disposition & attached]
    if not container.streams:
        raise MediaError(f"{path.name}: cut off: nothing but its head is there; copy it again")
    if not streams:
        what = "sound but no picture" if container.streams.audio else "no picture"
        raise MediaError(f"{path.name}: it has {what}; a clip needs a video stream")
    stream = streams[0]
    if stream.codec_context is None:
        raise MediaError(f"{path.name}: its video codec is not known here; convert it first")
    return stream


def frame_index(container: InputContainer, stream: VideoStream, path: Path) -> FrameIndex:
    """Read every packet of the stream, without decoding, and note times and key frames.

    Raises:
        MediaError: there are no frames, or fewer than the container's header says.
    """
    times: list[int] = []
    keys: list[int] = []
    count = 0
    timed = True
    try:
        for packet in container.demux(stream):
            if packet.size == 0 or packet.is_discard:
                continue
            count += 1
            if packet.pts is None:
                timed = False
                continue
            times.append(packet.pts)
            if packet.is_keyframe:
                keys.append(packet.pts)
    except av.error.FFmpegError:
        pass  # what could be read is counted below against what should be there
    if stream.frames > count and not _edited(stream, count):
        raise MediaError(
            f"{path.name}: cut off: {count} of {stream.frames} frames are there; "
            "copy or export it again"
        )
    if count == 0:
        raise MediaError(f"{path.name}: it holds no frames; copy or export it again")
    if not timed or not keys:
        return FrameIndex(np.arange(count), np.zeros(1, np.int64), stream.time_base, False)
    return FrameIndex(np.unique(times), np.unique(keys), stream.time_base, True)


def _edited(stream: VideoStream, count: int) -> bool:
    """Whether an edit list, not a loss, makes fewer frames show than the header counts."""
    if stream.duration is None or not stream.average_rate:
        return False
    shown = round(float(stream.duration * stream.time_base * stream.average_rate))
    return shown <= count + 1


def probed(container: InputContainer, path: Path) -> tuple[Probe, FrameIndex, VideoStream]:
    """What an open container holds.

    Raises:
        MediaError: no stream of picture, or a file that is cut off or can't be decoded.
    """
    stream = picture_stream(container, path)
    stream.thread_type = "AUTO"
    index = frame_index(container, stream, path)
    frame = _first_frame(container, stream, path)
    context = stream.codec_context
    name = frame.format.name
    bits, subsampling = PLANAR.get(name, PLANAR[VIA])
    coded = Size(frame.width, frame.height)
    rotation = round(frame.rotation) % 360
    size = Size(coded.height, coded.width) if rotation % 180 == 90 else coded
    tag = MATRICES.get(int(frame.colorspace))
    planar = name in PLANAR
    full = planar and (int(frame.color_range) == 2 or name.startswith("yuvj"))
    rate = stream.average_rate or stream.guessed_rate or Fraction(25)
    probe = Probe(
        size=size,
        frames=index.frames,
        rate=Fraction(rate),
        duration=float(index.frames / rate),
        pixel_format=name,
        bits=bits,
        subsampling=subsampling,
        matrix=tag or guessed_matrix(coded.height),
        range="full" if full else "limited",
        primaries=int(frame.color_primaries),
        transfer=int(frame.color_trc),
        tagged=tag is not None,
        rotation=rotation,
        codec=context.codec.canonical_name,
        container=container.format.name,
        sounds=tuple(
            Sound(s.index, s.codec_context.codec.canonical_name, s.rate, s.channels, s.language)
            for s in container.streams.audio
            if s.codec_context is not None
        ),
    )
    return probe, index, stream


def _first_frame(container: InputContainer, stream: VideoStream, path: Path) -> av.VideoFrame:
    container.seek(0, backward=True, any_frame=False)
    try:
        for frame in container.decode(stream):
            return frame
    except av.error.FFmpegError:
        pass
    raise MediaError(f"{path.name}: its first frame can't be decoded; copy or export it again")


def probe_file(path: Path) -> Probe:
    """What the file at `path` holds.

    Raises:
        MediaError: it can't be used as a clip.
    """
    with open_container(path) as container:
        return probed(container, path)[0]
