"""Streams and packets of PyAV, narrowed to the kind that is meant."""

from fractions import Fraction
from typing import TYPE_CHECKING, Any

from av.audio.stream import AudioStream
from av.container import OutputContainer
from av.packet import Packet
from av.video.stream import VideoStream

if TYPE_CHECKING:
    AnyPacket = Packet[Any]
else:
    AnyPacket = Packet  # generic in its types alone


def add_video_stream(out: OutputContainer, encoder: str, rate: Fraction | int) -> VideoStream:
    """Add a stream of pictures to a container and return it.

    Args:
        out: open for writing.
        encoder: FFmpeg's name of it.
        rate: frames a second.
    """
    stream = out.add_stream(encoder, rate=rate)
    assert isinstance(stream, VideoStream)
    return stream


def add_audio_stream(out: OutputContainer, encoder: str, rate: int, layout: str) -> AudioStream:
    """Add a stream of sound to a container and return it.

    Args:
        out: open for writing.
        encoder: FFmpeg's name of it.
        rate: samples a second.
        layout: FFmpeg's name of the channels.
    """
    stream = out.add_stream(encoder, rate=rate, layout=layout)
    assert isinstance(stream, AudioStream)
    return stream


def packet_time(packet: AnyPacket) -> Fraction:
    """When a packet is to be shown or heard, in seconds."""
    assert packet.pts is not None
    return packet.pts * packet.time_base
