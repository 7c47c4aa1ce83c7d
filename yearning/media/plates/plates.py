"""Plates: pictures, with or without a matte, and clips, that are laid over others."""

from pathlib import Path
from typing import cast

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Plane, Size
from yearning.media.decode.clip import open_clip
from yearning.media.errors import MediaError
from yearning.media.picture_limits import check_still_size

Codes = NDArray[np.uint8] | NDArray[np.uint16]

STILL_SUFFIXES = (".png", ".jpg", ".jpeg", ".tif", ".tiff")
"""Endings of plates that are one picture."""

PICTURE_BYTES = 64 << 20
"""Of a plate's pictures, where no cache is given."""

CODED_BYTES = 160 << 20
"""Of a plate's frames as they are decoded: shuffled, each comes again and again."""


class OpenPlate:
    """A plate's file, opened.

    Args:
        path: a picture, or a clip.
        cache: where its pictures are kept.

    Raises:
        MediaError: it can't be used as a plate.
    """

    def __init__(self, path: Path, cache: Cache[Picture] | None = None) -> None:
        self.path = path
        self._pictures = Cache[Picture](PICTURE_BYTES) if cache is None else cache
        self._still: Codes | None = None
        self._alpha: Plane | None = None
        self._mattes: dict[Size, Plane] = {}
        if path.suffix.lower() in STILL_SUFFIXES:
            self._still, self._alpha = _read_still(path)
            self.frames = 1
            self.size = Size(self._still.shape[1], self._still.shape[0])
            self.rate: float | None = None
        else:
            self._clip = open_clip(path)
            self.frames, self.size = self._clip.frames, self._clip.size
            self.rate = float(self._clip.probe.rate)
            coded = 2 * self.size.width * self.size.height
            self._clip.keep(max(2, min(self.frames, CODED_BYTES // coded)))

    @property
    def nbytes(self) -> int:
        """Bytes of what is held of a still."""
        return sum(each.nbytes for each in (self._still, self._alpha) if each is not None)

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
        return self._pictures.get_or_make((frame, size), lambda: self._read(frame, size))

    def _read(self, frame: int, size: Size) -> Picture:
        if self._still is None:
            return self._clip.picture(frame, size)
        whole = np.float32(2 ** (8 * self._still.itemsize) - 1)
        picture = self._still[..., ::-1].transpose(2, 0, 1).astype(np.float32, order="C")
        picture /= whole
        return area_resized(picture, size)

    def matte(self, frame: int, size: Size) -> Plane | None:
        """How much it hides, 0..1; None where it hides all."""
        if self._alpha is None:
            return None
        if size not in self._mattes:
            self._mattes = {size: area_resized(np.stack([self._alpha] * 3), size)[0]}
        return self._mattes[size]


def _read_still(path: Path) -> tuple[Codes, Plane | None]:
    """A picture's codes, B'G'R', and its matte if it is clear in places."""
    try:
        check_still_size(path)
        data = np.frombuffer(path.read_bytes(), np.uint8)
    except OSError as error:
        raise MediaError(f"{path.name}: can't be read: {error.strerror or error}") from None
    found = cv2.imdecode(data, cv2.IMREAD_UNCHANGED) if data.size else None
    if found is None:
        raise MediaError(f"{path.name}: is no picture that can be read; export it anew, as PNG")
    if found.dtype not in (np.uint8, np.uint16):
        raise MediaError(f"{path.name}: has samples of {found.dtype}; export it with 8 or 16 bits")
    whole = np.float32(2 ** (8 * found.itemsize) - 1)
    planes = found if found.ndim == 3 else found[..., None]
    alpha = None
    if planes.shape[2] in (2, 4):
        alpha = np.ascontiguousarray(planes[..., -1].astype(np.float32) / whole)
        planes = planes[..., :-1]
    if planes.shape[2] == 1:
        planes = np.repeat(planes, 3, axis=2)
    codes = cast(Codes, np.ascontiguousarray(planes))
    if alpha is not None and alpha.min() >= 1:
        alpha = None
    return codes, alpha
