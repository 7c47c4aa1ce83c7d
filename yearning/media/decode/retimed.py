"""A clip at another speed."""

import math
import threading
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

import numpy as np
from cachetools import LRUCache

from yearning.core.buffers import copy_of, new_like
from yearning.core.motion.cuts import is_cut
from yearning.core.motion.flow import luma_codes
from yearning.core.motion.frame_interpolation import (
    BidirectionalFlow,
    estimate_motion,
    interpolate_frame,
)
from yearning.core.picture import Picture, Size
from yearning.media.decode.clip_wrapper import ClipWrapper
from yearning.media.decode.deflickered import Deflickered
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.sequence import Sequence

FLOW_LINES = 360
"""Lines at which motion is looked for, whatever the size that is asked for."""

PAIRS_KEPT = 6
"""Pairs of frames whose motion is kept: a slow clip asks for each several times."""


class Retimed(ClipWrapper[Footage | Sequence | Deflickered]):
    """A clip at `speed` times its own; a context manager, safe between threads.

    Frame n shows the clip at frame n · speed: that frame where it is one, and else what `between`
    says of the two around it. Nothing is shown between frames of different shots. It has no sound
    but where that is to be stretched.
    """

    def __init__(self, clip: Footage | Sequence | Deflickered, reading: InputOverrides) -> None:
        self._speed = reading.pace
        self._between = reading.between or "motion"
        frames = max(1, math.ceil(clip.frames / self._speed))
        seconds = float(frames / clip.probe.rate)
        sounds = clip.probe.sounds if reading.sound == "stretched" else ()
        super().__init__(
            clip,
            reading,
            f"speed={self._speed},{self._between},{reading.sound or 'off'}",
            replace(clip.probe, frames=frames, duration=seconds, sounds=sounds),
        )
        self._motion: LRUCache[int, BidirectionalFlow | str] = LRUCache(PAIRS_KEPT)
        self._lock = threading.Lock()

    def picture(self, frame: int, size: Size | None = None) -> Picture:
        """Return a frame.

        Args:
            frame: of the retimed clip.
            size: that it is averaged down to; None for its own.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        first, part = self._place(frame)
        before = self._clip.picture(first, size)
        if part == 0:
            return before
        motion = self._motion_after(first)
        if motion == "cut":
            return before
        after = self._clip.picture(first + 1, size)
        if isinstance(motion, BidirectionalFlow):
            return interpolate_frame(before, after, motion, float(part))
        out = new_like(before)
        np.subtract(after, before, out=out)
        out *= np.float32(part)
        out += before
        return out

    def rows(self, frame: int) -> Callable[[int, int], Picture]:
        """Rows of frame `frame`, asked for from one to another (exclusive)."""
        first, part = self._place(frame)
        if part == 0:
            return self._clip.rows(first)
        picture = self.picture(frame)
        return lambda top, bottom: copy_of(picture[:, top:bottom])

    def prefetch(self, frame: int) -> None:
        """Decode ahead what frame `frame` is made of."""
        first, part = self._place(frame)
        self._clip.prefetch(first)
        if part:
            self._clip.prefetch(first + 1)

    def reserve_cache(self, frames: int) -> None:
        """Keep at least so many decoded frames."""
        self._clip.reserve_cache(math.ceil(frames * max(self._speed, Fraction(1))) + 1)

    def key_frame(self, frame: int) -> int:
        """The frame nearest before that shows one which is decoded by itself."""
        first, _ = self._place(frame)
        return min(frame, math.ceil(self._clip.key_frame(first) / self._speed))

    def source_frame(self, frame: int) -> float:
        """Which of the frames as they were shot frame `frame` shows; between two, in parts."""
        first, part = self._place(frame)
        return first + float(part)

    def _place(self, frame: int) -> tuple[int, Fraction]:
        """Return which of the clip's frames is shown, and how far on towards the next."""
        if not 0 <= frame < self.frames:
            raise IndexError(
                f"frame {frame} is out of range; {self.path.name} has frames 0 to "
                f"{self.frames - 1} at this speed"
            )
        at = frame * self._speed
        first = int(at)
        if self._between == "hold" or first >= self._clip.frames - 1:
            return min(first, self._clip.frames - 1), Fraction(0)
        return first, at - first

    def _motion_after(self, first: int) -> BidirectionalFlow | str:
        """Return how to go from a frame to the next: by their motion, `cut` or `dissolve`."""
        with self._lock:
            found = self._motion.get(first)
            if found is None:
                found = self._motion[first] = self._find_motion(first)
            return found

    def _find_motion(self, first: int) -> BidirectionalFlow | str:
        size = self.size.with_height(min(FLOW_LINES, self.size.height))
        codes = [luma_codes(self._clip.picture(frame, size)) for frame in (first, first + 1)]
        if is_cut(*(c.astype(np.float32) for c in codes)):
            return "cut"
        if self._between == "dissolve":
            return "dissolve"
        return estimate_motion(*codes) or "dissolve"
