"""Steps of packages that are not installed: kept where that is asked for, else refused."""

import warnings

import numpy as np
import pytest

from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.look.changes import describe_change
from yearning.core.look.document import look_from_json, parse_look, steps_digest
from yearning.core.look.fitting import ClipOverrides, apply_fitting
from yearning.core.look.renderable import absent_steps, check_absent, without_absent

DUST = {
    "id": "dust",
    "treatment": "film-tools.dust",
    "settings": {"amount": 0.25, "rows": [[1, 2.5], [3, 4]], "file": None},
    "mix": {"amount": 0.5, "mask": [{"id": "head", "kind": "ellipse"}]},
    "keys": {"amount": [{"frame": 0, "value": 0.1, "ease": "ease"}]},
    "bursts": [{"from": 4, "to": 9, "ramp": 1}],
    "note": "As on the first reel.",
}
LIFT = {"id": "lift", "treatment": "exposure", "settings": {"stops": 0.5}}


def document(*steps, **more):
    return {"format": "yearning-look/3", "name": "Kept", "steps": list(steps), **more}


def parse_keeping(*steps):
    return parse_look(document(*steps), keep_absent=True)


def bundle(*steps):
    return {"id": "bundle", "treatment": "bundle", "settings": {"steps": list(steps)}}


def test_it_is_refused_where_nothing_else_is_said():
    with pytest.raises(
        InvalidLookError, match=r"steps\[1\].*the package 'film-tools', which is not inst"
    ):
        parse_look(document(LIFT, DUST))


@pytest.mark.parametrize("steps", [[DUST], [LIFT, DUST], [bundle(DUST, LIFT), DUST | {"id": "d"}]])
def test_it_is_written_as_it_was_read(steps):
    look = parse_keeping(*steps)
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        once = look.model_dump(mode="json")
        text = look.model_dump_json()
    assert look_from_json(text, keep_absent=True) == look
    assert parse_look(once, keep_absent=True).model_dump_json() == text
    written = next(step for _, step in absent_steps(look)).written
    for name in ("treatment", "settings", "keys", "bursts", "note"):
        assert written[name] == DUST[name]


def test_its_hash_is_what_it_was_with_the_package():
    """Of a treatment that is here, written in full and read as if it were not."""
    there = parse_look(document(LIFT))
    written = there.model_dump(mode="json")
    written["steps"][0]["treatment"] = "film-tools.exposure"
    absent = parse_look(written, keep_absent=True)
    assert list(absent.model_dump(mode="json")["steps"][0]) == list(written["steps"][0])
    assert steps_digest(absent) != steps_digest(there)  # but for its name
    assert absent.model_dump_json() == there.model_dump_json().replace(
        '"exposure"', '"film-tools.exposure"'
    )


def test_it_is_passed_over_in_pictures_and_its_mask_is_there_for_others():
    rest = LIFT | {"mix": {"mask": [{"id": "same", "same_as": "dust.head"}]}}
    alone = LIFT | {"mix": {"mask": [{"id": "head", "kind": "ellipse"}]}}
    clip = ArrayClip(np.full((2, 3, 36, 64), 0.4, np.float32))

    def picture(look):
        return Evaluator(look, clip, clip.size, Cache(0)).picture(0)

    expected = picture(parse_look(document(alone)))
    assert np.array_equal(picture(parse_keeping(DUST, rest)), expected)
    assert np.array_equal(picture(parse_keeping(bundle(DUST), alone)), expected)


def test_no_render_is_without_it_unless_it_is_off():
    with pytest.raises(InvalidLookError, match=r"^steps\[0\].treatment: .*or switch the step off$"):
        without_absent(parse_keeping(DUST, LIFT))
    off = DUST | {"on": False}
    assert without_absent(parse_keeping(off, LIFT)) == parse_look(document(LIFT))
    assert without_absent(parse_keeping(bundle(off, LIFT))) == parse_look(document(bundle(LIFT)))
    reads = LIFT | {"mix": {"input": "dust"}}
    with pytest.raises(InvalidLookError, match=r"steps\[0\].mix.input: 'dust' is no step"):
        without_absent(parse_keeping(off, reads))


def test_it_may_be_moved_and_switched_but_not_changed():
    before = parse_keeping(DUST, LIFT)
    check_absent(parse_keeping(LIFT, DUST | {"on": False}), before)
    check_absent(parse_keeping(LIFT), before)
    with pytest.raises(InvalidLookError, match="they stay as they are"):
        check_absent(parse_keeping(DUST | {"settings": {"amount": 1}}), before)
    with pytest.raises(InvalidLookError, match="not installed"):
        check_absent(parse_keeping(DUST, DUST | {"id": "two"}), before)


@pytest.mark.parametrize(
    ("before", "after", "words"),
    [
        ([DUST], [DUST | {"on": False}], "switching a step of film-tools off"),
        ([DUST, LIFT], [LIFT], "removing a step of film-tools"),
        ([DUST], [DUST | {"note": ""}], "a step of film-tools: name"),
        ([LIFT], [LIFT | {"treatment": "glow", "settings": {}}], "Exposure made Glow"),
        ([LIFT], [bundle(LIFT) | {"id": "lift", "settings": {}}], "Exposure made Bundle"),
    ],
)
def test_what_was_done_to_it_is_said(before, after, words):
    assert describe_change(parse_keeping(*before), parse_keeping(*after)).words == words


def test_a_look_with_it_is_fitted_to_clips():
    own = ClipOverrides(
        steps={"lift": {"settings": {"stops": 1.5}}, "dust": {"settings": {"amount": 1}}}
    )
    found = apply_fitting(parse_keeping(DUST, LIFT), own)
    assert found.look.steps[1].settings.stops == 1.5
