"""A clip brought near another picture, by command."""

import json

import pytest

import yearning as yn
from tests.test_cli import run

WARM = yn.Look([yn.Step(yn.Balance(mode="cdl", slope=(1, 0.8, 0.5)), "warm")])


@pytest.fixture
def still_path(clip, tmp_path):
    """A frame of the clip, warmer, as a picture of its own."""
    path = tmp_path / "warm.png"
    with yn.open_clip(clip) as opened:
        yn.save(WARM.picture(opened, 5), path)
    return path


def test_the_grade_is_a_look_that_is_used_like_any_other(clip, still_path, tmp_path):
    out, frame = tmp_path / "like.json", tmp_path / "frame.png"
    done = run("match", clip, "--like", still_path, "--hold", "skin", "--amount", 0.75, "-o", out)
    assert done.returncode == 0, done.stderr
    assert "of white from the picture's" in done.stdout
    assert "skin:" in done.stdout
    [step] = yn.read_look(out).steps
    assert step.mix.amount == 0.75
    assert [type(inner.treatment) for inner in step.treatment.steps] == [
        yn.Balance,
        yn.Curve,
        yn.Tone,
    ]
    assert run("frame", clip, 5, "--look", out, "-o", frame).returncode == 0


def test_it_is_told_in_numbers_as_the_library_has_them(clip, still_path, tmp_path):
    out = tmp_path / "like.json"
    words = ("match", clip, "--like", clip, "--like-frame", 3, "-o", out, "--json")
    told = json.loads(run(*words).stdout)
    with yn.open_clip(clip) as opened:
        like = yn.Look().picture(opened, 3, height=min(90, opened.size.height))
        found = yn.match(opened, like)
    assert told == {"file": str(out), "before": found.before, "after": found.after, "held": {}}
    assert yn.read_look(out).name == "Like small"


def test_a_still_has_no_frame_to_be_chosen(clip, still_path, tmp_path):
    done = run("match", clip, "--like", still_path, "--like-frame", 3, "-o", tmp_path / "like.json")
    assert done.returncode == 2
    assert "warm.png is a still" in done.stderr


@pytest.mark.parametrize(
    ("more", "says"),
    [
        (("-o", "like.cube"), "ends in .json"),
        (("-o", "like.json", "--hold", "hats"), "'hats' can't be held; it is one of skin, greys"),
        (("-o", "like.json", "--like-frame", 99_999), "99999"),
    ],
)
def test_what_can_not_be_is_told_in_a_line(more, says, clip, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    done = run("match", clip, "--like", clip, *more)
    assert done.returncode == 2
    assert says in done.stderr
    assert done.stderr.count("\n") == 1
    assert not list(tmp_path.iterdir())
