"""Look-up tables in .cube files: read whole or refused by line, and written.

Also, as several programs write it, a one-dimensional table before a three-dimensional one, with
`LUT_1D_INPUT_RANGE` and `LUT_3D_INPUT_RANGE`.

Source: Cube LUT Specification 1.0 (2013), as OpenColorIO reads it; the tests compare the two.
"""

import math
from collections.abc import Callable
from pathlib import Path

import numpy as np

from yearning.core.colour.tables import (
    MAX_CUBE_SIDE,
    MAX_LINE_LENGTH,
    Array,
    Lut,
    Lut1D,
    Lut3D,
    Part,
)
from yearning.media.atomic_write import atomic_write
from yearning.media.errors import MediaError

LONGEST_LINE = 4096


class _CubeReader:
    """Reads a file line by line; errors name the line."""

    def __init__(self, path: Path) -> None:
        self._name = path.name
        self._at = 0
        self.title = path.stem
        self.line_size = 0
        self.cube_size = 0
        self.domain_min, self.domain_max = [0.0] * 3, [1.0] * 3
        self.line_range: list[float] = []
        self.cube_range: list[float] = []
        self.rows: list[list[float]] = []
        with path.open("rb") as file:
            for self._at, raw in enumerate(file, 1):
                line = raw.strip()
                if line and not line.startswith(b"#"):
                    self._take(line)

    def refuse(self, why: str, at: int | None = None) -> MediaError:
        """Return the error that names a line of the file.

        Args:
            why: in words.
            at: the line's number; None for the one that is being read.
        """
        return MediaError(f"{self._name}: line {at or self._at}: {why}")

    def _take(self, line: bytes) -> None:
        if len(line) > LONGEST_LINE:
            raise self.refuse(f"is longer than {LONGEST_LINE} characters")
        word, *rest = line.decode("latin-1").split(maxsplit=1)  # by spaces or tabs
        if word[0].isalpha() and word.lower() not in ("nan", "inf", "infinity"):
            self._keyword(word, "".join(rest))
            return
        if not (self.line_size or self.cube_size):
            raise self.refuse("colours before LUT_1D_SIZE or LUT_3D_SIZE")
        if len(self.rows) == self.colours_expected:
            raise self.refuse(
                f"more than the {self.colours_expected} colours that the sizes ask for"
            )
        self.rows.append(self._numbers(line.decode("latin-1"), 3))

    @property
    def colours_expected(self) -> int:
        """Colours that the sizes ask for."""
        return self.line_size + self.cube_size**3

    def _numbers(self, text: str, count: int) -> list[float]:
        try:
            numbers = [float(word) for word in text.split()]
        except ValueError:
            raise self.refuse(f"'{text[:40]}' is not {count} numbers") from None
        if len(numbers) != count:
            raise self.refuse(f"has {len(numbers)} numbers, not {count}")
        if not all(math.isfinite(number) for number in numbers):
            raise self.refuse("has a number that is none (NaN or infinity)")
        return numbers

    def _size(self, text: str, most: int) -> int:
        if self.rows:
            raise self.refuse("a size after colours")
        try:
            size = int(text)
        except ValueError:
            raise self.refuse(f"'{text[:40]}' is no size") from None
        if not 2 <= size <= most:
            raise self.refuse(f"a size of {size}; Yearning takes 2 to {most}")
        return size

    def _keyword(self, word: str, rest: str) -> None:
        takes: dict[str, Callable[[], None]] = {
            "TITLE": lambda: setattr(self, "title", rest.strip('"') or self.title),
            "LUT_1D_SIZE": lambda: setattr(self, "line_size", self._size(rest, MAX_LINE_LENGTH)),
            "LUT_3D_SIZE": lambda: setattr(self, "cube_size", self._size(rest, MAX_CUBE_SIDE)),
            "DOMAIN_MIN": lambda: setattr(self, "domain_min", self._numbers(rest, 3)),
            "DOMAIN_MAX": lambda: setattr(self, "domain_max", self._numbers(rest, 3)),
            "LUT_1D_INPUT_RANGE": lambda: setattr(self, "line_range", self._numbers(rest, 2)),
            "LUT_3D_INPUT_RANGE": lambda: setattr(self, "cube_range", self._numbers(rest, 2)),
        }
        if word not in takes:
            raise self.refuse(f"'{word[:40]}' is no word of .cube files")
        takes[word]()


def read_cube(path: Path) -> Lut:
    """The table in a .cube file: of one dimension, of three, or the first before the second.

    Raises:
        MediaError: it can't be used; the message names the line.
        OSError: it can't be read.
    """
    found = _CubeReader(path)
    if not found.colours_expected:
        raise MediaError(f"{path.name}: has no LUT_1D_SIZE or LUT_3D_SIZE: not a .cube file")
    if len(found.rows) < found.colours_expected:
        raise found.refuse(
            f"ends after {len(found.rows)} of the {found.colours_expected} colours that the sizes "
            "ask for"
        )
    rows = np.array(found.rows, np.float32)
    parts: list[Part] = []
    if found.line_size:
        low, high = _domain(path, found, found.line_range)
        parts.append(Lut1D(np.ascontiguousarray(rows[: found.line_size].T), low, high))
    if found.cube_size:
        low, high = _domain(path, found, found.cube_range)
        side = found.cube_size
        values = rows[found.line_size :].reshape(side, side, side, 3)  # red changes fastest
        parts.append(Lut3D(np.ascontiguousarray(values.transpose(2, 1, 0, 3)), low, high))
    return Lut(found.title, tuple(parts))


def _domain(path: Path, found: _CubeReader, said: list[float]) -> tuple[Array, Array]:
    low, high = (said[:1] * 3, said[1:] * 3) if said else (found.domain_min, found.domain_max)
    if any(b <= a for a, b in zip(low, high, strict=True)):
        raise MediaError(f"{path.name}: its domain ends where it begins, or before")
    return np.array(low, np.float32), np.array(high, np.float32)


def write_cube(path: Path, title: str, values: Array) -> None:
    """Write a lattice of colours over 0..1 as a .cube file.

    Args:
        path: of the file.
        title: of the table.
        values: shape `(n, n, n, 3)`, red on the first axis.

    Raises:
        OSError: it can't be written.
    """
    rows = values.transpose(2, 1, 0, 3).reshape(-1, 3)
    name = title.replace('"', "'").replace("\n", " ")
    with atomic_write(path) as part, part.open("w", encoding="ascii", errors="replace") as file:
        file.write(f'TITLE "{name}"\nLUT_3D_SIZE {values.shape[0]}\n')
        np.savetxt(file, rows, fmt="%.6f")
