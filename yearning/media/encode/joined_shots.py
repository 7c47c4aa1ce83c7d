"""Shots in one movie: their finished segments and their sound, cut after cut, and gaps in black."""

import os
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import NamedTuple

import av
import numpy as np

from yearning.core.picture import new_picture
from yearning.media.atomic_write import atomic_write
from yearning.media.audio.joined import HeardShot, JoinedAudio
from yearning.media.audio.mixing import MixInput
from yearning.media.containers import CONTAINERS
from yearning.media.decode.probe import Probe
from yearning.media.encode.encoder import Encoder, stream_shape
from yearning.media.encode.results import Output
from yearning.media.encode.segment import Piece, Segment, abandon, packets_of
from yearning.media.errors import MediaError
from yearning.media.streams import packet_time


class JoinedShot(NamedTuple):
    """A shot, or a gap, of a movie of several."""

    pieces: list[Piece]
    heard: HeardShot


def check_alike(probes: Sequence[tuple[str, Probe]], ending: str, output: Output) -> None:
    """Make sure that shots can be one stream.

    Args:
        probes: of their clips, each with what it is called.
        ending: of the movie.
        output: how it is written.

    Raises:
        MediaError: one differs from the first in size, rate, depth, chroma or primaries.
    """
    first = stream_shape(probes[0][1], ending, output)
    for name, probe in probes:
        differs = first.differs_in(stream_shape(probe, ending, output))
        if differs:
            raise MediaError(
                f"{name}: {differs}, as the first shot is; one file has one kind of picture: say "
                "--height or --bits, or render shot by shot, into a folder"
            )


def black_gap(path: Path, probe: Probe, frames: int, ending: str, output: Output) -> JoinedShot:
    """Write a segment of black and silence, and return it as a shot to be joined.

    Args:
        path: of the segment.
        probe: of a clip as whose pictures it is encoded.
        frames: of the gap.
        ending: of the result.
        output: how the result is written.
    """
    black = new_picture(stream_shape(probe, ending, output).size)
    black.fill(np.float32(0))
    with Segment(path, probe, 0, ending, output) as segment:
        for n in range(frames):
            segment.write(n, black)
    return JoinedShot([Piece(path, frames)], HeardShot.silence(frames))


def join_shots(
    path: Path,
    shots: Sequence[JoinedShot],
    probe: Probe,
    rate: Fraction,
    output: Output,
    inputs: Sequence[MixInput] = (),
) -> None:
    """Write the movie `path` of shots; it appears only when it is whole.

    Args:
        path: where it goes; the ending says as what.
        shots: in their order.
        probe: of the first shot's clip, as all are.
        rate: frames a second.
        output: how the segments were written.
        inputs: what is heard besides the shots.

    Raises:
        MediaError: it can't be written, or a segment is not whole.
        OSError: there is no room.
    """
    container = CONTAINERS[path.suffix.lower()]
    heard = [shot.heard for shot in shots]
    with atomic_write(path) as part:
        out = av.open(str(part), "w", format=container.muxer, options=dict(container.options))
        sound = None
        try:
            encoder = Encoder(out, probe, container.suffix, output)
            with encoder.reporting_errors(path.name):
                if inputs or any(each.sound is not None for each in heard):
                    sound = JoinedAudio(heard, inputs, rate, out, container.audio_encoder)
                for packet in packets_of([p for shot in shots for p in shot.pieces], encoder):
                    now = float(packet_time(packet))
                    out.mux(packet)
                    for each in sound.packets_until(now) if sound else ():
                        out.mux(each)
                for each in sound.packets_until(float("inf")) if sound else ():
                    out.mux(each)
                out.close()
        except BaseException:
            abandon(out)
            raise
        finally:
            if sound is not None:
                sound.close()
        with part.open("rb") as written:
            os.fsync(written.fileno())
