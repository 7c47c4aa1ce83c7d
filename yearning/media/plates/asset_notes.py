"""What the user is told of a look's tracks and mattes that fall short of a clip."""

from collections.abc import Iterator
from pathlib import Path

from yearning.core.look.document import Look, named_files
from yearning.core.masks.matte import MattePicture
from yearning.media.decode.clip import OpenClip
from yearning.media.plates.assets import assets_in


def asset_notes(look: Look, folder: Path, clip: OpenClip, first: int, last: int) -> Iterator[str]:
    """Say where a track is lost, and which matte is of another length; the look is shown so.

    Args:
        look: its files can all be read.
        folder: that they are named from.
        clip: on which it is shown.
        first: frame that is shown.
        last: frame that is shown.

    Yields:
        A line each, that begins with the place.
    """
    found, pace = assets_in(folder), clip.reading.pace
    shot = int(first * pace), int(last * pace)
    for named in named_files(look):
        if named.kind == "track":
            track = found.track(named.name)
            for begin, end in track.lost_ranges(shot[1] + 1) if track is not None else ():
                if end >= shot[0]:
                    at = f"frames {begin} to {end}" if end > begin else f"frame {begin}"
                    yield f"{named.path}: {named.name} is lost at {at}; what rides on it stays"
        elif isinstance(named.treatment, MattePicture):
            count = found.plate(named.name).frames
            if count not in (1, clip.frames):
                yield (
                    f"{named.path}: {named.name} has {count} frames and the clip {clip.frames}; "
                    "after its last, that stays"
                )
