"""What sound is in a file: of sound alone, or of a movie."""

from pathlib import Path
from typing import NamedTuple

import av

from yearning.media.decode.probe import Sound, check_sound_rate, open_container
from yearning.media.errors import MediaError

MAX_SECONDS = 24 * 3600.0


class SoundFile(NamedTuple):
    """The first sound of a file."""

    sound: Sound
    begins: float
    """The time in seconds that the file calls its beginning."""
    seconds: float


def probe_sound(path: Path) -> SoundFile:
    """What sound is in a file: of sound alone, or of a movie.

    Raises:
        MediaError: it can't be read, or has no sound.
    """
    with open_container(path) as container:
        streams = container.streams.audio
        if not streams or not streams[0].rate:
            raise MediaError(f"{path.name}: it has no sound")
        stream = streams[0]
        check_sound_rate(path.name, stream.rate)
        context = stream.codec_context
        try:
            first = next(container.decode(stream))
        except (StopIteration, av.error.FFmpegError):
            raise MediaError(f"{path.name}: its sound can't be decoded") from None
        lasts = container.duration / av.time_base if container.duration else 0.0
        if stream.duration is not None and stream.time_base is not None:
            lasts = float(stream.duration * stream.time_base)
        if not 0 < lasts <= MAX_SECONDS:
            raise MediaError(f"{path.name}: does not say how long its sound is; save it anew")
        name = context.codec.canonical_name
        sound = Sound(stream.index, name, stream.rate, stream.channels, stream.language)
        return SoundFile(sound, float(first.time or 0), lasts)
