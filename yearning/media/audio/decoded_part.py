"""A part of a file's sound, decoded: so many samples from a time on, stretched where it is said."""

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import av
import numpy as np
from av.audio.resampler import AudioResampler
from numpy.typing import NDArray

from yearning.media.decode.probe import Sound, open_container
from yearning.media.streams import AnyPacket

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


class AudioFormat(NamedTuple):
    """What an encoder takes: FFmpeg's names of the samples and of the channels, and the rate."""

    name: str
    layout: str
    rate: int


class DecodedPart:
    """Sound of a file from a time on.

    Args:
        source: the file.
        sound: which of its streams.
        start: the time that the part begins at, in seconds.
        pace: times as fast as it was shot; another than 1 stretches it, its pitch kept, by
            libavfilter's atempo.
    """

    def __init__(
        self, source: Path, sound: Sound, start: Fraction, pace: Fraction = AS_SHOT
    ) -> None:
        self._start, self._pace = start, pace
        self._sound = sound
        self._container = open_container(source)
        streams = self._container.streams.audio
        self._stream = streams[[s.index for s in streams].index(sound.stream)]
        layout = self._stream.codec_context.layout.name
        if " " in layout:  # "2 channels" does not say which
            layout = LAYOUTS.get(sound.channels, layout)
        self._layout = layout

    def format_for(self, encoder: str) -> AudioFormat:
        """What an encoder is given of it: its own rate and channels, as deep as it is."""
        rate = OPUS_RATE if encoder == "libopus" else self._sound.rate
        deep = encoder == "flac" and "16" not in self._stream.codec_context.format.name
        name = {"aac": "fltp", "libopus": "flt"}.get(encoder, "s32" if deep else "s16")
        return AudioFormat(name, self._layout, rate)

    def frames(self, wanted: AudioFormat, total: int) -> Iterator[av.AudioFrame]:
        """Yield samples without a gap, counted from 0.

        Args:
            wanted: rate, layout and kind of samples.
            total: of the samples; there may be fewer.
        """
        resampler = AudioResampler(format=wanted.name, layout=wanted.layout, rate=wanted.rate)
        heard = self._resampled_frames(resampler)
        if self._pace == AS_SHOT:
            yield from _cut(heard, self._start, total, wanted.rate)
            return
        cut = _cut(heard, self._start, round(total * self._pace), wanted.rate)
        yield from _cut(_stretch_time(cut, self._pace, wanted), Fraction(0), total, wanted.rate)

    def close(self) -> None:
        """Close the file."""
        self._container.close()

    def _resampled_frames(self, resampler: AudioResampler) -> Iterator[av.AudioFrame]:
        packets: Iterator[AnyPacket] = self._container.demux(self._stream)
        for packet in packets:
            try:
                frames = packet.decode()
            except av.error.InvalidDataError:
                continue  # torn: silence takes its place
            for frame in frames:
                assert isinstance(frame, av.AudioFrame)
                named = self._with_layout(frame) if " " in frame.layout.name else frame
                yield from resampler.resample(named)
        yield from resampler.resample(None)

    def _with_layout(self, frame: av.AudioFrame) -> av.AudioFrame:
        """The frame, its channels named as they are taken to be."""
        named = av.AudioFrame.from_ndarray(frame.to_ndarray(), frame.format.name, self._layout)
        named.sample_rate, named.pts, named.time_base = (
            frame.sample_rate,
            frame.pts,
            frame.time_base,
        )
        return named


def _tempos(pace: float) -> list[float]:
    """Factor a pace into tempos that one filter takes."""
    tempos = []
    while not SLOWEST_TEMPO <= pace <= FASTEST_TEMPO:
        tempos.append(SLOWEST_TEMPO if pace < 1 else FASTEST_TEMPO)
        pace /= tempos[-1]
    return [*tempos, pace]


def _pull_frames(graph: av.filter.Graph) -> Iterator[av.AudioFrame]:
    """Yield the frames that a filter graph has ready."""
    while True:
        try:
            frame = graph.pull()
        except (av.error.BlockingIOError, av.error.EOFError):
            return
        assert isinstance(frame, av.AudioFrame)
        yield frame


def _stretch_time(
    frames: Iterator[av.AudioFrame], pace: Fraction, wanted: AudioFormat
) -> Iterator[av.AudioFrame]:
    """The frames, their time 0 kept, made to go `pace` times as fast at the same pitch."""
    rate = wanted.rate
    graph = av.filter.Graph()
    options = f"sample_rate={rate}:sample_fmt={wanted.name}:channel_layout={wanted.layout}"
    chain = [graph.add("abuffer", f"{options}:time_base=1/{rate}")]
    chain += [graph.add("atempo", f"{tempo:.9f}") for tempo in _tempos(float(pace))]
    chain.append(graph.add("aformat", f"sample_fmts={wanted.name}"))
    chain.append(graph.add("abuffersink"))
    graph.link_nodes(*chain).configure()
    last = None
    for last in frames:
        graph.push(last)
        yield from _pull_frames(graph)
    if last is not None:  # atempo keeps back what its windows do not fill
        quiet = _silence(last, round(rate * WINDOWS * max(float(pace), 1.0)))
        graph.push(frame_of(quiet, AudioFormat(last.format.name, last.layout.name, rate),
                            (last.pts or 0) + last.samples))  # fmt: skip
    graph.push(None)
    yield from _pull_frames(graph)


def _cut(
    frames: Iterator[av.AudioFrame], start: Fraction, total: int, rate: int
) -> Iterator[av.AudioFrame]:
    """`total` samples from the time `start` on, without a gap."""
    at = 0
    for frame in frames:
        like = AudioFormat(frame.format.name, frame.layout.name, rate)
        if frame.pts is not None and frame.time_base is not None:
            begins = round((frame.pts * frame.time_base - start) * rate)
        else:
            begins = at
        if begins - at > GAP * rate:
            quiet = min(begins, total) - at
            if quiet > 0:
                yield frame_of(_silence(frame, quiet), like, at)
                at += quiet
        elif at - begins <= GAP * rate and at > 0:
            begins = at
        samples = frame.to_ndarray()
        channels = 1 if frame.format.is_planar else len(frame.layout.channels)
        first, last = max(at - begins, 0), min(frame.samples, total - begins)
        if first >= last:
            continue
        yield frame_of(samples[:, first * channels : last * channels], like, at)
        at += last - first
        if at >= total:
            return


def _silence(like: av.AudioFrame, count: int) -> NDArray[Any]:
    samples = like.to_ndarray()
    channels = 1 if like.format.is_planar else len(like.layout.channels)
    return np.zeros((samples.shape[0], count * channels), samples.dtype)


def frame_of(samples: NDArray[Any], wanted: AudioFormat, at: int) -> av.AudioFrame:
    """Return a frame of samples as PyAV has it.

    Args:
        samples: as they lie in it.
        wanted: rate, layout and kind of samples.
        at: number of the first of them.
    """
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(samples), wanted.name, wanted.layout)
    frame.sample_rate, frame.pts, frame.time_base = wanted.rate, at, Fraction(1, wanted.rate)
    return frame
