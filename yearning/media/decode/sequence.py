"""Numbered stills as a clip: PNG and TIFF as displayed, OpenEXR as light."""

from collections.abc import Callable
from fractions import Fraction
from functools import cached_property
from itertools import pairwise
from pathlib import Path
from threading import Lock

import cv2
import numpy as np
import OpenEXR
from cachetools import LRUCache
from numpy.typing import NDArray

from yearning.core.buffers import copy_of
from yearning.core.cache import enlarge_cache
from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.engine.as_shot import AsShot
from yearning.core.frame_pattern import frame_number, has_one_number
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Plane, Size, remove_nan, size_of
from yearning.media.decode.content_id import content_id
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.media.decode.probe import Probe
from yearning.media.errors import MediaError
from yearning.media.picture_limits import check_still_size
from yearning.media.resources import Closeable

ENDINGS = (".png", ".tif", ".tiff", ".exr")

RATE = Fraction(24)
"""Frames a second of stills when none are said: film's."""

LEAST_ALPHA = np.float32(1 / 4096)
"""What colour is divided by at the least, to take it apart from its alpha."""

RECENT = 2
"""Stills kept, since a look reads each more than once."""


def found_stills(pattern: Path) -> list[Path]:
    """The stills of a pattern, by their numbers, without a gap.

    Raises:
        MediaError: there are none, one is missing between others, or the ending is none of stills.
    """
    if pattern.suffix.lower() not in ENDINGS:
        raise MediaError(f"{pattern.name}: numbered stills end in {', '.join(ENDINGS)}")
    if not has_one_number(pattern.name):
        raise MediaError(f"{pattern.name}: numbered stills have one number in the name, like %05d")
    if not pattern.parent.is_dir():
        raise MediaError(f"{pattern.parent}: no such folder")
    found = (frame_number(pattern.name, file.name) for file in pattern.parent.iterdir())
    numbers = sorted(number for number in found if number is not None)
    if not numbers:
        raise MediaError(f"{pattern.name}: no still of that name is in {pattern.parent}")
    for number, following in pairwise(numbers):
        if following != number + 1:
            raise MediaError(
                f"{pattern.name % (number + 1)}: missing, though {pattern.name % following} is "
                "there; render it again, or number the stills without a gap"
            )
    return [pattern.with_name(pattern.name % number) for number in numbers]


class Sequence(Closeable, AsShot):
    """Numbered stills, opened as a clip is; a context manager, safe between threads.

    PNG and TIFF hold R'G'B' as displayed. OpenEXR holds light of BT.709 primaries: the scene's,
    which BT.709's camera curve codes (ITU-R BT.709-6, item 1.2), or, where `light` is said to be
    `display`, the display's, as Yearning writes it (V = L^(1/2.4), BT.1886). Light above 1 stays.

    Args:
        path: their pattern, like `DIR/%05d.png`.
        footage_id: tells them from every other clip; the path does where none is given.
        reading: how they are read.
        straight: take the colour of OpenEXR, which has alpha in it, apart from that.

    Raises:
        MediaError: the stills can't be used.
    """

    def __init__(
        self,
        path: Path,
        footage_id: str | None = None,
        reading: InputOverrides = AS_TAGGED,
        *,
        straight: bool = False,
    ) -> None:
        self.path = path
        self._straight = straight
        self.reading = reading
        self.footage_id = footage_id
        self._stills = found_stills(path)
        self._light = reading.light or "scene"
        exr = path.suffix.lower() == ".exr"
        if reading.light is not None and not (exr and self._light in ("scene", "display")):
            raise MediaError(f"light: '{reading.light}' is not for {path.suffix} stills")
        for name in ("matrix", "range", "fields"):
            if getattr(reading, name) is not None:
                raise MediaError(f"{name}: stills have none that could be said")
        stamps = [still.stat().st_mtime_ns for still in self._stills]
        self.id = f"{footage_id or path.resolve()}|{reading.key}|{hash(tuple(stamps))}"
        self._recent: LRUCache[int, tuple[Picture, Plane | None]] = LRUCache(RECENT)
        self._lock = Lock()
        first, alpha, bits = self._read(self._stills[0])
        self.has_alpha = alpha is not None
        rate = reading.exact_rate or RATE
        self.probe = Probe(
            size=size_of(first),
            coded=size_of(first),
            frames=len(self._stills),
            rate=rate,
            variable=False,
            duration=float(len(self._stills) / rate),
            pixel_format="float" if exr else f"rgb, {bits} bit",
            rgb=True,
            bits=bits,
            subsampling=(1, 1),
            matrix="bt709",
            range="full",
            primaries=1,
            transfer=1,
            tagged=True,
            light="SDR",
            fields="progressive",
            timecode=None,
            rotation=0,
            codec=path.suffix.lower().lstrip("."),
            container="numbered stills",
            sounds=(),
        )

    def close(self) -> None:
        """Let go of what is held."""
        with self._lock:
            self._recent.clear()

    @cached_property
    def content_id(self) -> str:
        """A hash of parts of the first still."""
        return content_id(self._stills[0])

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0, whatever the first still's number is."""
        return len(self._stills)

    @property
    def size(self) -> Size:
        """The stills' size."""
        return self.probe.size

    @property
    def begins(self) -> Fraction:
        """Stills begin at no time but 0."""
        return Fraction(0)

    def picture(self, frame: int, size: Size | None = None) -> Picture:
        """Return a frame as R'G'B'.

        Args:
            frame: from 0, the first still's.
            size: that it is averaged down to; None for its own.

        Raises:
            IndexError: no such frame.
            MediaError: the still can't be read, or has another size than the first.
        """
        return area_resized(self._kept_frame(frame)[0], size or self.size)

    def alpha_rows(self, frame: int) -> Callable[[int, int], Plane]:
        """Rows of the alpha, 0..1, of frame `frame`, asked for as `rows` are.

        Raises:
            IndexError: no such frame.
            MediaError: the still can't be read, or has another size than the first.
        """
        alpha = self._kept_frame(frame)[1]
        if alpha is None:  # a still among others that hides all
            alpha = np.ones((self.size.height, self.size.width), np.float32)
        return lambda top, bottom: alpha[top:bottom]

    def _kept_frame(self, frame: int) -> tuple[Picture, Plane | None]:
        if not 0 <= frame < self.frames:
            raise IndexError(
                f"frame {frame} is out of range; {self.path.name} has frames 0 to {self.frames - 1}"
            )
        with self._lock:
            whole = self._recent.get(frame)
        if whole is None:
            whole = self._whole(frame)
            for held in whole:
                if held is not None:
                    held.flags.writeable = False  # it is given out as it is
            with self._lock:
                self._recent[frame] = whole
        return whole

    def rows(self, frame: int) -> Callable[[int, int], Picture]:
        """Rows of frame `frame`, asked for from one to another (exclusive)."""
        picture = self.picture(frame)
        return lambda top, bottom: copy_of(picture[:, top:bottom])

    def prefetch(self, frame: int) -> None:
        """Have frame `frame` read."""
        self.picture(frame)

    def reserve_cache(self, frames: int) -> None:
        """Keep at least so many stills."""
        with self._lock:
            self._recent = enlarge_cache(self._recent, frames)

    def key_frame(self, frame: int) -> int:
        """Every still stands by itself."""
        return frame

    def _whole(self, frame: int) -> tuple[Picture, Plane | None]:
        still = self._stills[frame]
        picture, alpha, _ = self._read(still)
        if size_of(picture) != self.size:
            raise MediaError(
                f"{still.name}: {size_of(picture).width}x{size_of(picture).height}, while the "
                f"first still is {self.size.width}x{self.size.height}; make them one size"
            )
        return picture, alpha

    def _read(self, still: Path) -> tuple[Picture, Plane | None, int]:
        """A still as R'G'B', its alpha where it has any, and its bits."""
        try:
            check_still_size(still)
            if still.suffix.lower() == ".exr":
                light, alpha = _exr(still)
                light = remove_nan(light)
                if alpha is not None and self._straight:
                    light = np.where(alpha > 0, light / np.maximum(alpha, LEAST_ALPHA), light)
                return _encode_light(light, self._light), alpha, 16
            codes = cv2.imread(str(still), cv2.IMREAD_UNCHANGED)
        except (OSError, RuntimeError, ValueError, cv2.error) as error:
            raise MediaError(f"{still.name}: can't be read: {error}") from None
        if codes is None or codes.dtype not in (np.uint8, np.uint16):
            raise MediaError(f"{still.name}: not a still of 8 or 16 bits that can be read")
        bits = 8 * codes.itemsize
        if codes.ndim == 2:
            codes = codes[..., None].repeat(3, axis=2)
        elif codes.shape[2] == 2:
            codes = codes[..., [0, 0, 0, 1]]
        whole = np.float32(2**bits - 1)
        planes = codes[..., 2::-1].transpose(2, 0, 1)  # OpenCV has B first, and alpha last
        picture = np.ascontiguousarray(planes, np.float32) / whole
        alpha = codes[..., 3].astype(np.float32) / whole if codes.shape[2] == 4 else None
        return picture, alpha, bits


def _exr(still: Path) -> tuple[Picture, Plane | None]:
    """Light of an OpenEXR, shape `(3, height, width)`, and its alpha; one channel is grey.

    Raises:
        ValueError: it has none of the channels a picture has.
    """
    with OpenEXR.File(str(still), separate_channels=True) as file:
        channels = {name: channel.pixels for name, channel in file.channels().items()}
    alpha = None
    if "A" in channels:
        alpha = np.nan_to_num(channels["A"].astype(np.float32)).clip(0, 1)
    for names in (("R", "G", "B"), ("Y", "Y", "Y")):
        if all(name in channels for name in names):
            return np.stack([channels[name].astype(np.float32) for name in names]), alpha
    raise ValueError(f"it has the channels {', '.join(channels)}, and not R, G and B")


def _encode_light(light: NDArray[np.float32], of: str) -> Picture:
    size = np.abs(light)
    if of == "display":
        code = size ** (1 / DISPLAY_GAMMA)
    else:
        code = np.where(size < 0.018, 4.5 * size, 1.099 * size**0.45 - 0.099)
    return np.ascontiguousarray(np.copysign(code, light), np.float32)
