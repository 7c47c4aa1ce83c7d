"""Reels as files: what they hold, and what is told of those that can't be."""

import json

import pytest

from yearning.core.look.reel import Gap, Reel, ReelError, Shot, SoundClip, parse_reel, reel_json

REEL = Reel(
    name="Tidewater",
    rate=(24000, 1001),
    items=(
        Shot(name="one", media="a.mov", first=3, last=20, look="warm.json"),
        Gap(gap=12),
        Shot(name="two", media="../b.mov", first=0, last=0, speed=2.0, fitting="two.json"),
        Shot(name="three", media="c.mov", first=0, last=5, heard=False),
    ),
    sounds=(SoundClip(name="music", media="m.wav", at=4, start=1.5, frames=20, level=-6),),
)


def test_a_file_holds_all_of_it():
    assert parse_reel(reel_json(REEL)) == REEL
    assert [shot.name for shot in REEL.shots] == ["one", "two", "three"]
    assert len(reel_json(REEL).splitlines()) == 8  # an item on a line, to be edited by hand
    alone = REEL.model_copy(update={"sounds": ()})
    assert "sounds" not in reel_json(alone)


def test_words_stand_in_its_file_as_they_are_written():
    text = reel_json(
        REEL.model_copy(update={"name": "Gezeitenlichter, grün", "items": (Gap(gap=1),)})
    )
    assert "grün" in text
    shot = REEL.model_copy(update={"items": (Shot(name="drüben", media="a", first=0, last=1),)})
    assert "drüben" in reel_json(shot)


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"format": "yearning-reel/2"}, "must say"),
        ({"rate": [0, 1]}, "rate.0"),
        ({"items": [{"gap": 0}]}, "items.0"),
        ({"items": [{"name": "a", "media": "m", "first": 5, "last": 4}]}, "before it begins at 5"),
        ({"items": [{"name": "a", "media": "m", "first": 0, "last": 4, "x": 1}]}, "unknown field"),
        ({"items": [{"name": "", "media": "m", "first": 0, "last": 4}]}, "items.0.name"),
        ({"items": 7}, "items"),
        ({"items": [7]}, r"items\[0\]: is neither"),
        ({"more": 1}, "more: unknown field"),
        ({"sounds": [{"name": "m", "media": "m", "at": 0, "frames": 0}]}, "sounds.0.frames"),
        ({"sounds": [{"name": "m", "media": "m", "frames": 3}]}, "sounds.0.at"),
    ],
)
def test_what_can_t_be_is_told_by_its_place(change, why):
    with pytest.raises(ReelError, match=why):
        parse_reel(json.dumps(json.loads(reel_json(REEL)) | change))


@pytest.mark.parametrize("text", ["", "{", "[1]", "null", "[" * 100_000])
def test_what_is_no_reel_is_told(text):
    with pytest.raises(ReelError, match="not a reel"):
        parse_reel(text)
