"""The footage's sound in a result: copied packet by packet, or made anew where it can't be."""

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Protocol

import av
from av.audio.stream import AudioStream
from av.container import OutputContainer

from yearning.media.audio.decoded_part import AS_SHOT, AudioFormat, DecodedPart
from yearning.media.containers import Container
from yearning.media.decode.probe import Sound, open_container
from yearning.media.streams import AnyPacket, add_audio_stream

BIT_RATE_A_CHANNEL = {"aac": 128_000, "libopus": 96_000}


class AudioOutput(Protocol):
    """One stream of sound on its way into a result."""

    def packets_until(self, seconds: float) -> Iterator[AnyPacket]:
        """The packets that begin before the result's time `seconds` and were not given yet."""

    def close(self) -> None:
        """Close the footage's file."""


def add_audio(
    source: Path,
    sound: Sound,
    out: OutputContainer,
    container: Container,
    start: Fraction,
    seconds: float,
    trimmed: bool,
    pace: Fraction = AS_SHOT,
) -> AudioOutput:
    """A stream of the footage's sound, added to `out`.

    It is copied where the container holds it. A part of it is cut to the sample: in MP4 by an edit
    list around copied packets; elsewhere it is made anew, losslessly in Matroska. At another speed
    it is stretched, its pitch kept, by libavfilter's atempo.

    Args:
        source: the footage's file.
        sound: which of its streams.
        out: the result.
        container: the result's format.
        start: the footage's time, in seconds, that is the result's 0.
        seconds: how long the result is.
        trimmed: whether that is a part of the footage.
        pace: times as fast as it was shot.
    """
    can_be_cut = not trimmed or container.has_edit_lists
    if pace == AS_SHOT and container.holds_audio(sound.codec) and can_be_cut:
        return CopiedAudio(source, sound, out, start, seconds if trimmed else float("inf"))
    return EncodedAudio(source, sound, out, container.audio_encoder, start, seconds, pace)


class CopiedAudio:
    """Packets as they were encoded; `seconds` may be infinite."""

    def __init__(
        self, source: Path, sound: Sound, out: OutputContainer, start: Fraction, seconds: float
    ) -> None:
        self._start = start
        self._seconds = seconds
        self._container = open_container(source)
        stream = self._container.streams[sound.stream]
        self._stream = out.add_stream_from_template(stream)
        if sound.language:
            self._stream.metadata["language"] = sound.language
        self._packets = self._container.demux(stream)
        self._waiting: AnyPacket | None = None

    def packets_until(self, seconds: float) -> Iterator[AnyPacket]:
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
            lasts = float((packet.duration or 0) * base)
            if begins + lasts <= 0 and self._start > 0:
                continue
            if begins + lasts > self._seconds:
                packet.duration = max(1, round((self._seconds - begins) / base))
            shift = round(self._start / base)
            packet.pts -= shift
            packet.dts = packet.pts if packet.dts is None else packet.dts - shift
            packet.stream = self._stream
            yield packet

    def close(self) -> None:
        """Close the footage's file."""
        self._container.close()


class EncodedFrames:
    """Frames of sound that are encoded anew, as far as they are asked for.

    Args:
        stream: of the result.
        heard: the frames, from sample 0 on.
        rate: samples a second.
    """

    def __init__(self, stream: AudioStream, heard: Iterator[av.AudioFrame], rate: int) -> None:
        self._stream, self._heard, self._rate = stream, heard, rate
        self._given = 0
        self._done = False

    def packets_until(self, seconds: float) -> Iterator[AnyPacket]:
        """The packets of the sound before the result's time `seconds` and not given yet."""
        while not self._done and self._given < seconds * self._rate:
            frame = next(self._heard, None)
            if frame is None:
                self._done = True
                yield from self._stream.encode(None)
                return
            self._given = (frame.pts or 0) + frame.samples
            yield from self._stream.encode(frame)


class EncodedAudio(EncodedFrames):
    """Sound decoded, cut to the sample, stretched where the clip is, and encoded anew."""

    def __init__(
        self,
        source: Path,
        sound: Sound,
        out: OutputContainer,
        encoder: str,
        start: Fraction,
        seconds: float,
        pace: Fraction,
    ) -> None:
        self._part = DecodedPart(source, sound, start, pace)
        wanted = self._part.format_for(encoder)
        heard = self._part.frames(wanted, round(seconds * wanted.rate))
        super().__init__(encoded_stream(out, encoder, wanted, sound), heard, wanted.rate)

    def close(self) -> None:
        """Close the footage's file."""
        self._part.close()


def encoded_stream(
    out: OutputContainer, encoder: str, wanted: AudioFormat, sound: Sound
) -> AudioStream:
    """Add a stream of sound that is encoded anew, and return it.

    Args:
        out: open for writing.
        encoder: FFmpeg's name of it.
        wanted: rate, layout and kind of samples.
        sound: that is encoded.
    """
    stream = add_audio_stream(out, encoder, wanted.rate, wanted.layout)
    stream.codec_context.format = wanted.name
    if encoder in BIT_RATE_A_CHANNEL:
        stream.codec_context.bit_rate = BIT_RATE_A_CHANNEL[encoder] * sound.channels
    if sound.language:
        stream.metadata["language"] = sound.language
    return stream
