"""Moving pictures out: segments of encoded frames and the footage's sound in one file."""

import os
from collections.abc import Sequence
from pathlib import Path

import av
from av.container import OutputContainer

from yearning.media.atomic_write import atomic_write
from yearning.media.audio.sound import AudioOutput, add_audio
from yearning.media.containers import CONTAINERS, Container
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.probe import ALPHA_TAG, STRAIGHT, Sound
from yearning.media.encode.encoder import Encoder
from yearning.media.encode.results import Output
from yearning.media.encode.segment import Piece, abandon, packets_of
from yearning.media.streams import packet_time
from yearning.media.timecode import Timecode


def join(path: Path, footage: OpenClip, first: int, output: Output, pieces: list[Piece]) -> None:
    """Write the movie `path` of finished segments; it appears only when it is whole.

    Args:
        path: where it goes; the ending says as what.
        footage: the clip, for its sound, rate, timecode and tags.
        first: the first frame rendered; the result's time 0.
        output: how the segments were written.
        pieces: the segments, in order.

    Raises:
        MediaError: the sound can't be written, or a segment is not whole.
        OSError: there is no room.
    """
    container = CONTAINERS[path.suffix.lower()]
    sounds = [] if output.overlay else footage.probe.sounds  # it lies over what sounds already
    outputs: list[AudioOutput] = []
    with atomic_write(path) as part:
        out = av.open(str(part), "w", format=container.muxer, options=dict(container.options))
        try:
            if output.overlay:
                out.metadata[ALPHA_TAG] = STRAIGHT
            encoder = Encoder(out, footage.probe, container.suffix, output)
            with encoder.reporting_errors(path.name):
                _write(out, encoder, footage, first, container, pieces, sounds, outputs)
                out.close()
        except BaseException:
            abandon(out)
            raise
        finally:
            for audio in outputs:
                audio.close()
        with part.open("rb") as written:
            os.fsync(written.fileno())


def _write(
    out: OutputContainer,
    encoder: Encoder,
    footage: OpenClip,
    first: int,
    container: Container,
    pieces: list[Piece],
    sounds: Sequence[Sound],
    outputs: list[AudioOutput],
) -> None:
    probe = footage.probe
    frames = sum(piece.frames for piece in pieces)
    if probe.timecode is not None:
        out.metadata["timecode"] = str(Timecode.parse(probe.timecode, probe.rate).plus(first))
    pace = footage.reading.pace
    start, seconds = footage.begins + pace * first / probe.rate, float(frames / probe.rate)
    for sound in sounds:
        trimmed = frames < probe.frames
        outputs.append(
            add_audio(footage.path, sound, out, container, start, seconds, trimmed, pace)
        )
    for packet in packets_of(pieces, encoder):
        now = float(packet_time(packet))
        out.mux(packet)
        for audio in outputs:
            for heard in audio.packets_until(now):
                out.mux(heard)
    for audio in outputs:
        for heard in audio.packets_until(float("inf")):
            out.mux(heard)
