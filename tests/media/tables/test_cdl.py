"""Grades in and out, against OpenColorIO's readers."""

import PyOpenColorIO as ocio
import pytest

from yearning.media.errors import MediaError
from yearning.media.tables.cdl import Cdl, cc_text, cdl_text, read_cdl

GRADE = Cdl("dusk & dawn", (1.2, 1.0, 0.9), (0.05, 0.0, -0.1), (1.2, 0.8, 1.0), 1.4)


@pytest.mark.parametrize(("text", "ending"), [(cc_text, "cc"), (cdl_text, "cdl")])
def test_a_grade_survives_its_file_and_is_read_by_opencolorio(text, ending, tmp_path):
    path = tmp_path / f"a.{ending}"
    path.write_text(text(GRADE))
    assert read_cdl("a", path.read_bytes()) == GRADE
    found = ocio.CDLTransform.CreateFromFile(str(path), GRADE.id)
    assert found.getSlope() == pytest.approx(GRADE.slope)
    assert found.getOffset() == pytest.approx(GRADE.offset)
    assert found.getPower() == pytest.approx(GRADE.power)
    assert found.getSat() == pytest.approx(1.4)


REFUSED = {
    "no grade": ("<a><b/></a>", "line 1: a holds no ColorCorrection"),
    "elements without end": ("<a>\n" * 100_000, "line 64: it is nested more than 64 deep"),
    "no XML": ("grade", "line 1: not XML"),
    "two numbers": (cc_text(GRADE).replace("1.2 1 0.9", "1.2 1"), "line 4: Slope has 2 numbers"),
    "a power of 0": (cc_text(GRADE).replace("1.2 0.8 1", "0 1 1"), "line 3: a slope or sat"),
    "no offset": (cc_text(GRADE).replace("Offset", "Lift"), "line 3: SOPNode lacks"),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_is_no_grade_is_refused_by_line(what):
    text, says = REFUSED[what]
    with pytest.raises(MediaError) as refusal:
        read_cdl("g.cc", text.encode())
    assert str(refusal.value).startswith(f"g.cc: {says}")
