"""What a file holds: streams, sizes, colour tags, and where each of its frames is."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, cast, get_args

import av
from av.container import InputContainer
from av.video.stream import VideoStream

from yearning.core.colour.conversion import Light
from yearning.core.colour.matrices import Coding, Matrix, Range, guessed_matrix
from yearning.core.picture import Size
from yearning.media.decode.frames import FrameIndex, frame_index, shown_frames, stream_rate
from yearning.media.decode.input_overrides import AS_TAGGED, Fields, InputOverrides
from yearning.media.errors import MediaError
from yearning.media.picture_limits import check_picture_size
from yearning.media.timecode import Timecode

DEMUXERS = (
    "mov,matroska,webm,avi,mpegts,mpeg,mpegvideo,mxf,flv,asf,ogg,nut,yuv4mpegpipe,ivf,"
    "h264,hevc,obu,gif,dv,rm,wtv,gxf"
)
"""Containers that hold their own pictures. Play lists, which open other files, are left out."""

SOUND_SUFFIXES = (".wav", ".flac", ".mp3", ".m4a", ".aac", ".ogg", ".oga", ".opus", ".aif", ".aiff")
"""Endings of files that hold sound alone."""

SOUND_DEMUXERS = "wav,w64,flac,mp3,mov,aac,ogg,aiff"
"""Containers of such files."""

UNSPECIFIED = 2
LIMITED, FULL = 1, 2
BT2020_PRIMARIES = 9
LIGHTS: dict[int, Light] = {16: "PQ", 18: "HLG"}
"""ColourPrimaries and TransferCharacteristics of ITU-T H.273, tables 2 and 3."""

MATRICES: dict[int, Matrix] = {1: "bt709", 5: "bt601", 6: "bt601", 9: "bt2020", 10: "bt2020"}
"""MatrixCoefficients of ITU-T H.273 table 4."""

DEPTHS = {"": 8, "9le": 9, "10le": 10, "12le": 12, "14le": 14, "16le": 16}

PLANAR: dict[str, tuple[int, tuple[int, int]]] = {
    f"yuv{letter}{name}p{depth}": (bits, subsampling)
    for name, subsampling in {"420": (2, 2), "422": (2, 1), "444": (1, 1)}.items()
    for letter in ("", "j", "a")
    for depth, bits in DEPTHS.items()
    if not (letter == "j" and depth)
} | {f"gray{depth}": (bits, (2, 2)) for depth, bits in DEPTHS.items()}
"""Pixel formats of Y'CbCr taken as they are: bits, and chroma subsampling across and down. Grey
ones have no chroma; alpha is left in the file. Others go through libswscale to 4:4:4 of 16 bits."""

VIA = "yuv444p16le"

RGB_VIA = {8: "gbrp"} | {bits: f"gbrp{bits}le" for bits in (9, 10, 12, 14, 16)}
"""What R'G'B' formats go through, by their bits: planes apart, and no code changed."""


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
    """What a clip is, as it is read."""

    size: Size
    """As shown: turned upright, with square pixels."""
    coded: Size
    """As it stands in the stream."""
    frames: int
    rate: Fraction
    """Frames of the clip, and how many a second: constant, whatever the stream's is."""
    variable: bool
    """Whether the stream's own rate varies."""
    duration: float
    """Seconds of picture."""
    pixel_format: str
    rgb: bool
    bits: int
    subsampling: tuple[int, int]
    matrix: Matrix
    range: Range
    primaries: int
    transfer: int
    """Colour primaries and transfer characteristics as coded by ITU-T H.273; 2 is unspecified."""
    tagged: bool
    """Whether the matrix stands in the file; otherwise it was guessed from the size."""
    light: Light
    fields: Fields
    timecode: str | None
    """Of the first frame, as the file has it."""
    rotation: int
    """Degrees, anticlockwise, by which players turn the coded picture; `size` is as shown."""
    codec: str
    container: str
    sounds: tuple[Sound, ...]
    straight: bool = False
    """Whether the file says that its colour stands beside its alpha, as overlays from here do."""

    @property
    def wide(self) -> bool:
        """Whether the codes stand for BT.2020's primaries."""
        return self.primaries == BT2020_PRIMARIES or (
            self.primaries == UNSPECIFIED and self.matrix == "bt2020"
        )

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
            "variable_rate": self.variable,
            "duration": self.duration,
            "timecode": self.timecode,
            "pixel_format": self.pixel_format,
            "matrix": self.matrix,
            "matrix_tagged": self.tagged,
            "range": self.range,
            "light": self.light,
            "fields": self.fields,
            "rotation": self.rotation,
            "coded_width": self.coded.width,
            "coded_height": self.coded.height,
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


def open_container(path: Path) -> InputContainer:
    """Open a file for reading.

    Raises:
        MediaError: it is missing, empty, or no container of video, or of sound, as it ends.
    """
    if not path.exists():
        raise MediaError(f"{path.name}: no such file")
    if path.is_dir():
        raise MediaError(f"{path.name}: a folder; give one file")
    if path.stat().st_size == 0:
        raise MediaError(f"{path.name}: the file is empty (0 bytes); copy or export it again")
    is_sound = path.suffix.lower() in SOUND_SUFFIXES
    demuxers = SOUND_DEMUXERS if is_sound else DEMUXERS
    options = {"protocol_whitelist": "file", "format_whitelist": demuxers}
    try:
        return av.open(str(path), options=options, metadata_errors="replace")
    except (av.error.FFmpegError, ValueError):
        reason = f"not a {'sound' if is_sound else 'video'} file that can be read"
        if _cut_off_mp4(path):
            reason = "cut off: an MP4 without its index (moov); copy or export it again"
        raise MediaError(f"{path.name}: {reason}") from None


def _cut_off_mp4(path: Path) -> bool:
    with path.open("rb") as file:
        head = file.read(12)
    return head[4:8] == b"ftyp"


ONE_AT_A_TIME = {"ffv1"}
"""Codecs whose decoder spoils memory when it works on several frames of a broken file at once; it
shares a frame's slices among threads instead."""


def picture_stream(container: InputContainer, path: Path) -> VideoStream:
    """Return the video stream that is not a cover picture.

    Args:
        container: open.
        path: what messages name.

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
    stream.thread_type = "SLICE" if stream.codec_context.name in ONE_AT_A_TIME else "AUTO"
    return stream


ALPHA_TAG, STRAIGHT = "ALPHA", "straight"
"""A tag of overlays written here, and its value; no standard one says it of FFV1 in Matroska."""

WITH_ALPHA = {"vp8": "libvpx", "vp9": "libvpx-vp9"}
"""Decoders that read the alpha of WebM, a stream of its own within the packets; FFmpeg's own of
these codecs leave it."""


def decoded_frames(container: InputContainer, stream: VideoStream) -> Iterator[av.VideoFrame]:
    """Yield frames of a stream from where its container stands, with their alpha.

    Args:
        container: open.
        stream: of it.
    """
    decoder = WITH_ALPHA.get(stream.codec_context.codec.canonical_name)
    said = {name.lower(): value for name, value in stream.metadata.items()}
    if decoder is None or said.get("alpha_mode") != "1":
        yield from container.decode(stream)
        return
    context = cast(av.VideoCodecContext, av.CodecContext.create(decoder, "r"))
    for packet in container.demux(stream):
        yield from context.decode(packet)


def probe_container(
    container: InputContainer, path: Path, reading: InputOverrides
) -> tuple[Probe, FrameIndex, VideoStream]:
    """Return what an open container holds, with the index and the stream of its pictures.

    Args:
        container: open.
        path: what messages name.
        reading: what is said of it where its tags are wrong.

    Raises:
        MediaError: no stream of picture, or a file that is cut off or can't be decoded.
    """
    if reading.light is not None and reading.light not in get_args(Light):
        raise MediaError(f"light: '{reading.light}' is for OpenEXR stills alone")
    stream = picture_stream(container, path)
    index = frame_index(container, stream, path)
    frame = _first_frame(container, stream, path)
    name = frame.format.name
    rgb = frame.format.is_rgb
    if rgb:
        deepest = max(c.bits for c in frame.format.components)
        bits, subsampling = min((b for b in RGB_VIA if b >= deepest), default=16), (1, 1)
    else:
        bits, subsampling = PLANAR.get(name, PLANAR[VIA])
    coded = Size(frame.width, frame.height)
    rotation = round(frame.rotation) % 360
    size = _square(coded, stream.sample_aspect_ratio)
    if rotation % 180 == 90:
        size = Size(size.height, size.width)
    check_picture_size(path.name, size)
    tag = MATRICES.get(int(frame.colorspace))
    full = rgb or (name in PLANAR and _is_full(name, int(frame.color_range)))
    try:
        rate, variable = stream_rate(index, stream)
        rate = reading.exact_rate or rate
        frames = len(shown_frames(index, rate))
    except MediaError as error:
        raise MediaError(f"{path.name}: {error}") from None
    for sound in container.streams.audio:
        if sound.codec_context is not None:
            check_sound_rate(path.name, sound.rate)
    probe = Probe(
        size=size,
        coded=coded,
        frames=frames,
        rate=rate,
        variable=variable,
        duration=float(frames / rate),
        pixel_format=name,
        rgb=rgb,
        bits=bits,
        subsampling=subsampling,
        matrix=reading.matrix or tag or guessed_matrix(coded.height),
        range=reading.range or ("full" if full else "limited"),
        primaries=int(frame.color_primaries),
        transfer=int(frame.color_trc),
        tagged=tag is not None,
        light=cast(Light | None, reading.light) or LIGHTS.get(int(frame.color_trc), "SDR"),
        fields=reading.fields or ("interlaced" if frame.interlaced_frame else "progressive"),
        timecode=_timecode(container, rate),
        rotation=rotation,
        codec=stream.codec_context.codec.canonical_name,
        container=container.format.name,
        sounds=tuple(
            Sound(s.index, s.codec_context.codec.canonical_name, s.rate, s.channels, s.language)
            for s in container.streams.audio
            if s.codec_context is not None
        ),
        straight=container.metadata.get(ALPHA_TAG) == STRAIGHT,
    )
    return probe, index, stream


MIN_SOUND_RATE, MAX_SOUND_RATE = 4_000, 768_000
"""Samples a second: half of a telephone's, and what converters reach."""


def check_sound_rate(name: str, rate: int) -> None:
    """Refuse sound of a rate that none is recorded at: seconds of it may be made to last for days.

    Args:
        name: what messages begin with.
        rate: samples a second.

    Raises:
        MediaError: it is below or above what can be heard.
    """
    if not MIN_SOUND_RATE <= rate <= MAX_SOUND_RATE:
        raise MediaError(
            f"{name}: its sound has {rate} samples a second, where {MIN_SOUND_RATE} to "
            f"{MAX_SOUND_RATE} can be used; save it anew"
        )


def _is_full(name: str, said: int) -> bool:
    """Whether codes fill their range; untagged grey is taken to, as libswscale takes it."""
    if name.startswith("gray"):
        return said != LIMITED
    return said == FULL or name.startswith("yuvj")


def _square(coded: Size, aspect: Fraction | None) -> Size:
    """The size with square pixels; the axis that is too small grows, so nothing is lost."""
    if not aspect or aspect == 1:
        return coded
    if aspect > 1:
        return coded._replace(width=round(coded.width * aspect))
    return coded._replace(height=round(coded.height / aspect))


def _timecode(container: InputContainer, rate: Fraction) -> str | None:
    """The timecode of the first frame that the container or a stream of it carries."""
    tags = [container.metadata, *(stream.metadata for stream in container.streams)]
    for metadata in tags:
        text = metadata.get("timecode")
        if text:
            try:
                return str(Timecode.parse(text, rate))
            except ValueError:
                continue
    return None


def _first_frame(container: InputContainer, stream: VideoStream, path: Path) -> av.VideoFrame:
    try:
        container.seek(0, backward=True, any_frame=False)
        for frame in decoded_frames(container, stream):
            return frame
    except av.error.FFmpegError:
        pass
    try:
        with open_container(path) as again:  # some can't be sought to their start
            for frame in decoded_frames(again, picture_stream(again, path)):
                return frame
    except av.error.FFmpegError:
        pass
    raise MediaError(f"{path.name}: its first frame can't be decoded; copy or export it again")


def probe_file(path: Path, reading: InputOverrides = AS_TAGGED) -> Probe:
    """Return what a file holds.

    Args:
        path: of the file.
        reading: what is said of it where its tags are wrong.

    Raises:
        MediaError: it can't be used as a clip.
    """
    with open_container(path) as container:
        return probe_container(container, path, reading)[0]
