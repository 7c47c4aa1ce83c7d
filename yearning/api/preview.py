"""The desk: open footage, kept pictures, and who waits for which."""

import threading
from collections import OrderedDict
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.treatment.clip_tones import ClipTones
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.reading import Reading
from yearning.media.plates.assets import forgiving_assets_in
from yearning.store.clips import Clip
from yearning.store.project import Project

PICTURE_BYTES = 1 << 30
FRAME_BYTES = 384 << 20
OPEN_FOOTAGE = 6
MAX_MEASURED = 256


class FrameStore:
    """Encoded frames of play by key, least recently used out first, bounded in bytes."""

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._held: OrderedDict[tuple[str, int], bytes] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()

    def get(self, path: str, frame: int) -> bytes | None:
        """The encoded frame of that path, or None."""
        with self._lock:
            data = self._held.get((path, frame))
            if data is not None:
                self._held.move_to_end((path, frame))
            return data

    def put(self, path: str, frame: int, data: bytes) -> None:
        """Keep an encoded frame."""
        with self._lock:
            if (path, frame) not in self._held:
                self._held[path, frame] = data
                self._bytes += len(data)
            while self._bytes > self._most:
                self._bytes -= len(self._held.popitem(last=False)[1])

    def clear(self) -> None:
        """Keep nothing of what is kept."""
        with self._lock:
            self._held.clear()
            self._bytes = 0

    def frames(self, path: str) -> list[int]:
        """The frames held of that path, ascending."""
        with self._lock:
            return sorted(frame for held, frame in self._held if held == path)


class Tickets:
    """Newest wins: a request is stale once a newer one of the same asker has come."""

    def __init__(self) -> None:
        self._newest: dict[str, int] = {}
        self._lock = threading.Lock()

    def taken(self, asker: str, ticket: int) -> Callable[[], bool]:
        """Note a request; returns whether it has become stale, to be asked while working."""
        if not asker:
            return lambda: False
        with self._lock:
            self._newest[asker] = max(ticket, self._newest.get(asker, ticket))
        return lambda: self._newest[asker] > ticket


class Desk:
    """Everything the routes share. `close` it at the end."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.materials = forgiving_assets_in(project.materials)
        self.pictures = Cache(PICTURE_BYTES)
        self.played = FrameStore(FRAME_BYTES)
        self.tickets = Tickets()
        self.measured: dict[tuple[str, str], ClipTones] = {}
        """What clips measured, by footage and by what was done to it."""
        self.heard: dict[str, NDArray[np.float64]] = {}
        """How clips' sound rises, by footage."""
        self.hearing = threading.Lock()
        """Held while a clip's sound is written for play."""
        self.working = threading.Lock()
        """Held while a picture is computed: two at once would only halve each other's speed."""
        self._open: OrderedDict[tuple[int, Reading], OpenClip] = OrderedDict()
        self._lock = threading.Lock()

    def footage(self, clip: Clip) -> OpenClip:
        """The clip's footage, opened if it is not."""
        with self._lock:
            reading = Reading.of(clip.reading)
            key = (clip.id, reading)
            self.project.clips.check(clip)
            footage = self._open.pop(key, None) or open_clip(clip.path, reading, clip.digest)
            self._open[key] = footage
            while len(self._open) > OPEN_FOOTAGE:
                self._open.popitem(last=False)  # whoever still reads it holds it open
            return footage

    def keep_measured(self, key: tuple[str, str], tones: ClipTones) -> None:
        """Keep what a clip measured; the oldest goes when there is too much."""
        with self._lock:
            self.measured[key] = tones
            while len(self.measured) > MAX_MEASURED:
                self.measured.pop(next(iter(self.measured)))

    def forget_pictures(self) -> None:
        """Have all pictures made anew: a plate has come that some were made without."""
        self.pictures.clear()
        self.played.clear()

    def close(self) -> None:
        """Close all footage."""
        with self._lock:
            for footage in self._open.values():
                footage.close()
            self._open.clear()
