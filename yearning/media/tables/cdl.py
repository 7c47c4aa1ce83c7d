"""Grades in ASC CDL files: `.cc` holds one ColorCorrection, `.cdl` and `.ccc` several.

ASC Color Decision List, v1.2: SOPNode with Slope, Offset and Power, and SatNode with Saturation.
"""

from typing import NamedTuple
from xml.sax.saxutils import quoteattr

import numpy as np

from yearning.media.tables.markup import Markup, Node

LARGEST = 4 << 20


class Cdl(NamedTuple):
    """A grade: slope, offset and power of R, G and B, and saturation."""

    id: str
    slope: tuple[float, ...]
    offset: tuple[float, ...]
    power: tuple[float, ...]
    saturation: float


def read_cdl(name: str, data: bytes) -> Cdl:
    """Return the first grade of a file.

    Args:
        name: of the file; its ending says of what kind it is.
        data: its bytes.

    Raises:
        MediaError: it holds none that can be used; the message names the line.
    """
    markup = Markup(name)
    if len(data) > LARGEST:
        raise markup.refuse(1, f"larger than {LARGEST >> 20} MB, which no grade is")
    root = markup.tree(data)
    found = _first(root, "ColorCorrection")
    if found is None:
        raise markup.refuse(root.line, f"{root.name} holds no ColorCorrection: not a CDL file")
    sop = found.child("SOPNode") or found.child("SopNode")
    sat = found.child("SatNode") or found.child("SATNode")
    values = [(1.0,) * 3, (0.0,) * 3, (1.0,) * 3]
    if sop is not None:
        values = [
            tuple(np.round(markup.numbers(sop.child(word), sop, 3).astype(float), 6).tolist())
            for word in ("Slope", "Offset", "Power")
        ]
    saturation = 1.0
    if sat is not None:
        saturation = round(float(markup.numbers(sat.child("Saturation"), sat, 1)[0]), 6)
    slope, offset, power = values
    if min(slope) < 0 or min(power) <= 0 or saturation < 0:
        line = (sop or sat or found).line
        raise markup.refuse(line, "a slope or saturation below 0, or a power of 0 or less")
    return Cdl(found.attributes.get("id", ""), slope, offset, power, saturation)


def _first(node: Node, name: str) -> Node | None:
    if node.name == name:
        return node
    return next((found for n in node.nodes if (found := _first(n, name))), None)


def cc_text(grade: Cdl) -> str:
    """A grade as a `.cc` document."""

    def three(values: tuple[float, ...]) -> str:
        return " ".join(f"{value:.6g}" for value in values)

    return f"""<?xml version="1.0" encoding="UTF-8"?>
<ColorCorrection xmlns="urn:ASC:CDL:v1.01" id={quoteattr(grade.id)}>
  <SOPNode>
    <Slope>{three(grade.slope)}</Slope>
    <Offset>{three(grade.offset)}</Offset>
    <Power>{three(grade.power)}</Power>
  </SOPNode>
  <SatNode>
    <Saturation>{grade.saturation:.6g}</Saturation>
  </SatNode>
</ColorCorrection>
"""


def cdl_text(grade: Cdl) -> str:
    """A grade as a `.cdl` document."""
    inner = cc_text(grade).partition("\n")[2].replace(' xmlns="urn:ASC:CDL:v1.01"', "")
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<ColorDecisionList xmlns="urn:ASC:CDL:v1.01">\n'
        f"<ColorDecision>\n{inner}</ColorDecision>\n</ColorDecisionList>\n"
    )
