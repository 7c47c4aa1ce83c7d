"""Seeds that are another for every clip, and the same for one always."""

import shutil

import numpy as np
import pytest

from tests.conftest import THREE_STEPS
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.look.changes import describe_change
from yearning.core.look.clip_seeds import SEEDS, seed_on, with_clip_seeds
from yearning.core.look.document import parse_look, steps_digest
from yearning.core.look.step import setting_unit
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS
from yearning.media.decode.clip import open_clip

SIZE = Size(96, 54)
SEEDED = [
    kind
    for kind, treatment in TREATMENTS.items()
    if any(setting_unit(treatment, name) == "seed" for name in treatment.model_fields)
]


def grey(value):
    return ArrayClip(np.full((3, 3, SIZE.height, SIZE.width), value, np.float32))


def a_look(kind, **step):
    one = {"id": "s", "treatment": kind}
    return parse_look({"format": "yearning-look/3", "name": "Seeds", "steps": [one | step]})


def seed_step(kind, clip):
    return with_clip_seeds(a_look(kind, seed_by_clip=True), clip).steps[0]


@pytest.mark.parametrize("kind", SEEDED)
def test_every_seed_is_another_for_another_clip_and_the_same_for_one(kind):
    first, second = seed_step(kind, grey(0.25)), seed_step(kind, grey(0.5))
    assert first == seed_step(kind, grey(0.25)) != second
    plain = a_look(kind).steps[0]
    for name in first.seeds:
        on_clip = seed_on(getattr(plain.settings, name), grey(0.25).content_id)
        assert getattr(first.settings, name) == on_clip
    left = {*plain.seeds}
    assert first.settings.model_dump(exclude=left) == plain.settings.model_dump(exclude=left)


@pytest.mark.parametrize("kind", [kind for kind in SEEDED if kind != "plate"])
def test_the_largest_seed_gives_a_picture(kind, monkeypatch):
    monkeypatch.setattr("yearning.core.look.clip_seeds.seed_on", lambda seed, id: SEEDS - 1)
    clip = grey(0.4)
    picture = Evaluator(a_look(kind, seed_by_clip=True), clip, SIZE, Cache(0)).picture(1)
    assert np.isfinite(picture).all()


def test_pictures_are_those_of_the_seed_written_out():
    clip, look = grey(0.25), a_look("grain", seed_by_clip=True)
    seed = seed_on(look.steps[0].settings.seed, clip.content_id)
    by_hand = a_look("grain", settings={"seed": seed})
    for frame in (0, 2):
        made = Evaluator(look, clip, SIZE, Cache(0)).picture(frame)
        written = Evaluator(by_hand, clip, SIZE, Cache(0)).picture(frame)
        np.testing.assert_array_equal(made, written)


def test_steps_within_bundles_have_theirs():
    inner = {"id": "d", "treatment": "dust", "seed_by_clip": True}
    bundle = {"id": "b", "treatment": "bundle", "settings": {"steps": [inner, *THREE_STEPS]}}
    look = parse_look({"format": "yearning-look/3", "name": "Seeds", "steps": [bundle]})
    first, second = (with_clip_seeds(look, grey(v)).steps[0].settings.steps for v in (0.2, 0.3))
    assert first[0].settings.seed != second[0].settings.seed
    assert first[1:] == second[1:] == look.steps[0].settings.steps[1:]


def test_what_has_no_seed_says_so():
    with pytest.raises(InvalidLookError, match=r"steps\[0\]\.seed_by_clip: a glow has no seed"):
        a_look("glow", seed_by_clip=True)


def test_a_clip_is_known_wherever_its_file_lies_and_under_any_name(clip, make_clip, tmp_path):
    copy = tmp_path / "else" / "another name.mp4"
    copy.parent.mkdir()
    shutil.copy(clip, copy)
    other = make_clip("other.mp4", "libx264", frames=5)
    with open_clip(clip) as one, open_clip(copy) as same, open_clip(other) as another:
        assert one.content_id == same.content_id != another.content_id


def test_it_is_named_by_undo_and_tells_looks_apart():
    plain, by_clip = a_look("dust"), a_look("dust", seed_by_clip=True)
    assert describe_change(plain, by_clip).words == "Dust: seed for every clip"
    assert steps_digest(plain) != steps_digest(by_clip)
