"""The footage's sound in a result: copied packet by packet, or made anew where it can't be."""

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any, Protocol

import av
import numpy as np
from av.audio.resampler import AudioResampler
from av.container import OutputContainer
from numpy.typing import NDArray

from yearning.media.containers import Container
from yearning.media.decode.probe import Sound, open_container
from yearning.media.streams import AnyPacket, add_audio_stream

BIT_RATE_A_CHANNEL = {"aac": 128_000, "libopus": 96_000}

OPUS_RATE = 48000
"""RFC 6716 has five rates; this one holds all that can be heard."""

GAP = 0.02
"""Seconds without sound from which silence is put in; less is a clock's roundness."""


LAYOUTS = {1: "mono", 2: "stereo", 3: "2.1", 4: "quad", 5: "5.0", 6: "5.1", 7: "6.1", 8: "7.1"}
"""What sound of so many channels is when it does not say. Common practice, no source."""


AS_SHOT = Fraction(1)

WINDOWS = 0.25
"""Seconds of silence that bring out all of stretched sound."""

SLOWEST_TEMPO, FASTEST_TEMPO = 0.5, 2.0
"""What one atempo takes; a faster one would leave sound out (FFmpeg Filters Documentation)."""


def _tempos(pace: float) -> list[float]:
    """Factor a pace into tempos that one filter takes."""
    tempos = []
    while not SLOWEST_TEMPO <= pace <= FASTEST_TEMPO:
        tempos.append(SLOWEST_TEMPO if pace < 1 else FASTEST_TEMPO)
        pace /= tempos[-1]
    return [*tempos, pace]


def _pulled(graph: av.filter.Graph) -> Iterator[av.AudioFrame]:
    """Yield the frames that a filter graph has ready."""
    while True:
        try:
            frame = graph.pull()
        except (av.error.BlockingIOError, av.error.EOFError):
            return
        assert isinstance(frame, av.AudioFrame)
        yield frame


class AudioOutput(Protocol):
    """One stream of sound on its way into a result."""

    def until(self, seconds: float) -> Iterator[AnyPacket]:
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

    def until(self, seconds: float) -> Iterator[AnyPacket]:
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


class EncodedAudio:
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
        self._container = open_container(source)
        stream = self._container.streams.audio[
            [s.index for s in self._container.streams.audio].index(sound.stream)
        ]
        self._rate = OPUS_RATE if encoder == "libopus" else sound.rate
        layout = stream.codec_context.layout.name
        if " " in layout:  # "2 channels" does not say which
            layout = LAYOUTS.get(sound.channels, layout)
        self._layout = layout
        deep = encoder == "flac" and "16" not in stream.codec_context.format.name
        format_name = {"aac": "fltp", "libopus": "flt"}.get(encoder, "s32" if deep else "s16")
        self._stream = add_audio_stream(out, encoder, self._rate, layout)
        self._stream.codec_context.format = format_name
        if encoder in BIT_RATE_A_CHANNEL:
            self._stream.codec_context.bit_rate = BIT_RATE_A_CHANNEL[encoder] * sound.channels
        if sound.language:
            self._stream.metadata["language"] = sound.language
        self._resampler = AudioResampler(format=format_name, layout=layout, rate=self._rate)
        total = round(seconds * self._rate)
        heard = self._resampled(self._container.demux(stream))
        if pace != AS_SHOT:
            cut = self._cut(heard, start, round(seconds * self._rate * pace))
            heard, start = self._stretched(cut, pace, format_name), Fraction(0)
        self._heard = self._cut(heard, start, total)
        self._given = 0
        self._done = False

    def _resampled(self, packets: Iterator[AnyPacket]) -> Iterator[av.AudioFrame]:
        for packet in packets:
            try:
                frames = packet.decode()
            except av.error.InvalidDataError:
                continue  # torn: silence takes its place
            for frame in frames:
                assert isinstance(frame, av.AudioFrame)
                named = self._with_layout(frame) if " " in frame.layout.name else frame
                yield from self._resampler.resample(named)
        yield from self._resampler.resample(None)

    def _with_layout(self, frame: av.AudioFrame) -> av.AudioFrame:
        """The frame, its channels named as they are taken to be."""
        named = av.AudioFrame.from_ndarray(frame.to_ndarray(), frame.format.name, self._layout)
        named.sample_rate, named.pts, named.time_base = (
            frame.sample_rate,
            frame.pts,
            frame.time_base,
        )
        return named

    def _stretched(
        self, frames: Iterator[av.AudioFrame], pace: Fraction, format_name: str
    ) -> Iterator[av.AudioFrame]:
        """The frames, their time 0 kept, made to go `pace` times as fast at the same pitch."""
        graph = av.filter.Graph()
        options = f"sample_rate={self._rate}:sample_fmt={format_name}:channel_layout={self._layout}"
        chain = [graph.add("abuffer", f"{options}:time_base=1/{self._rate}")]
        chain += [graph.add("atempo", f"{tempo:.9f}") for tempo in _tempos(float(pace))]
        chain.append(graph.add("aformat", f"sample_fmts={format_name}"))
        chain.append(graph.add("abuffersink"))
        graph.link_nodes(*chain).configure()
        last = None
        for last in frames:
            graph.push(last)
            yield from _pulled(graph)
        if last is not None:  # atempo keeps back what its windows do not fill
            quiet = self._silence(last, round(self._rate * WINDOWS * max(float(pace), 1.0)))
            graph.push(self._frame(quiet, last, (last.pts or 0) + last.samples))
        graph.push(None)
        yield from _pulled(graph)

    def _cut(
        self, frames: Iterator[av.AudioFrame], start: Fraction, total: int
    ) -> Iterator[av.AudioFrame]:
        """`total` samples from the time `start` on, without a gap."""
        at = 0
        for frame in frames:
            if frame.pts is not None and frame.time_base is not None:
                begins = round((frame.pts * frame.time_base - start) * self._rate)
            else:
                begins = at
            if begins - at > GAP * self._rate:
                quiet = min(begins, total) - at
                if quiet > 0:
                    yield self._frame(self._silence(frame, quiet), frame, at)
                    at += quiet
            elif at - begins <= GAP * self._rate and at > 0:
                begins = at
            samples = frame.to_ndarray()
            channels = 1 if frame.format.is_planar else len(frame.layout.channels)
            first, last = max(at - begins, 0), min(frame.samples, total - begins)
            if first >= last:
                continue
            yield self._frame(samples[:, first * channels : last * channels], frame, at)
            at += last - first
            if at >= total:
                return

    def _silence(self, like: av.AudioFrame, count: int) -> NDArray[Any]:
        samples = like.to_ndarray()
        channels = 1 if like.format.is_planar else len(like.layout.channels)
        return np.zeros((samples.shape[0], count * channels), samples.dtype)

    def _frame(self, samples: NDArray[Any], like: av.AudioFrame, at: int) -> av.AudioFrame:
        frame = av.AudioFrame.from_ndarray(
            np.ascontiguousarray(samples), like.format.name, like.layout.name
        )
        frame.sample_rate, frame.pts, frame.time_base = self._rate, at, Fraction(1, self._rate)
        return frame

    def until(self, seconds: float) -> Iterator[AnyPacket]:
        """The packets of the sound before the result's time `seconds` and not given yet."""
        while not self._done and self._given < seconds * self._rate:
            frame = next(self._heard, None)
            if frame is None:
                self._done = True
                yield from self._stream.encode(None)
                return
            self._given = (frame.pts or 0) + frame.samples
            yield from self._stream.encode(frame)

    def close(self) -> None:
        """Close the footage's file."""
        self._container.close()
