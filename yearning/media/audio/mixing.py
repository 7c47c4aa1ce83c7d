"""Sounds mixed: added to others sample by sample."""

from collections import deque
from collections.abc import Generator, Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import av
import numpy as np
from numpy.typing import NDArray

from yearning.media.audio.decoded_part import AudioFormat, DecodedPart, frame_of
from yearning.media.decode.clip import open_clip
from yearning.media.decode.probe import SOUND_SUFFIXES, Sound
from yearning.media.decode.sound_file import probe_sound


class MixInput(NamedTuple):
    """A part of a file's sound, and where it is heard."""

    source: Path
    sound: Sound
    at: int
    """The picture that it begins with."""
    start: Fraction
    """Seconds of the file at which it begins."""
    frames: int
    """Of pictures over which it is heard."""
    gain: float = 1.0
    """What its samples are multiplied with."""


def mix_input(path: Path, at: int, start: float, frames: int, level: float) -> MixInput:
    """A part of a file's sound, to be heard besides that of shots.

    Args:
        path: the file, of sound alone or a movie.
        at: the picture that it begins with.
        start: seconds after the file's beginning.
        frames: of pictures over which it is heard.
        level: in dB.

    Raises:
        MediaError: the file can't be read, or has no sound.
    """
    found = probe_sound(path)
    begins = Fraction(found.begins).limit_denominator(1_000_000)
    if path.suffix.lower() not in SOUND_SUFFIXES:
        with open_clip(path) as footage:  # a movie's time 0 is its first picture's
            begins = footage.begins
    begins += Fraction(start).limit_denominator(1_000_000)
    return MixInput(path, found.sound, at, begins, frames, 10 ** (level / 20))


def mix_frames(
    heard: Generator[av.AudioFrame, None, None],
    inputs: Sequence[MixInput],
    wanted: AudioFormat,
    rate: Fraction,
) -> Generator[av.AudioFrame, None, None]:
    """Frames of sound, what is mixed with them added; what goes over full scale is cut off there.

    Frames that nothing is mixed with are given as they are.

    Args:
        heard: frames that follow on one another from sample 0 on.
        inputs: in any order.
        wanted: what the frames are like.
        rate: pictures a second.
    """
    waiting = deque(sorted(inputs, key=lambda each: each.at))
    added: list[_OpenInput] = []
    try:
        for frame in heard:
            first = frame.pts or 0
            while waiting and _sample(waiting[0].at, wanted, rate) < first + frame.samples:
                added.append(_OpenInput(waiting.popleft(), wanted, rate))
            for each in added:
                if each.ends <= first:
                    each.close()
            added = [each for each in added if each.ends > first]
            if not added:
                yield frame
                continue
            packed = frame.to_ndarray()
            samples = _by_sample(packed, wanted).astype(np.float64)
            for each in added:
                each.add_to(samples, first)
            yield frame_of(_pack_samples(samples, packed.dtype, wanted), wanted, first)
    finally:
        for each in added:
            each.close()
        heard.close()


class _OpenInput:
    """A sound that is being added: its samples are read in their order."""

    def __init__(self, source: MixInput, wanted: AudioFormat, rate: Fraction) -> None:
        self._begins = _sample(source.at, wanted, rate)
        self.ends = _sample(source.at + source.frames, wanted, rate)
        self._gain, self._wanted = source.gain, wanted
        self._part = DecodedPart(source.source, source.sound, source.start)
        self._frames = self._part.frames(wanted, self.ends - self._begins)
        self._block: NDArray[Any] = np.zeros((0, 1))
        self._at = self._begins
        """The sample that the block begins at."""

    def add_to(self, samples: NDArray[np.float64], first: int) -> None:
        """Add what is heard, from a sample on.

        Args:
            samples: shape `(n, channels)`; added to.
            first: number of the first of them.
        """
        at, end = max(first, self._begins), min(first + len(samples), self.ends)
        while at < end:
            if at >= self._at + len(self._block):
                frame = next(self._frames, None)
                if frame is None:
                    return
                self._block = _by_sample(frame.to_ndarray(), self._wanted)
                self._at = self._begins + (frame.pts or 0)
                continue
            part = self._block[at - self._at : end - self._at]
            samples[at - first : at - first + len(part)] += self._gain * part
            at += len(part)

    def close(self) -> None:
        """Close the file."""
        self._part.close()


def _sample(picture: int, wanted: AudioFormat, rate: Fraction) -> int:
    """The sample nearest to the beginning of a picture."""
    return round(picture * wanted.rate / rate)


def _by_sample(packed: NDArray[Any], wanted: AudioFormat) -> NDArray[Any]:
    """Samples as PyAV lays them out, shape `(n, channels)`."""
    if wanted.name.endswith("p"):
        return packed.T
    return packed.reshape(-1, len(av.AudioLayout(wanted.layout).channels))


def _pack_samples(
    samples: NDArray[np.float64], kind: np.dtype[Any], wanted: AudioFormat
) -> NDArray[Any]:
    """Samples of shape `(n, channels)` as PyAV lays them out, within full scale."""
    if kind.kind == "f":
        limited = np.clip(samples, -1, 1).astype(kind)
    else:
        scale = np.iinfo(kind)
        limited = np.clip(np.rint(samples), scale.min, scale.max).astype(kind)
    return limited.T if wanted.name.endswith("p") else limited.reshape(1, -1)
