"""Sound decoded to samples for analysis, and written as a file for the browser."""

from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.resampler import AudioResampler
from av.container import OutputContainer
from numpy.typing import NDArray

from yearning.media.atomic_write import atomic_write
from yearning.media.audio.decoded_part import AS_SHOT
from yearning.media.audio.sound import AudioOutput, EncodedAudio, add_audio
from yearning.media.containers import CONTAINERS
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.probe import open_container
from yearning.media.decode.sound_file import probe_sound
from yearning.media.errors import MediaError


def decode_mono(path: Path, rate: int, begins: float = 0.0) -> Iterator[NDArray[np.float32]]:
    """The file's first sound, mixed to one channel, in blocks.

    Args:
        path: the clip's file.
        rate: samples a second of what is given.
        begins: the file's time, in seconds, of the first frame; sound before it is left out, and
            silence put in where the sound begins later.

    Raises:
        MediaError: the file can't be read, or has no sound.
    """
    for block in _decoded_blocks(path, rate, begins, "mono"):
        yield block[0]


def _decoded_blocks(
    path: Path, rate: int, begins: float, layout: str | None
) -> Iterator[NDArray[np.float32]]:
    """The file's first sound as blocks of shape `(channels, count)`, its own channels for None."""
    with open_container(path) as container:
        if not container.streams.audio:
            raise MediaError(f"{path.name}: it has no sound")
        stream = container.streams.audio[0]
        stream.codec_context.thread_type = "AUTO"
        resampler = AudioResampler(format="fltp", layout=layout, rate=rate)
        skip: int | None = None
        try:
            for frame in container.decode(stream):
                if skip is None:
                    skip = round((begins - float(frame.time or 0)) * rate)
                    if skip < 0:
                        yield np.zeros((1, -skip), np.float32)
                for part in resampler.resample(frame):
                    samples = np.asarray(part.to_ndarray(), np.float32)
                    cut = min(max(skip, 0), samples.shape[1])
                    skip -= cut
                    if cut < samples.shape[1]:
                        yield samples[:, cut:]
        except av.error.FFmpegError as error:
            raise MediaError(f"{path.name}: its sound can't be decoded: {error.strerror}") from None


LEVELS_A_SECOND = 50
_LEVELS_RATE = 400 * LEVELS_A_SECOND


def audio_levels(path: Path, begins: float = 0.0) -> NDArray[np.uint8]:
    """How loud a file's first sound is: a peak for each 1/50 s.

    Args:
        path: the file.
        begins: the file's time, in seconds, that the first peak is from.

    Returns:
        The largest sample of any channel without its sign, in 255ths of full scale; shape `(n,)`.

    Raises:
        MediaError: the file can't be read, or has no sound.
    """
    length = _LEVELS_RATE // LEVELS_A_SECOND
    peaks: list[NDArray[np.float32]] = []
    rest = np.empty(0, np.float32)
    for block in _decoded_blocks(path, _LEVELS_RATE, begins, None):
        samples = np.concatenate([rest, np.abs(block).max(0)])
        whole = len(samples) // length * length
        peaks.append(samples[:whole].reshape(-1, length).max(1))
        rest = samples[whole:]
    if len(rest):
        peaks.append(rest.max(keepdims=True))
    found = np.concatenate(peaks) if peaks else rest
    return np.asarray(np.rint(255 * found.clip(0, 1)), np.uint8)


def write_preview_audio(footage: OpenClip, out: Path) -> None:
    """Write the clip's first sound as Opus in WebM, its time 0 that of the first frame.

    Args:
        footage: opened.
        out: path of the file.

    Raises:
        MediaError: it has no sound, or none that can be decoded.
        OSError: there is no room.
    """
    path, probe = footage.path, footage.probe
    if not probe.sounds:
        raise MediaError(f"{path.name}: it has no sound")
    _write_webm(
        path,
        out,
        lambda made: add_audio(
            path,
            probe.sounds[0],
            made,
            CONTAINERS[".webm"],
            footage.begins,
            probe.duration,
            True,
            footage.reading.pace,
        ),
    )


def write_playable(path: Path, out: Path) -> None:
    """Write a file's first sound as Opus in WebM, its time 0 that of its beginning.

    Args:
        path: of a file with sound.
        out: path of the file that is written.

    Raises:
        MediaError: it has no sound, or none that can be decoded.
        OSError: there is no room.
    """
    found = probe_sound(path)
    begins = Fraction(found.begins).limit_denominator(1_000_000)
    encoder = CONTAINERS[".webm"].audio_encoder
    _write_webm(
        path,
        out,
        lambda made: EncodedAudio(path, found.sound, made, encoder, begins, found.seconds, AS_SHOT),
    )


def _write_webm(path: Path, out: Path, add: Callable[[OutputContainer], AudioOutput]) -> None:
    """Write WebM of the sound that `add` adds to it."""
    try:
        with atomic_write(out) as part, av.open(str(part), "w", format="webm") as made:
            sound = add(made)
            try:
                for packet in sound.packets_until(float("inf")):
                    made.mux(packet)
            finally:
                sound.close()
    except av.error.FFmpegError as error:
        raise MediaError(f"{path.name}: its sound can't be played: {error.strerror}") from None
