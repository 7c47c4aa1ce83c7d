"""The preview service: open footage, evaluators, and what is cached for the page."""

import secrets
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from weakref import WeakValueDictionary

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import CachePolicy, Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look
from yearning.core.picture import Picture, Size
from yearning.core.treatment.clip_tones import ClipTones
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.plates.assets import forgiving_assets_in
from yearning.store.clips import Clip
from yearning.store.project import Project

CACHE_BYTES = 1_500_000_000
"""Pictures, played frames, plates' pictures and statistics together, unless told otherwise."""

MAX_OPEN_FOOTAGE = 6


class LatestRequests:
    """Decides which requests are stale: those of a channel on which a newer one has come."""

    def __init__(self) -> None:
        self._newest: dict[str, int] = {}
        self._lock = threading.Lock()

    def register(self, channel: str, sequence: int) -> Callable[[], bool]:
        """Note a request; return a function that says whether it is stale by now.

        Args:
            channel: requests on one channel overtake each other; on "" none does.
            sequence: counts the requests of the channel.
        """
        if not channel:
            return lambda: False
        with self._lock:
            self._newest[channel] = max(sequence, self._newest.get(channel, sequence))
        return lambda: self._newest[channel] > sequence


class PlayedFrames:
    """Encoded frames of play, by what is played and by frame."""

    def __init__(self, cache: Cache[bytes]) -> None:
        self._cache = cache

    def get(self, content: str, frame: int) -> bytes | None:
        """Return an encoded frame, or None.

        Args:
            content: digest of what is played.
            frame: of it.
        """
        return self._cache.get((content, frame))

    def put(self, content: str, frame: int, data: bytes) -> None:
        """Keep an encoded frame.

        Args:
            content: digest of what is played.
            frame: of it.
            data: as it is sent.
        """
        self._cache.put((content, frame), data)

    def frames(self, content: str) -> list[int]:
        """The frames that are kept of some content, ascending."""
        keys: list[Any] = self._cache.keys()
        return sorted(frame for kept, frame in keys if kept == content)

    def clear(self) -> None:
        """Forget all frames."""
        self._cache.clear()


@dataclass
class PlateMaking:
    """A plate that is being computed, and how far it is."""

    kind: str
    done: int = 0
    total: int = 1
    stopped: bool = False


class PreviewService:
    """What the routes that show pictures share. `close` it at the end.

    Attributes:
        project: the open project.
        cache: all that is kept, within one budget.
        assets: finds the project's look-up tables and plates.
        latest: which requests are stale.
        computing: held while a picture is computed: two at once would only halve each other's
            speed.
        making: the plate that is being computed, if one is.
        assets_mark: another whenever tables, plates or tracks came or went.
    """

    def __init__(self, project: Project, cache_bytes: int = CACHE_BYTES) -> None:
        self.project = project
        self.cache = cache = Cache[Any](cache_bytes)
        self.pictures: Cache[Picture] = cache.region("pictures")
        self.played = PlayedFrames(cache.region("played frames"))
        self.clip_tones: Cache[ClipTones] = cache.region("clip tones")
        self.clip_colours: Cache[NDArray[np.float32]] = cache.region("clip colours")
        self.effects: Cache[float] = cache.region("effects of steps")
        self.spectral_flux: Cache[NDArray[np.float64]] = cache.region("spectral flux")
        self.assets = forgiving_assets_in(project.assets, cache.region("plates"))
        self.latest = LatestRequests()
        self.computing = threading.Lock()
        self._writing: WeakValueDictionary[Path, threading.Lock] = WeakValueDictionary()
        self._lock_of_locks = threading.Lock()
        self.making: PlateMaking | None = None
        self._open: LRUCache[tuple[int, InputOverrides], OpenClip] = LRUCache(MAX_OPEN_FOOTAGE)
        self._lock = threading.Lock()
        self.assets_mark = secrets.token_hex(8)

    def footage(self, clip: Clip) -> OpenClip:
        """Return a clip's footage, opening it if it is not open.

        Raises:
            ClipLost: its file is gone or holds something else.
            MediaError: it can't be read.
        """
        with self._lock:
            reading = InputOverrides.of(clip.reading)
            self.project.clips.check(clip)
            footage = self._open.get((clip.id, reading))
            if footage is None:  # what the cache drops stays open for whoever still reads it
                footage = open_clip(clip.path, reading, clip.digest)
                self._open[clip.id, reading] = footage
            return footage

    def writing(self, place: Path) -> threading.Lock:
        """Return what is held while a file is written that is made when it is first asked for."""
        with self._lock_of_locks:
            return self._writing.setdefault(place, threading.Lock())

    def evaluator(
        self,
        look: Look,
        footage: OpenClip,
        height: int | None = None,
        *,
        keep: CachePolicy = "last",
        pictures: Cache[Picture] | None = None,
        is_cancelled: Callable[[], bool] = lambda: False,
    ) -> Evaluator:
        """Return the evaluator of a look on footage.

        What it makes is kept with all else that is, or its pictures in `pictures`: statistics of
        whole clips cost frames from all over the clip, and are always kept for everyone.

        Args:
            look: as it is on the clip.
            footage: opened.
            height: in lines; None for the full size.
            keep: which pictures are kept.
            pictures: keeps them in place of the cache of all.
            is_cancelled: says when to give up.
        """
        size = footage.size if height is None else preview_size(footage, height)
        return Evaluator(
            look,
            footage,
            size,
            self.pictures if pictures is None else pictures,
            keep=keep,
            assets=self.assets,
            clip_cache=self.pictures,
            is_cancelled=is_cancelled,
        )

    def forget_pictures(self) -> None:
        """Drop all cached pictures: a plate has come that some were made without, or has gone."""
        self.assets_mark = secrets.token_hex(8)
        self.pictures.clear()
        self.played.clear()

    def close(self) -> None:
        """Close all footage."""
        with self._lock:
            for footage in self._open.values():
                footage.close()
            self._open.clear()


def preview_size(footage: OpenClip, height: int) -> Size:
    """Return the size of a picture asked for: never larger than the footage.

    Args:
        footage: opened.
        height: in lines.
    """
    return footage.size.with_height(min(height, footage.size.height))


def number_after(evaluator: Evaluator, after: str | None) -> int:
    """Return the number in the graph of the picture after a step.

    Args:
        evaluator: of the look.
        after: the step's id; `footage` for the footage; None for the result.

    Raises:
        InvalidLookError: no step has that id.
    """
    try:
        return evaluator.number_after(after)
    except KeyError as error:
        raise InvalidLookError(str(error.args[0])) from None
