"""Hard mattes of a clip's frames, kept small, and what of a figure has been solved."""

import io
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.strokes import Mask, Strokes
from yearning.core.picture import Size


class HardMattes:
    """Hard mattes by frame, of one shape, a bit a pixel."""

    def __init__(self, shape: tuple[int, int]) -> None:
        self.shape = shape
        self._packed: dict[int, bytes] = {}

    def __contains__(self, frame: int) -> bool:
        return frame in self._packed

    def __iter__(self) -> Iterator[int]:
        return iter(self._packed)

    def __getitem__(self, frame: int) -> Mask:
        return _unpack_mask(
            np.frombuffer(zlib.decompress(self._packed[frame]), np.uint8), self.shape
        )

    def __setitem__(self, frame: int, hard: Mask) -> None:
        self._packed[frame] = zlib.compress(np.packbits(hard).tobytes(), 1)

    def packed_bits(self, frame: int) -> bytes | None:
        """A frame's, packed: equal where two are the same; None where it has none."""
        return self._packed.get(frame)


WAYS = ("out", "back")


@dataclass
class Solved:
    """What of a figure has been solved: all of it, or what there was when it was stopped."""

    strokes: Strokes
    size: Size
    """Of the footage."""
    frames: int
    """Of the clip."""
    out: HardMattes
    """From the frame that was solved first, outwards."""
    back: HardMattes
    """Between frames with strokes, towards the first."""

    def to_bytes(self) -> bytes:
        """All but the strokes, as an NPZ file."""
        arrays: dict[str, NDArray[np.generic]] = {"shape": np.array(self.out.shape, np.int32)}
        for name, mattes in zip(WAYS, (self.out, self.back), strict=True):
            frames = sorted(mattes)
            arrays[f"{name}_frames"] = np.array(frames, np.int32)
            bits = [np.packbits(mattes[frame]) for frame in frames]
            arrays[name] = np.array(bits, np.uint8)
        file = io.BytesIO()
        np.savez_compressed(file, allow_pickle=False, **arrays)
        return file.getvalue()

    @classmethod
    def from_bytes(cls, data: bytes, strokes: Strokes, size: Size, frames: int) -> "Solved":
        """Return what `to_bytes` gave.

        Args:
            data: its bytes.
            strokes: that it was solved from.
            size: of the clip.
            frames: of the clip.

        Raises:
            ValueError: it is something else.
        """
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                most = frames * (size.width * size.height + 64) + 4096
                if sum(each.file_size for each in archive.infolist()) > most:
                    raise ValueError("it holds more than the clip has frames")
            with np.load(io.BytesIO(data), allow_pickle=False) as arrays:
                height, width = (int(v) for v in arrays["shape"])
                ways = []
                for name in WAYS:
                    mattes = HardMattes((height, width))
                    for frame, bits in zip(arrays[f"{name}_frames"], arrays[name], strict=True):
                        mattes[int(frame)] = _unpack_mask(bits, mattes.shape)
                    ways.append(mattes)
        except (OSError, KeyError, TypeError, zipfile.BadZipFile) as error:
            raise ValueError(f"no mattes: {error}") from None
        return cls(strokes, size, frames, *ways)


def _unpack_mask(bits: NDArray[np.uint8], shape: tuple[int, int]) -> Mask:
    height, width = shape
    return np.unpackbits(bits, count=height * width).reshape(height, width)
