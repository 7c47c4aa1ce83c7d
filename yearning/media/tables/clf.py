"""Colour transforms in Common LUT Format files (SMPTE ST 2136-1; Academy S-2014-006).

Read are Matrix, LUT1D, LUT3D, Range and ASC_CDL, one after the other; a file with another node is
refused by its line. Three-dimensional tables are read between their points tetrahedrally.
"""

from collections.abc import Callable
from pathlib import Path

import numpy as np

from yearning.core.colour.tables import (
    MAX_CUBE_SIDE,
    MAX_LINE_LENGTH,
    Clamp,
    Grade,
    Lut,
    Lut1D,
    Lut3D,
    Matrix,
    Part,
)
from yearning.core.validation import is_count
from yearning.media.errors import MediaError
from yearning.media.tables.markup import Markup, Node

LARGEST = 256 << 20

DEPTHS = {"8i": 255.0, "10i": 1023.0, "12i": 4095.0, "16i": 65535.0, "16f": 1.0, "32f": 1.0}
"""What stands for 1 in each bit depth."""

SKIPPED = ("Description", "InputDescriptor", "OutputDescriptor", "Info")


class _Clf(Markup):
    def dimensions(self, array: Node | None, of: Node, count: int) -> list[int]:
        words = array.attributes.get("dim", "").split() if array else []
        if array is None or len(words) != count or not all(map(is_count, words)):
            raise self.refuse(of.line, f"{of.name} wants an Array with {count} dimensions")
        return [int(word) for word in words]

    def depths(self, node: Node) -> tuple[float, float]:
        """Return the code values that mean 1.0 of a node's input and output."""
        words = [node.attributes.get(name, "") for name in ("inBitDepth", "outBitDepth")]
        for word in words:
            if word not in DEPTHS:
                raise self.refuse(node.line, f"{node.name} has a bit depth of '{word}'")
        return DEPTHS[words[0]], DEPTHS[words[1]]

    def parts(self, node: Node) -> list[Part]:
        """Read a process node as parts of a table."""
        reads: dict[str, Callable[[Node], list[Part]]] = {
            "Matrix": self._matrix,
            "LUT1D": self._lines,
            "LUT3D": self._cube,
            "Range": self._range,
            "ASC_CDL": self._grade,
        }
        if node.name not in reads:
            raise self.refuse(node.line, f"a node {node.name}; Yearning reads {', '.join(reads)}")
        return reads[node.name](node)

    def _matrix(self, node: Node) -> list[Part]:
        into, out = self.depths(node)
        array = node.child("Array")
        rows, columns, *_ = [*(array.attributes.get("dim", "") if array else "").split(), "", ""]
        if rows != "3" or columns not in ("3", "4"):
            raise self.refuse(node.line, "Matrix wants an Array of 3 by 3 or 3 by 4")
        values = self.numbers(array, node, 3 * int(columns)).reshape(3, -1)
        offset = values[:, 3] / out if columns == "4" else np.zeros(3)
        scaled = np.ascontiguousarray(values[:, :3] * (into / out), np.float32)
        return [Matrix(scaled, offset.astype(np.float32))]

    def _lines(self, node: Node) -> list[Part]:
        for name in ("halfDomain", "rawHalfs", "hueAdjust"):
            if node.attributes.get(name, "none") not in ("none", "false"):
                raise self.refuse(node.line, f"LUT1D with {name}, which Yearning does not read")
        _, out = self.depths(node)
        array = node.child("Array")
        count, channels = self.dimensions(array, node, 2)
        if not 2 <= count <= MAX_LINE_LENGTH or channels not in (1, 3):
            raise self.refuse(node.line, f"LUT1D of {count} by {channels}")
        values = self.numbers(array, node, count * channels).reshape(count, channels) / out
        lines = np.broadcast_to(values.T, (3, count)).astype(np.float32)
        return [Lut1D(np.ascontiguousarray(lines), _NONE, _ALL)]

    def _cube(self, node: Node) -> list[Part]:
        _, out = self.depths(node)
        array = node.child("Array")
        dimensions = self.dimensions(array, node, 4)
        side = dimensions[0]
        if dimensions != [side, side, side, 3] or not 2 <= side <= MAX_CUBE_SIDE:
            raise self.refuse(
                node.line,
                f"LUT3D of {'x'.join(map(str, dimensions))}; sides are 2 to {MAX_CUBE_SIDE}",
            )
        values = self.numbers(array, node, 3 * side**3) / np.float32(out)
        return [Lut3D(values.reshape(side, side, side, 3), _NONE, _ALL)]

    def _range(self, node: Node) -> list[Part]:
        into, out = self.depths(node)

        def read_bound(name: str, depth: float) -> float | None:
            found = node.child(name)
            return None if found is None else float(self.numbers(found, node, 1)[0]) / depth

        low_in, high_in = read_bound("minInValue", into), read_bound("maxInValue", into)
        low_out, high_out = read_bound("minOutValue", out), read_bound("maxOutValue", out)
        if (low_in is None) != (low_out is None) or (high_in is None) != (high_out is None):
            raise self.refuse(node.line, "Range has a bound in without one out, or the reverse")
        bounds = (low_in, low_out, high_in, high_out)
        if all(bound is not None for bound in bounds):
            assert low_in is not None and low_out is not None  # noqa: PT018
            assert high_in is not None and high_out is not None  # noqa: PT018
            if high_in <= low_in:
                raise self.refuse(node.line, "Range ends where it begins, or before")
            scale = (high_out - low_out) / (high_in - low_in)
            offset = low_out - low_in * scale
        elif low_in is not None and low_out is not None:
            scale, offset = 1.0, low_out - low_in
        elif high_in is not None and high_out is not None:
            scale, offset = 1.0, high_out - high_in
        else:
            raise self.refuse(node.line, "Range has no bounds")
        parts: list[Part] = []
        if (scale, offset) != (1.0, 0.0):
            rows = np.eye(3, dtype=np.float32) * np.float32(scale)
            parts.append(Matrix(rows, np.full(3, offset, np.float32)))
        if node.attributes.get("style", "Clamp") == "Clamp":
            low = -np.inf if low_out is None else low_out
            parts.append(Clamp(low, np.inf if high_out is None else high_out))
        return parts

    def _grade(self, node: Node) -> list[Part]:
        style = node.attributes.get("style", "Fwd")
        if style not in ("Fwd", "FwdNoClamp"):
            raise self.refuse(node.line, f"ASC_CDL of style {style}; Yearning reads Fwd")
        values = [_NONE + 1, _NONE, _NONE + 1]
        sop, sat = node.child("SOPNode"), node.child("SatNode")
        if sop is not None:
            values = [
                self.numbers(sop.child(name), sop, 3) for name in ("Slope", "Offset", "Power")
            ]
        if values[2].min() <= 0 or values[0].min() < 0:
            raise self.refuse(node.line, "ASC_CDL has a power of 0 or less, or a slope below 0")
        saturation = 1.0
        if sat is not None:
            saturation = float(self.numbers(sat.child("Saturation"), sat, 1)[0])
        slope, offset, power = values
        return [Grade(slope, offset, power, saturation, style == "Fwd")]


_NONE = np.zeros(3, np.float32)
_ALL = np.ones(3, np.float32)


def read_clf(path: Path) -> Lut:
    """The transform in a CLF file.

    Raises:
        MediaError: it can't be used; the message names the line.
        OSError: it can't be read.
    """
    if path.stat().st_size > LARGEST:
        raise MediaError(f"{path.name}: larger than {LARGEST >> 20} MB")
    clf = _Clf(path.name)
    root = clf.tree(path.read_bytes())
    if root.name != "ProcessList":
        raise clf.refuse(root.line, f"begins with {root.name}, not ProcessList: not a CLF file")
    nodes = [node for node in root.nodes if node.name not in SKIPPED]
    parts = [part for node in nodes for part in clf.parts(node)]
    if not parts:
        raise clf.refuse(root.line, "ProcessList has no node that does anything")
    return Lut(root.attributes.get("name") or path.stem, tuple(parts))
