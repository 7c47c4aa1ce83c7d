"""A clip by its path: a movie, or numbered stills."""

from dataclasses import replace
from pathlib import Path

from yearning.core.frame_pattern import is_frame_pattern
from yearning.media.decode.deflickered import Deflickered
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.media.decode.retimed import Retimed
from yearning.media.decode.sequence import Sequence

OpenClip = Footage | Sequence | Deflickered | Retimed


def open_clip(
    path: Path, reading: InputOverrides = AS_TAGGED, footage_id: str | None = None
) -> OpenClip:
    """Open a movie, or the stills of a pattern like `DIR/%05d.png`; a context manager.

    Args:
        path: of a movie, or a pattern.
        reading: what is said of it where its tags are wrong.
        footage_id: tells it from every other clip; its path does where none is given.

    Raises:
        MediaError: it can't be used as a clip.
    """
    kind = Sequence if is_frame_pattern(path.name) else Footage
    even = reading.as_shot
    clip: Footage | Sequence | Deflickered = kind(path, footage_id, replace(even, deflicker=None))
    try:
        if even.deflicker is not None:
            assert not isinstance(clip, Deflickered)
            clip = Deflickered(clip, even, even.deflicker)
        return clip if reading.pace == 1 else Retimed(clip, reading)
    except BaseException:
        clip.close()
        raise
