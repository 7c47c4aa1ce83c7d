"""What was changed in a look, in the words of Undo."""

import pytest

from tests.conftest import a_look
from yearning.core.look.changes import describe_change


def _step(kind, **fields):
    return {"id": kind, "treatment": kind, **fields}


def _glow(**settings):
    return _step("glow", settings=settings)


GLOW, GRAIN, CURVE = _step("glow"), _step("grain"), _step("curve")
KEYED = _step("glow", keys={"spread": [{"frame": 0, "value": 20}]})
MIXED = _step("glow", mix={"blend": "add", "tones": [[0, 1], [1, 0]]})
MASKED = _step("glow", mix={"mask": [{"id": "head", "kind": "ellipse"}]})
MOVED = _step(
    "glow",
    mix={"mask": [{"id": "head", "kind": "ellipse"}]},
    keys={"mix.mask.head.centre": [{"frame": 0, "value": [0.4, 0.4]}]},
)
BURST = _step("glow", bursts=[{"from": 2, "to": 4}])


def _bundle(*steps, **fields):
    return {"id": "bundle", "treatment": "bundle", "settings": {"steps": list(steps)}, **fields}


@pytest.mark.parametrize(
    ("before", "after", "words", "at"),
    [
        ([], [GLOW], "adding Glow", "glow"),
        ([], [GLOW, GRAIN], "adding 2 steps", None),
        ([GLOW, GRAIN], [GLOW], "removing Grain", None),
        ([GLOW, GRAIN], [CURVE], "other steps", None),
        ([GLOW, GRAIN], [GRAIN, GLOW], "the order of the steps", None),
        ([GLOW], [_glow(spread=9)], "Glow: spread", "glow"),
        ([GLOW], [_glow(spread=9, warmth=0.2)], "Glow: spread and warmth", "glow"),
        (
            [GLOW],
            [_glow(spread=9, warmth=0.3, temporal_smoothing=2)],
            "Glow: 3 settings",
            "glow",
        ),
        ([GLOW], [MIXED], "Glow: blend and tone window", "glow"),
        ([GLOW], [KEYED], "Glow: keys of spread", "glow"),
        ([GLOW], [MASKED], "Glow: mask", "glow"),
        ([MASKED], [MOVED], "Glow: keys of centre of head", "glow"),
        ([GLOW], [BURST], "Glow: bursts", "glow"),
        ([GLOW], [_step("glow", on=False)], "switching Glow off", "glow"),
        ([_step("glow", on=False)], [GLOW], "switching Glow on", "glow"),
        ([GLOW], [_step("glow", note="For the lamps.")], "Glow: note", "glow"),
        ([GLOW, GRAIN], [MIXED, _step("grain", on=False)], "2 steps", None),
        ([GLOW, GRAIN], [_bundle(GLOW, GRAIN)], "bundling 2 steps", "bundle"),
        ([_bundle(GLOW, GRAIN)], [GLOW, GRAIN], "taking apart Bundle", None),
        ([_bundle(GLOW)], [], "removing 2 steps", None),
        ([_bundle(GLOW)], [_bundle(MIXED)], "Glow: blend and tone window", "glow"),
        ([_bundle(GLOW)], [_bundle(GLOW, name="Haze")], "Haze: name", "bundle"),
        ([], [_bundle(GLOW)], "adding Bundle", "bundle"),
    ],
)
def test_a_change_is_named_and_placed(before, after, words, at):
    assert describe_change(a_look(*before), a_look(*after)) == (words, at)


def test_a_name_is_named():
    look = a_look(GLOW)
    renamed = look.model_copy(update={"name": "Dusk"})
    assert describe_change(look, renamed) == ("the look's name", None)
