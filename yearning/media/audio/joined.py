"""The sound of several shots, one after the other, and what is mixed with it, as one stream."""

from collections.abc import Generator, Sequence
from contextlib import closing
from fractions import Fraction
from itertools import islice
from pathlib import Path
from typing import NamedTuple

import av
import numpy as np
from av.container import OutputContainer

from yearning.media.audio.decoded_part import AudioFormat, DecodedPart, frame_of
from yearning.media.audio.mixing import MixInput, mix_frames
from yearning.media.audio.sound import EncodedFrames, encoded_stream
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.probe import Sound

QUIET = 4096
"""Samples of a frame of silence, at the most."""


class HeardShot(NamedTuple):
    """What of a file is heard over a shot."""

    source: Path | None
    """None where nothing is."""
    sound: Sound | None
    start: Fraction
    """Seconds of the file at which it begins."""
    pace: Fraction
    frames: int
    """Of pictures over which it is heard."""

    @staticmethod
    def of(footage: OpenClip, first: int, frames: int) -> "HeardShot":
        """Return the first sound of a clip over a range; silence where it has none.

        Args:
            footage: opened.
            first: frame of the clip.
            frames: of the range.
        """
        sounds, pace = footage.probe.sounds, footage.reading.pace
        if not sounds:
            return HeardShot.silence(frames)
        start = footage.begins + pace * first / footage.probe.rate
        return HeardShot(footage.path, sounds[0], start, pace, frames)

    @staticmethod
    def silence(frames: int) -> "HeardShot":
        """Nothing, over so many pictures."""
        return HeardShot(None, None, Fraction(0), Fraction(1), frames)


class JoinedAudio(EncodedFrames):
    """The sound of shots on its way into a result, with silence where one has none.

    It has the rate of the first that sounds, and its channels, or those of a sound that is
    mixed with it, if it has more; shot n begins at the sample nearest to its first picture.

    Args:
        shots: in their order.
        inputs: what is heard besides; of both one has sound at least.
        rate: pictures a second.
        out: the result.
        encoder: FFmpeg's, of the sound.
    """

    def __init__(
        self,
        shots: Sequence[HeardShot],
        inputs: Sequence[MixInput],
        rate: Fraction,
        out: OutputContainer,
        encoder: str,
    ) -> None:
        of_shots = ((shot.source, shot.sound) for shot in shots if shot.source and shot.sound)
        heard = [*islice(of_shots, 1), *((each.source, each.sound) for each in inputs)]
        source, sound = max(heard, key=lambda each: each[1].channels)
        with closing(DecodedPart(source, sound, Fraction(0))) as part:
            wanted = part.format_for(encoder)
        with closing(DecodedPart(*heard[0], Fraction(0))) as part:
            self._format = wanted._replace(rate=part.format_for(encoder).rate)
        self._shots, self._picture_rate = shots, rate
        self._frames = mix_frames(self._join_shots(), inputs, self._format, rate)
        super().__init__(
            encoded_stream(out, encoder, self._format, sound), self._frames, self._format.rate
        )

    def close(self) -> None:
        """Close the file that is being read."""
        self._frames.close()

    def _join_shots(self) -> Generator[av.AudioFrame, None, None]:
        shown, begins = 0, 0
        for shot in self._shots:
            shown += shot.frames
            ends = round(shown * self._format.rate / self._picture_rate)
            at = begins
            if shot.source is not None and shot.sound is not None:
                part = DecodedPart(shot.source, shot.sound, shot.start, shot.pace)
                with closing(part):
                    for frame in part.frames(self._format, ends - begins):
                        at = begins + (frame.pts or 0) + frame.samples
                        frame.pts = begins + (frame.pts or 0)
                        yield frame
            while at < ends:
                count = min(QUIET, ends - at)
                yield silence(self._format, count, at)
                at += count
            begins = ends


def silence(wanted: AudioFormat, count: int, at: int) -> av.AudioFrame:
    """Return a frame of samples of nothing.

    Args:
        wanted: rate, layout and kind of samples.
        count: of the samples.
        at: number of the first of them.
    """
    layout = av.AudioLayout(wanted.layout)
    channels = len(layout.channels)
    kind = {"s16": np.int16, "s32": np.int32}.get(wanted.name, np.float32)
    planar = wanted.name.endswith("p")
    shape = (channels, count) if planar else (1, channels * count)
    return frame_of(np.zeros(shape, kind), wanted, at)
