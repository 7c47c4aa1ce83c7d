"""Looks as plain objects: what they say is what a look file says, and back again."""

import json

import pytest

import yearning as yn
from tests.conftest import a_look, step
from yearning.core.look.document import look_from_json
from yearning.starters import FOLDER, starters

ALL_OF_IT = a_look(
    step("glow", {"spread": 60}, amount=0.5, tones=[[0, 0], [1, 1]])
    | {"keys": {"spread": [{"frame": 0, "value": 20, "ease": "ease"}, {"frame": 9, "value": 60}]}},
    {
        "id": "print",
        "treatment": "bundle",
        "name": "A print",
        "settings": {"steps": [step("grain", {"gauge": 16}), step("mono", blend="soft light")]},
        "mix": {"input": "glow"},
    },
    step(
        "leak",
        mask=[
            {"id": "head", "kind": "ellipse", "feather": 40},
            {
                "id": "low",
                "kind": "wash",
                "from": [0.5, 0.2],
                "to": [0.5, 0.9],
                "join": "take away",
            },
        ],
    )
    | {"bursts": [{"from": 2, "to": 5, "ramp": 1}], "on": False, "note": "Warm, from the left."},
)


@pytest.mark.parametrize(
    "document", [ALL_OF_IT, *(each.look for each in starters())], ids=lambda look: look.name
)
def test_a_document_made_of_a_look_s_steps_is_the_document_it_was_of(document):
    look = yn.Look.of_document(document)
    assert yn.Look(look.steps, look.name).document == document


def test_what_is_made_in_python_is_what_a_file_says(tmp_path):
    made = yn.Look(
        [
            yn.Step(
                yn.Glow(spread=60),
                mix=yn.Mix(amount=0.5, tones=[(0, 0), (1, 1)]),
                keys={"spread": [yn.Key(0, 20, "ease"), yn.Key(9, 60)]},
            ),
            yn.Bundle([yn.Grain(gauge=16), yn.Step(yn.Mono(), mix=yn.Mix(blend="soft light"))]),
            yn.Exposure(stops=-1),
        ],
        name="Made",
    )
    said = {
        "format": "yearning-look/3",
        "name": "Made",
        "steps": [
            {
                "id": "glow-1",
                "treatment": "glow",
                "settings": {"spread": 60},
                "mix": {"amount": 0.5, "tones": [[0, 0], [1, 1]]},
                "keys": {
                    "spread": [
                        {"frame": 0, "value": 20, "ease": "ease"},
                        {"frame": 9, "value": 60},
                    ]
                },
            },
            {
                "id": "bundle-1",
                "treatment": "bundle",
                "settings": {
                    "steps": [
                        {"id": "grain-1", "treatment": "grain", "settings": {"gauge": 16}},
                        {"id": "mono-1", "treatment": "mono", "mix": {"blend": "soft light"}},
                    ]
                },
            },
            {"id": "exposure-1", "treatment": "exposure", "settings": {"stops": -1}},
        ],
    }
    assert made.document == look_from_json(json.dumps(said))
    assert made["glow-1"].mix.blend == "screen"  # as a new glow is laid back
    yn.write_look(made, tmp_path / "made.look.json")
    assert yn.read_look(tmp_path / "made.look.json") == made


def test_a_step_is_given_other_settings_wherever_it_stands():
    look = yn.Look.of_document(ALL_OF_IT)
    other = look.with_step(look["grain"].with_settings(strength=0.2))
    assert other["grain"].treatment.strength == 0.2
    assert look["grain"].treatment.strength != 0.2
    assert [each.id for each in other.steps] == [each.id for each in look.steps]


def test_starters_are_look_files_by_name():
    for each in starters():
        assert yn.starter(each.look.name.upper()).document == each.look
    files = {file.name for file in FOLDER.glob("*.json")} - {"index.json"}
    assert len(files) == len(starters())
    for file in files:
        assert yn.read_look(FOLDER / file).name in yn.starter_names()


REFUSED = {
    "a setting beyond its range": (lambda: yn.Glow(spread=-1), "glow.spread: input should be"),
    "a setting that is not there": (lambda: yn.Glow(spred=1), "glow.spred: unknown field"),
    "a value of another kind": (lambda: yn.Grain(gauge="wide"), "grain.gauge: input should be"),
    "what is no step": (lambda: yn.Look([yn.Glow(), "grain"]), r"steps\[1\]: .* not str"),
    "a key of nothing": (
        lambda: yn.Look([yn.Step(yn.Glow(), keys={"glare": [yn.Key(0, 1)]})]),
        r"steps\[0\].keys.glare: no such thing",
    ),
    "bursts that cross": (
        lambda: yn.Look([yn.Step(yn.Glow(), bursts=[yn.Burst(0, 9), yn.Burst(5, 12)])]),
        r"steps\[0\].bursts\[1\]: it begins at frame 5",
    ),
    "an unknown blend mode": (
        lambda: yn.Look([yn.Step(yn.Glow(), mix=yn.Mix(blend="dodge"))]),
        r"steps\[0\].mix.blend: input should be",
    ),
    "one id twice": (
        lambda: yn.Look([yn.Step(yn.Glow(), "a"), yn.Step(yn.Glow(), "a")]),
        "two steps have the id 'a'",
    ),
    "a step that is not there": (lambda: yn.Look([yn.Glow()])["mist"], "'mist'; there are glow-1"),
    "another starter": (lambda: yn.starter("mystery"), "'mystery'; there are Soft mist"),
    "settings of a bundle": (
        lambda: yn.Step(yn.Bundle([])).with_settings(amount=1),
        "a bundle has no settings",
    ),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_is_refused_is_told_by_its_place(what):
    make, words = REFUSED[what]
    with pytest.raises(yn.InvalidLookError, match=words):
        make()


def test_a_look_file_that_is_none_is_told_by_name(tmp_path):
    with pytest.raises(yn.MediaError, match=r"none\.json: No such file"):
        yn.read_look(tmp_path / "none.json")
    (tmp_path / "later.json").write_text('{"format": "yearning-look/9", "steps": []}')
    with pytest.raises(yn.InvalidLookError, match=r"later.json: format: .*yearning-look/9"):
        yn.read_look(tmp_path / "later.json")


def test_a_look_is_not_written_where_its_files_would_not_be_found(tmp_path):
    look = yn.Look([yn.Plate(file="dust.png")], folder=tmp_path)
    with pytest.raises(yn.MediaError, match=r"steps\[0\].settings.file: dust.png is not in"):
        yn.write_look(look, tmp_path / "a.look.json")
    (tmp_path / "dust.png").write_bytes(b"")
    yn.write_look(look, tmp_path / "a.look.json")
    assert yn.read_look(tmp_path / "a.look.json") == look
