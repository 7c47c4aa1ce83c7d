"""A clip's luma in 8 bits, a part of a frame at a time, for what follows parts of pictures."""

import numpy as np
from cachetools import LRUCache

from yearning.core.colour.luma import luma_plane
from yearning.core.motion.flow import Codes, to_codes
from yearning.core.motion.track_template import PixelBox
from yearning.media.decode.clip import OpenClip

BAND = 64

KEPT_BYTES = 64 << 20
"""Memory for frames that may be asked for again."""

AHEAD_BYTES = 40 << 20
"""Memory for the frames before one that is asked for while going backwards: those of movies are
decoded from a key frame on, so they are decoded together."""


class GreyFrames:
    """The frames' luma; call it with a frame's number and a part of it.

    Args:
        clip: an open one, which is read by nobody else meanwhile.
    """

    def __init__(self, clip: OpenClip) -> None:
        self._clip = clip
        frame_bytes = clip.size.width * clip.size.height
        self._kept: LRUCache[int, Codes] = LRUCache(max(4, KEPT_BYTES // frame_bytes))
        self._ahead = max(2, AHEAD_BYTES // frame_bytes)
        self._last = 0

    def __call__(self, frame: int, box: PixelBox) -> Codes:
        """The luma of a part of a frame, shape `(box.height, box.width)`, 0..255."""
        codes = self._kept.get(frame)
        if codes is None:
            first = max(0, frame - self._ahead + 1) if frame < self._last else frame
            for n in range(first, frame + 1):
                if n not in self._kept:
                    self._kept[n] = self._codes(n)
            codes = self._kept[frame]
        self._last = frame
        return codes[box.top : box.top + box.height, box.left : box.left + box.width]

    def _codes(self, frame: int) -> Codes:
        width, height = self._clip.size
        rows, out = self._clip.rows(frame), np.empty((height, width), np.uint8)
        for top in range(0, height, BAND):
            bottom = min(top + BAND, height)
            out[top:bottom] = to_codes(luma_plane(rows(top, bottom)))
        return out
