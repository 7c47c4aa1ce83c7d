"""Plates: pictures, with or without a matte, and clips, that are laid over others."""

import threading
from collections import OrderedDict
from pathlib import Path

import cv2
import numpy as np

from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Plane, Size
from yearning.media.decode.clip import open_clip
from yearning.media.errors import MediaError

STILLS = (".png", ".jpg", ".jpeg", ".tif", ".tiff")
"""Endings of plates that are one picture."""

LARGEST = 1 << 27
"""Pixels of a still plate, at most."""

KEPT_BYTES = 64 << 20
"""Of a plate's frames, at the size they were last asked for."""

KEPT_CODED = 160 << 20
"""Of a plate's frames as they are decoded: shuffled, each comes again and again."""


class OpenPlate:
    """A plate's file, opened.

    Raises:
        MediaError: it can't be used as a plate.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._still: Picture | None = None
        self._alpha: Plane | None = None
        self._held: OrderedDict[tuple[int, Size], Picture] = OrderedDict()
        self._mattes: dict[Size, Plane] = {}
        self._lock = threading.Lock()
        if path.suffix.lower() in STILLS:
            self._still, self._alpha = _read_still(path)
            self.frames = 1
            self.size = Size(self._still.shape[2], self._still.shape[1])
            self.rate: float | None = None
        else:
            self._clip = open_clip(path)
            self.frames, self.size = self._clip.frames, self._clip.size
            self.rate = float(self._clip.probe.rate)
            coded = 2 * self.size.width * self.size.height
            self._clip.keep(max(2, min(self.frames, KEPT_CODED // coded)))

    @property
    def has_matte(self) -> bool:
        """Whether it is clear in places."""
        return self._alpha is not None

    def picture(self, frame: int, size: Size) -> Picture:
        """Frame `frame` at `size`, no larger than its own; not to be written to.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        with self._lock:
            held = self._held.get((frame, size))
            if held is not None:
                self._held.move_to_end((frame, size))
                return held
        if self._still is None:
            picture = self._clip.picture(frame, size)
        else:
            picture = area_resized(self._still, size)
        picture.flags.writeable = False
        with self._lock:
            self._held[frame, size] = picture
            while len(self._held) > max(1, KEPT_BYTES // picture.nbytes):
                self._held.popitem(last=False)
        return picture

    def matte(self, frame: int, size: Size) -> Plane | None:
        """How much it hides, 0..1; None where it hides all."""
        if self._alpha is None:
            return None
        if size not in self._mattes:
            self._mattes = {size: area_resized(np.stack([self._alpha] * 3), size)[0]}
        return self._mattes[size]


def _read_still(path: Path) -> tuple[Picture, Plane | None]:
    """A picture's R'G'B', and its matte if it is clear in places."""
    try:
        data = np.frombuffer(path.read_bytes(), np.uint8)
    except OSError as error:
        raise MediaError(f"{path.name}: can't be read: {error.strerror or error}") from None
    found = cv2.imdecode(data, cv2.IMREAD_UNCHANGED) if data.size else None
    if found is None:
        raise MediaError(f"{path.name}: is no picture that can be read; export it anew, as PNG")
    if found.shape[0] * found.shape[1] > LARGEST:
        raise MediaError(f"{path.name}: has more than {LARGEST >> 20} million pixels")
    if found.dtype not in (np.uint8, np.uint16):
        raise MediaError(f"{path.name}: has samples of {found.dtype}; export it with 8 or 16 bits")
    whole = np.float32(np.iinfo(found.dtype).max)
    planes = found if found.ndim == 3 else found[..., None]
    alpha = None
    if planes.shape[2] in (2, 4):
        alpha = np.ascontiguousarray(planes[..., -1].astype(np.float32) / whole)
        planes = planes[..., :-1]
    if planes.shape[2] == 1:
        planes = np.repeat(planes, 3, axis=2)
    picture = np.ascontiguousarray(planes[..., ::-1].transpose(2, 0, 1).astype(np.float32) / whole)
    if alpha is not None and alpha.min() >= 1:
        alpha = None
    return picture, alpha
