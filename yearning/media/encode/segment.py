"""A segment: some frames of a result, encoded by themselves, to be joined with others.

Segments are NUT files, which hold any codec's packets and times exactly. Each begins with a key
frame and leans on nothing outside it.
"""

from collections.abc import Iterable, Iterator
from contextlib import ExitStack, closing, suppress
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import av
from av.bitstream import BitStreamFilterContext
from av.container import OutputContainer
from av.video.stream import VideoStream

from yearning.core.picture import Picture, Plane
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.probe import Probe
from yearning.media.encode.encoder import Encoder
from yearning.media.encode.results import Output
from yearning.media.errors import MediaError
from yearning.media.streams import AnyPacket, packet_time

SEGMENT = ".nut"


class Segment:
    """A segment being written; a context manager. The file appears only when it is whole.

    Args:
        path: where it goes.
        probe: the footage.
        first: its first frame.
        ending: the result's, which says as what it is encoded.
        output: how it is written.

    Raises:
        MediaError: what is asked can't be had.
    """

    def __init__(self, path: Path, probe: Probe, first: int, ending: str, output: Output) -> None:
        self._path = path
        self._first = first
        with ExitStack() as undone:
            part = undone.enter_context(atomic_write(path))
            self._out: OutputContainer = av.open(str(part), "w", format="nut")
            undone.push(self._close)
            self._encoder = Encoder(self._out, probe, ending, output)
            self._undone = undone.pop_all()

    def __enter__(self) -> "Segment":
        return self

    def __exit__(self, kind: Any = None, *reason: Any) -> None:
        self._undone.__exit__(kind, *reason)

    def write(self, frame: int, picture: Picture, alpha: Plane | None = None) -> None:
        """Encode the picture of the footage's frame `frame`, and an overlay's alpha.

        Args:
            frame: of the footage.
            picture: display-coded, shape `(3, height, width)`.
            alpha: of an overlay; None for none.
        """
        with self._encoder.reporting_errors(self._path.name):
            self._out.mux(self._encoder.packets(frame - self._first, picture, alpha))

    def _close(self, kind: object, *reason: object) -> None:
        try:
            if kind is None:
                with self._encoder.reporting_errors(self._path.name):
                    self._out.mux(self._encoder.rest())
                    self._out.close()
        finally:
            abandon(self._out)


def abandon(out: OutputContainer) -> None:
    """Close a file that is not to be kept, or is closed already."""
    with suppress(av.error.FFmpegError, ValueError):
        out.close()


class Piece(NamedTuple):
    """A finished segment, or a result of just those frames: its file, and how many it has."""

    path: Path
    frames: int


def packets_of(pieces: list[Piece], encoder: Encoder) -> Iterator[AnyPacket]:
    """Yield the packets of segments one after the other, with the times they have in the whole.

    Args:
        pieces: in their order.
        encoder: of the whole.

    Raises:
        MediaError: a segment has not the frames it should have.
    """
    begun, delay = 0, max((_delay(piece, encoder.rate) for piece in pieces), default=0)
    for piece in pieces:
        count = 0
        for packet, number in _numbered_packets(piece, encoder.rate):
            packet.time_base = 1 / encoder.rate
            packet.pts = begun + number
            packet.dts = begun + count - delay
            packet.duration = 1
            packet.stream = encoder.stream
            count += 1
            yield packet
        if count != piece.frames:
            raise MediaError(
                f"{piece.path.name}: has {count} frames instead of {piece.frames}; render it again"
            )
        begun += count


def _numbered_packets(piece: Piece, rate: Fraction) -> Iterator[tuple[AnyPacket, int]]:
    """A piece's packets as they are decoded, each with the number of its picture."""
    with closing(av.open(str(piece.path))) as container:
        stream = container.streams.video[0]
        first = None
        for packet in _as_encoded(container.demux(stream), stream, piece.path):
            number = round(packet_time(packet) * rate)
            first = number if first is None else first
            yield packet, number - first


def _as_encoded(
    packets: Iterable[AnyPacket], stream: VideoStream, path: Path
) -> Iterator[AnyPacket]:
    """Packets as the encoder gave them: those of H.264 have another form in movies."""
    if path.suffix == SEGMENT or stream.codec_context.name != "h264":
        yield from (packet for packet in packets if packet.size)
        return
    to_stream = BitStreamFilterContext("h264_mp4toannexb", stream)
    for packet in packets:
        if packet.size:
            yield from to_stream.filter(packet)


def _delay(piece: Piece, rate: Fraction) -> int:
    """By how many frames decoding is ahead of what is shown.

    A segment begins with the decoding time 0, so it is what its first picture is shown at.
    """
    if piece.path.suffix != SEGMENT:
        return max(
            (n - number for n, (_, number) in enumerate(_numbered_packets(piece, rate))), default=0
        )
    with closing(av.open(str(piece.path))) as container:
        for packet in container.demux(container.streams.video[0]):
            if packet.size:
                return round(packet_time(packet) * rate)
    return 0
