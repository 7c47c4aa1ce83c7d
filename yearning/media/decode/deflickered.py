"""A clip whose pumping exposure is evened; its light is measured once, and kept in a cache."""

import hashlib
import os
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_like
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.measure.deflicker import ExposureTrace, even_gains
from yearning.core.motion.cuts import COLUMNS, ROWS
from yearning.core.picture import Picture, Size
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.clip_wrapper import ClipWrapper
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.sequence import Sequence, found_stills

LINES = 72
"""Lines of the pictures that are measured: their mean luma is the clip's to a tenth of a code."""


def _cache() -> Path:
    home = os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache"
    for folder in (Path(home) / "yearning", Path(tempfile.gettempdir()) / "yearning"):
        try:
            folder.mkdir(parents=True, exist_ok=True)
            if os.access(folder, os.W_OK):
                return folder
        except OSError:
            continue
    return Path(tempfile.mkdtemp(prefix="yearning"))


def _place(clip: Footage | Sequence) -> Path:
    """Return the cache file of a clip's light, named by its files and how they are read."""
    files = found_stills(clip.path) if is_frame_pattern(clip.path.name) else [clip.path]
    stats = [file.stat() for file in files]
    stamps = [(s.st_size, s.st_mtime_ns) for s in stats]
    identity = f"{clip.path.resolve()}|{stamps}|{clip.reading.key}"
    return _cache() / f"{hashlib.sha256(identity.encode()).hexdigest()[:24]}.light.npy"


def measure_light(clip: Footage | Sequence) -> Iterator[int]:
    """Measure a clip's light if it was not yet; yield how many frames are done.

    Raises:
        MediaError: a frame can't be read.
        OSError: there is no room to keep it.
    """
    place = _place(clip)
    if place.exists():
        return
    wide = max(LINES, -(-LINES * COLUMNS * clip.size.height // (ROWS * clip.size.width)))
    size = clip.size.with_height(min(wide, clip.size.height))
    light = ExposureTrace()
    for frame in range(clip.frames):
        light.add(clip.picture(frame, size))
        yield frame + 1
    with atomic_write(place) as part, part.open("wb") as file:
        np.save(file, light.measurements())


def _light(clip: Footage | Sequence) -> NDArray[np.float64]:
    for _ in measure_light(clip):
        pass
    found: NDArray[np.float64] = np.load(_place(clip))
    return found


class Deflickered(ClipWrapper[Footage | Sequence]):
    """A clip with each frame's brightness evened; a context manager, safe between threads.

    Opening one whose light was not measured yet reads it through.
    """

    def __init__(self, clip: Footage | Sequence, reading: InputOverrides, frames: int) -> None:
        super().__init__(clip, reading, f"deflicker={frames}", clip.probe)
        self._gains = even_gains(_light(clip), frames)

    def picture(self, frame: int, size: Size | None = None) -> Picture:
        """Return a frame as bright as those around it.

        Args:
            frame: of the clip.
            size: that it is averaged down to; None for its own.
        """
        return self._deflicker(self._clip.picture(frame, size), frame)

    def rows(self, frame: int) -> Callable[[int, int], Picture]:
        """Rows of frame `frame`, asked for from one to another (exclusive)."""
        rows = self._clip.rows(frame)
        return lambda top, bottom: self._deflicker(rows(top, bottom), frame)

    def prefetch(self, frame: int) -> None:
        """Decode frame `frame` ahead."""
        self._clip.prefetch(frame)

    def reserve_cache(self, frames: int) -> None:
        """Keep at least so many decoded frames."""
        self._clip.reserve_cache(frames)

    def key_frame(self, frame: int) -> int:
        """The frame nearest before that is decoded by itself."""
        return self._clip.key_frame(frame)

    def _deflicker(self, picture: Picture, frame: int) -> Picture:
        gain = np.float32(self._gains[frame])
        if gain == 1:
            return picture
        out = new_like(picture)
        np.multiply(picture, gain, out=out)
        return out
