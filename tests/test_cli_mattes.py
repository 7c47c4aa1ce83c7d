"""`yearning matte`, and looks with what it writes."""

import json
from fractions import Fraction

import av
import cv2
import numpy as np
import pytest

from tests.media.making import MOVING, STEP_X, STEP_Y, moving_clip
from tests.test_cli import run
from yearning.core.picture import Size
from yearning.media.plates.lifted import read_lifted
from yearning.media.plates.matte_writer import matte_writer
from yearning.media.plates.plates import OpenPlate
from yearning.store.content_store import file_digest

DISC = [
    {
        "frame": 2,
        "kind": "around",
        "points": [[0.1, 0.13], [0.42, 0.13], [0.42, 0.72], [0.1, 0.72]],
    },
    {"frame": 2, "kind": "this", "points": [[0.2, 0.4], [0.34, 0.45]], "width": 60},
]


@pytest.fixture(scope="module")
def moving(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("moving") / "moving.mp4", frames=8)


def disc(frame):
    """Where the clip's disc is."""
    y, x = np.mgrid[0 : MOVING.height, 0 : MOVING.width]
    return (x - 120 - STEP_X * frame) ** 2 + (y - 110 - STEP_Y * frame) ** 2 < 60**2


def test_a_matte_is_written_as_a_grey_plate_and_laid_as_a_shape(moving, tmp_path):
    strokes, out = tmp_path / "strokes.json", tmp_path / "disc.mkv"
    strokes.write_text(json.dumps({"strokes": DISC}))
    done = run("matte", moving, "--strokes", strokes, "-o", out)
    assert done.returncode == 0, done.stderr
    with av.open(str(out)) as container:
        stream = container.streams.video[0]
        assert (stream.codec_context.name, stream.format.name) == ("ffv1", "gray16le")
        assert (stream.width, stream.height) == tuple(MOVING)
        assert float(stream.average_rate) == 24
    plate = OpenPlate(out)
    assert plate.frames == 8
    for frame in range(8):
        found = plate.picture(frame, MOVING)[0] > 0.5
        assert (found & disc(frame)).sum() / (found | disc(frame)).sum() > 0.9
    mask = [{"id": "m", "kind": "matte", "file": "disc.mkv"}]
    step = {"id": "e", "treatment": "exposure", "settings": {"stops": -9}, "mix": {"mask": mask}}
    look = tmp_path / "a.look.json"
    look.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
    done = run("frame", moving, 5, "--look", look, "-o", tmp_path / "o.png")
    assert done.returncode == 0, done.stderr
    dark = cv2.imread(str(tmp_path / "o.png"), cv2.IMREAD_GRAYSCALE) < 30
    assert (dark & disc(5)).sum() / (dark | disc(5)).sum() > 0.85


def test_with_more_strokes_it_is_as_from_scratch(moving, tmp_path):
    strokes, first, again = (tmp_path / name for name in ("s.json", "first.mkv", "again.mkv"))
    dab = {"frame": 6, "kind": "not this", "points": [[0.9, 0.9]], "width": 20}
    strokes.write_text(json.dumps({"strokes": DISC}))
    assert run("matte", moving, "--strokes", strokes, "-o", first).returncode == 0
    assert read_lifted(first).clip == file_digest(moving)
    strokes.write_text(json.dumps({"strokes": [*DISC, dab]}))
    for out in (first, again):
        assert run("matte", moving, "--strokes", strokes, "-o", out).returncode == 0
    assert len(read_lifted(first).solved.strokes.strokes) == 3
    one, other = OpenPlate(first), OpenPlate(again)
    for frame in range(8):
        np.testing.assert_array_equal(one.picture(frame, MOVING), other.picture(frame, MOVING))


@pytest.mark.parametrize(
    "attached",
    [
        {},
        {"strokes.json": b"nothing", "solved.npz": b"nothing"},
        {"strokes.json": b'{"format": "yearning-strokes/9"}', "solved.npz": b""},
    ],
)
def test_a_matte_that_says_nothing_of_strokes_is_a_plate_like_any_other(attached, tmp_path):
    path = tmp_path / "plain.mkv"
    with matte_writer(path, Size(64, 36), Fraction(24), attached) as write:
        write(np.full((36, 64), 0.25, np.float32))
    assert read_lifted(path) is None
    assert OpenPlate(path).picture(0, Size(64, 36))[0] == pytest.approx(0.25, abs=1e-4)


@pytest.mark.parametrize(
    ("strokes", "name", "says"),
    [
        ({"strokes": []}, "o.mkv", "strokes"),
        ({"strokes": [{**DISC[0], "frame": 99}]}, "o.mkv", "strokes[0]: frame 99; the clip has"),
        ({"strokes": [{**DISC[1], "kind": "that"}]}, "o.mkv", "strokes[0].kind"),
        ({"strokes": DISC}, "o.mp4", "mattes are written as .mkv"),
        ("nothing", "o.mkv", "JSON"),
        (None, "o.mkv", "No such file"),
    ],
)
def test_what_can_not_be_lifted_out_is_said_in_one_line(strokes, name, says, moving, tmp_path):
    path = tmp_path / "strokes.json"
    if strokes is not None:
        path.write_text(strokes if isinstance(strokes, str) else json.dumps(strokes))
    done = run("matte", moving, "--strokes", path, "-o", tmp_path / name)
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert says in done.stderr
    assert not list(tmp_path.glob("*o.mkv*"))
