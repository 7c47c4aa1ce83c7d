"""Plates: pictures, with or without a matte, and clips, that are laid over others."""

from pathlib import Path
from typing import Literal, cast

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Plane, Size
from yearning.media.decode.footage import Footage
from yearning.media.decode.sequence import Sequence
from yearning.media.errors import MediaError
from yearning.media.picture_limits import check_still_size
from yearning.media.plates.alpha import (
    AlphaRows,
    Rows,
    average_layer,
    averaged_alpha,
    straighten,
    tells_premultiplied,
    whole_layer,
)

Codes = NDArray[np.uint8] | NDArray[np.uint16]

STILL_SUFFIXES = (".png", ".jpg", ".jpeg", ".tif", ".tiff")
"""Endings of plates that are one picture."""

TAGGED_SUFFIXES = (".tif", ".tiff")
"""Endings of pictures that say whether their alpha is multiplied into their colour."""

EXTRA_SAMPLES, ASSOCIATED = 338, 1
"""TIFF 6.0, section 18: the tag of what alpha is, and its value where colour has it in it."""

LOOKED_AT = 8
"""Frames of a movie, about, at which its alpha is looked at."""

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

    def __init__(self, path: Path, cache: Cache[NDArray[np.float32]] | None = None) -> None:
        self.path = path
        self._kept = Cache[NDArray[np.float32]](PICTURE_BYTES) if cache is None else cache
        self._still: Codes | None = None
        self._alpha: Plane | None = None
        if path.suffix.lower() in STILL_SUFFIXES and not is_frame_pattern(path.name):
            self._still, self._alpha = _read_still(path)
            self.frames = 1
            self.size = Size(self._still.shape[1], self._still.shape[0])
            self.rate: float | None = None
            self.has_matte = self._alpha is not None
        else:
            numbered = is_frame_pattern(path.name)
            self._clip = Sequence(path, straight=True) if numbered else Footage(path)
            self.frames, self.size = self._clip.frames, self._clip.size
            self.rate = float(self._clip.probe.rate)
            coded = 2 * self.size.width * self.size.height
            self._clip.reserve_cache(max(2, min(self.frames, CODED_BYTES // coded)))
            self.has_matte = self._clip.has_alpha
        self.was_premultiplied = self.has_matte and self._finds_premultiplied()

    @property
    def nbytes(self) -> int:
        """Bytes of what is held of a still."""
        return sum(each.nbytes for each in (self._still, self._alpha) if each is not None)

    def picture(self, frame: int, size: Size) -> Picture:
        """Return a frame, its colour straight; not to be written to.

        Args:
            frame: of the plate.
            size: no larger than its own.

        Args:
            frame: of the plate.
            size: no larger than its own.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        if self.has_matte:
            return self._kept.get_or_make((frame, size), lambda: self._layer(frame, size)[0])
        return self._kept.get_or_make(
            (frame, size), lambda: area_resized(self._colour(frame, size), size)
        )

    def matte(self, frame: int, size: Size) -> Plane | None:
        """Return how much it hides, 0..1; None where it hides all.

        Args:
            frame: of the plate.
            size: no larger than its own.
        """
        if not self.has_matte:
            return None
        return self._kept.get_or_make(("alpha", frame, size), lambda: self._layer(frame, size)[1])

    def _layer(self, frame: int, size: Size) -> tuple[Picture, Plane]:
        """Return straight colour and alpha of a frame.

        Both are kept, since who asks for one asks for the other.
        """
        rows, alpha_rows = self._rows(frame), self._alpha_rows(frame)
        if size == self.size:
            picture, alpha = whole_layer(rows, alpha_rows, size, self.was_premultiplied)
        elif self.was_premultiplied:
            picture = area_resized(self._colour(frame, size), size)
            alpha = averaged_alpha(alpha_rows, self.size, size)
            straighten(picture, alpha)
        else:
            picture, alpha = average_layer(rows, alpha_rows, self.size, size)
        self._kept.put((frame, size), picture)
        self._kept.put(("alpha", frame, size), alpha)
        return picture, alpha

    def _rows(self, frame: int) -> Rows:
        if self._still is None:
            return self._clip.rows(frame)
        colour = self._colour(frame, self.size)
        return lambda top, bottom: np.ascontiguousarray(colour[:, top:bottom])

    def _alpha_rows(self, frame: int) -> AlphaRows:
        alpha = self._alpha
        return self._clip.alpha_rows(frame) if alpha is None else lambda a, b: alpha[a:b]

    def _colour(self, frame: int, size: Size) -> Picture:
        """A frame's colour as the file has it: of a still whole, of a clip at `size`."""
        if self._still is None:
            return self._clip.picture(frame, size)
        whole = np.float32(2 ** (8 * self._still.itemsize) - 1)
        picture = self._still[..., ::-1].transpose(2, 0, 1).astype(np.float32, order="C")
        picture /= whole
        return picture

    def _finds_premultiplied(self) -> bool:
        """Whether its colour has its alpha in it.

        Stills say it by what they are, and overlays written here by a tag; of other movies the
        first frame tells that has soft parts.
        """
        if self._still is not None:
            return self.path.suffix.lower() in TAGGED_SUFFIXES and _is_associated(self.path)
        if isinstance(self._clip, Sequence):
            return False  # PNG is straight, and OpenEXR was taken apart as it was read
        if self._clip.probe.straight:
            return False
        for frame in range(0, self.frames, max(1, self.frames // LOOKED_AT)):
            alpha = self._clip.alpha_rows(frame)(0, self.size.height)
            told = tells_premultiplied(self._clip.picture(frame), alpha)
            if told is not None:
                return told
        return False


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


def _is_associated(path: Path) -> bool:
    """Whether a TIFF says that its colour has its alpha in it."""
    data = path.read_bytes()
    order: Literal["little", "big"] = "little" if data[:2] == b"II" else "big"

    def number(at: int, size: int) -> int:
        return int.from_bytes(data[at : at + size], order)

    begin = number(4, 4)
    for entry in range(begin + 2, begin + 2 + 12 * number(begin, 2), 12):
        if number(entry, 2) == EXTRA_SAMPLES:
            return number(entry + 8, 2) == ASSOCIATED
    return False
