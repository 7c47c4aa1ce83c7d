"""Look-up table files against OpenColorIO; what is refused, by line; baking."""

import numpy as np
import PyOpenColorIO as ocio
import pytest

from tests.conftest import ASSETS, a_look, step
from yearning.core.colour.tables import apply_table
from yearning.core.engine.baking import apply_to_colours, bake, lattice
from yearning.core.errors import InvalidLookError
from yearning.media.errors import MediaError
from yearning.media.plates.assets import prepared_table, read_table
from yearning.media.tables.cube import read_cube, write_cube

RNG = np.random.default_rng(8)
COLOURS = np.concatenate(
    [RNG.uniform(-0.3, 1.4, (3, 40, 50)), RNG.integers(0, 5, (3, 8, 50)) / 4], axis=1
).astype(np.float32)


def ocio_s(path):
    said = ocio.FileTransform(str(path), interpolation=ocio.INTERP_TETRAHEDRAL)
    config = ocio.Config.CreateRaw()
    found = np.ascontiguousarray(COLOURS.transpose(1, 2, 0))
    processor = config.getProcessor(said).getOptimizedCPUProcessor(ocio.OPTIMIZATION_LOSSLESS)
    processor.applyRGB(found)
    return found.transpose(2, 0, 1)


def rows(values):
    return "\n".join(" ".join(f"{v:.7f}" for v in row) for row in values) + "\n"


def cube_rows(side):
    return np.clip(lattice(side).reshape(3, side, side, side).transpose(3, 2, 1, 0), 0, 1)


def bent_lut(side):
    values = cube_rows(side).reshape(-1, 3)
    return values**1.7 @ [[0.8, 0.1, 0.1], [0.2, 0.7, 0.1], [0.0, 0.3, 0.7]]


CURVE = np.linspace(0, 1, 31)[:, None] ** [0.6, 1.0, 1.8]

CUBES = {
    "one dimension": f'TITLE "Bent"\n# said\n\nLUT_1D_SIZE 31\n{rows(CURVE)}',
    "a domain": f"LUT_1D_SIZE 31\nDOMAIN_MIN -0.2 0 0.1\nDOMAIN_MAX 1.2 1 2\n{rows(CURVE)}",
    "three dimensions": f"LUT_3D_SIZE 9\n{rows(bent_lut(9))}",
    "a cube with tabs": f'TITLE\t"Bent"\nLUT_3D_SIZE\t5\nDOMAIN_MAX\t1 1\t1\n{rows(bent_lut(5))}',
    "a cube in a domain": f"LUT_3D_SIZE 5\nDOMAIN_MAX 1.5 1.5 1.5\n{rows(bent_lut(5))}",
    "a shaper": "LUT_1D_SIZE 31\nLUT_1D_INPUT_RANGE -0.1 1.3\nLUT_3D_SIZE 6\n"
    f"LUT_3D_INPUT_RANGE 0 1\n{rows(CURVE)}{rows(bent_lut(6))}",
}

HEAD = '<?xml version="1.0"?>\n<ProcessList id="a" name="Made" compCLFversion="3">\n'


def clf(*nodes):
    return HEAD + "\n".join(nodes) + "\n</ProcessList>"


def array(values, *sides):
    return f'<Array dim="{" ".join(map(str, sides))}">\n{rows(values)}</Array>'


F = 'inBitDepth="32f" outBitDepth="32f"'
MIXED = np.array([[1.1, -0.1, 0], [0, 0.9, 0.1], [0.2, 0, 0.8]])
BLUE_FASTEST = bent_lut(7).reshape(7, 7, 7, 3).transpose(2, 1, 0, 3).reshape(-1, 3)
CLFS = {
    "a matrix": clf(f"<Matrix {F}>{array(MIXED, 3, 3)}</Matrix>"),
    "a matrix with offsets": clf(
        f"<Matrix {F}>{array(np.c_[MIXED, [0.1, 0, -0.1]], 3, 4)}</Matrix>"
    ),
    "lines of integers": clf(
        '<LUT1D inBitDepth="10i" outBitDepth="12i">'
        f"{array(np.round(4095 * CURVE), 31, 3)}</LUT1D>"
        f'<Matrix inBitDepth="12i" outBitDepth="32f">{array(np.eye(3) / 4095, 3, 3)}</Matrix>'
    ),
    "one line for all": clf(f"<LUT1D {F}>{array(CURVE[:, :1], 31, 1)}</LUT1D>"),
    "a cube": clf(f"<LUT3D {F}>{array(BLUE_FASTEST, 7, 7, 7, 3)}</LUT3D>"),
    "a range": clf(
        f"<Range {F}><minInValue>0.1</minInValue><maxInValue>0.8</maxInValue>"
        "<minOutValue>0</minOutValue><maxOutValue>1.2</maxOutValue></Range>"
    ),
    "a bound": clf(f"<Range {F}><minInValue>0</minInValue><minOutValue>0</minOutValue></Range>"),
    "a grade": clf(
        f'<ASC_CDL id="c" {F} style="Fwd"><SOPNode><Slope>1.2 1 0.9</Slope>'
        "<Offset>0.05 0 -0.1</Offset><Power>1.2 0.8 1</Power></SOPNode>"
        "<SatNode><Saturation>1.4</Saturation></SatNode></ASC_CDL>"
    ),
    "a grade that does not clamp": clf(
        f'<Description>As it comes</Description><ASC_CDL {F} style="FwdNoClamp"><SOPNode>'
        "<Slope>1.2 1 0.9</Slope><Offset>0.05 0 -0.1</Offset><Power>1.2 0.8 1</Power></SOPNode>"
        "</ASC_CDL>"
    ),
}  # fmt: skip


@pytest.mark.parametrize("what", [*CUBES, *CLFS])
def test_tables_do_what_opencolorio_does(what, tmp_path):
    path = tmp_path / ("t.cube" if what in CUBES else "t.clf")
    path.write_text(CUBES.get(what) or CLFS[what])
    np.testing.assert_allclose(apply_table(read_table(path), COLOURS), ocio_s(path), atol=2e-5)


def test_a_cube_is_the_same_through_a_file(tmp_path):
    values = RNG.random((5, 5, 5, 3)).astype(np.float32)
    write_cube(tmp_path / "a.cube", 'Lamps "at dusk"', values)
    table = read_cube(tmp_path / "a.cube")
    assert table.title == "Lamps 'at dusk'"
    np.testing.assert_allclose(table.parts[0].values, values, atol=1e-6)
    expected = ocio_s(tmp_path / "a.cube")
    np.testing.assert_allclose(apply_table(table, COLOURS), expected, atol=2e-5)


GOOD = CUBES["one dimension"]
REFUSED = {
    "missing rows": (
        "LUT_3D_SIZE 3\n" + rows(bent_lut(3)[:-2]),
        "line 26: ends after 25 of the 27",
    ),
    "too many": ("LUT_1D_SIZE 2\n" + "0 0 0\n" * 3, "line 4: more than the 2 colours"),
    "NaN": ("LUT_1D_SIZE 2\n0 0 0\nnan 1 1\n", "line 3: has a number that is none"),
    "two numbers": ("LUT_1D_SIZE 2\n0 0 0\n1 1\n", "line 3: has 2 numbers, not 3"),
    "a word": ("LUT_1D_SIZE 2\n0 0 zero\n1 1 1\n", "line 2: '0 0 zero' is not 3 numbers"),
    "no size": ("0 0 0\n", "line 1: colours before"),
    "a strange size": ("LUT_3D_SIZE four\n", "line 1: 'four' is no size"),
    "a vast cube": ("LUT_3D_SIZE 4096\n", "line 1: a size of 4096; Yearning takes 2 to 129"),
    "an unknown word": ("LUT_4D_SIZE 2\n", "line 1: 'LUT_4D_SIZE' is no word of .cube"),
    "an empty domain": ("LUT_1D_SIZE 2\nDOMAIN_MAX 0 1 1\n0 0 0\n1 1 1\n", "its domain ends"),
    "a long line": ("LUT_1D_SIZE 2\n" + "0 " * 9999, "line 2: is longer than"),
    "nothing": ("# words\n", "not a .cube file"),
}
REFUSED_CLF = {
    "an unknown node": (clf('<Log inBitDepth="32f" outBitDepth="32f"/>'), "line 3: a node Log;"),
    "a strange depth": (clf('<Range inBitDepth="9i" outBitDepth="32f"/>'), "line 3: Range has a"),
    "no XML": ("<ProcessList", "line 1: not XML"),
    "another document": ("<html/>", "line 1: begins with html"),
    "nothing to do": (clf(), "line 2: ProcessList has no node"),
    "numbers missing": (clf(f'<LUT1D {F}><Array dim="3 1">0 1</Array></LUT1D>'), "has 2 numbers"),
    "a vast cube": (
        clf(f'<LUT3D {F}><Array dim="4096 4096 4096 3">0</Array></LUT3D>'),
        "line 3: LUT3D of 4096x",
    ),
    "an encoding of its own": (
        '<?xml version="1.0" encoding="bogus"?><ProcessList/>',
        "line 1: an encoding that is not known",
    ),
    "elements without end": ("<a>\n" * 100_000, "line 64: it is nested more than 64 deep"),
    "entities": ('<!DOCTYPE x [<!ENTITY a "b">]>\n<ProcessList/>', "line 1: a DOCTYPE"),
    "a half domain": (clf(f'<LUT1D {F} halfDomain="true"/>'), "LUT1D with halfDomain"),
}


@pytest.mark.parametrize("what", [*REFUSED, *REFUSED_CLF])
def test_tables_are_refused_by_line(what, tmp_path):
    cube = what in REFUSED
    path = tmp_path / ("t.cube" if cube else "t.clf")
    text, says = REFUSED[what] if cube else REFUSED_CLF[what]
    path.write_text(text)
    with pytest.raises(MediaError) as refusal:
        read_table(path)
    assert says in str(refusal.value)
    assert str(refusal.value).startswith(path.name)


def test_a_vast_comment_is_passed_over(tmp_path):
    (tmp_path / "t.cube").write_text("# words\n" * 1_000_000 + GOOD)
    assert read_table(tmp_path / "t.cube").title == "Bent"


@pytest.mark.parametrize("name", ["gone.cube", "a.txt"])
def test_a_table_that_can_not_be_read_says_why(name, tmp_path):
    with pytest.raises(MediaError, match=name):
        prepared_table(tmp_path / name)


GRADE = [
    step("levels", {"black": 0.05, "gamma": 1.2, "keep_beyond": True}),
    step("balance", {"shadows_hue": 210, "shadows_strength": 0.4}),
    step("tone", {"contrast": 0.3, "saturation": 1.2}, amount=0.8),
]


def test_a_baked_look_is_the_look_within_the_error_that_is_said(tmp_path):
    look = a_look(*GRADE)
    errors = []
    for side in (17, 33, 65):
        values, error = bake(look, side)
        errors.append(error)
        write_cube(tmp_path / "a.cube", look.name, values)
        inside = np.clip(COLOURS, 0, 1)
        found = apply_table(read_table(tmp_path / "a.cube"), inside)
        assert np.abs(found - apply_to_colours(look, inside)).max() <= 1.5 * error
    assert errors[0] > errors[1] > errors[2]
    assert errors[1] < 0.01


def test_what_levels_cut_costs_a_table_more_and_that_is_said():
    """A table is straight between its places: it rounds the corner where black is cut off."""
    cut = [step("levels", {"black": 0.05, "gamma": 1.2}), *GRADE[1:]]
    error, smooth = bake(a_look(*cut), 33)[1], bake(a_look(*GRADE), 33)[1]
    assert smooth < error < 0.03


def test_what_a_table_can_not_hold_is_not_baked():
    with pytest.raises(InvalidLookError, match=r"steps\[1\]: grain works on more than"):
        bake(a_look(step("table", {"file": "x.cube"}), step("grain")), 17, ASSETS)
    bake(a_look(step("table", {"file": "x.cube"}), step("grain") | {"on": False}), 17, ASSETS)


def test_what_shows_in_a_part_of_the_frame_is_not_baked():
    def mask_step(id, shape, **more):
        return step("mono") | {"id": id, "mix": {"mask": [shape]}} | more

    dark = {"id": "s", "kind": "tones"}
    bake(a_look(mask_step("a", dark), mask_step("b", {"id": "t", "same_as": "a.s"})), 17)
    spot = {"id": "s", "kind": "ellipse"}
    for shape in (spot, {"id": "s", "kind": "matte"}, dark | {"feather": 9}):
        with pytest.raises(InvalidLookError, match=r"steps\[0\]\.mix\.mask\[0\]: it says where"):
            bake(a_look(mask_step("a", shape)), 17)
    off = mask_step("a", spot, on=False)
    with pytest.raises(InvalidLookError, match=r"steps\[1\]\.mix"):
        bake(a_look(off, mask_step("b", {"id": "t", "same_as": "a.s"})), 17)
    bake(a_look(off), 17)
