"""Settings as far out as a look may say, and pictures of shapes no camera makes."""

import subprocess
import sys

import numpy as np
import pytest

from tests.conftest import ASSETS, RecordingClip, a_look, lamps, step, with_asset
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.masks.shapes import KINDS
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS

SIZE = Size(96, 54)
TRIANGLE = [[0.1, 0.1, 0, 0, 0, 0], [0.9, 0.2, 0, 0, 0, 0], [0.5, 0.9, 0, 0, 0, 0]]
FAR = (0, -1, 10**24, -(10**24), 1e308, -1e308, 1e-308)


def numbers(kind):
    """The settings of a treatment that are one number."""
    for name, field in TREATMENTS[kind].model_fields.items():
        if field.annotation in (int, float):
            yield name, field.annotation


def bounds(kind, name):
    """The least and the most that a setting may be, where it says so."""
    schema = TREATMENTS[kind].model_json_schema()["properties"][name]
    return [schema[word] for word in ("minimum", "maximum") if word in schema]


@pytest.mark.parametrize("kind", TREATMENTS)
def test_a_number_however_far_out_is_refused_or_makes_a_picture(kind):
    clip, cache = RecordingClip(list(lamps(SIZE, 3))), Cache(1 << 26)
    for name, of in numbers(kind):
        for value in (*FAR, *bounds(kind, name)):
            try:
                look = a_look(step(kind, with_asset(kind) | {name: of(value)}))
            except InvalidLookError:
                continue
            seen = Evaluator(look, clip, SIZE, cache, assets=ASSETS).picture(1)
            assert np.isfinite(seen).all(), (name, value)


def test_seeds_are_numbers_that_generators_take():
    for seed in (-1, 1 << 31, int("9" * 24)):
        with pytest.raises(InvalidLookError, match="seed"):
            a_look(step("grain", {"seed": seed}))
    a_look(step("grain", {"seed": (1 << 31) - 1}))


FLAT = """
import resource, sys
from tests.conftest import ASSETS, RecordingClip, a_look, lamps, step, with_asset
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS

resource.setrlimit(resource.RLIMIT_AS, (12 << 30, 12 << 30))
for said in sys.argv[1:]:
    size = Size(*map(int, said.split("x")))
    clip = RecordingClip(list(lamps(size, 3)))
    for kind in TREATMENTS:
        print(said, kind, flush=True)
        look = a_look(step(kind, with_asset(kind)))
        Evaluator(look, clip, size, Cache(1 << 26), assets=ASSETS).picture(1)
print("all")
"""


@pytest.mark.timeout(300)
def test_pictures_of_any_shape_are_treated_within_bounds():
    """Of memory and of time: a screen of dots wanted 36 to 136 GB for the first two."""
    words = [sys.executable, "-c", FLAT, "16384x16", "2000x1", "1x2000", "1x1"]
    done = subprocess.run(words, capture_output=True, text=True, timeout=250)
    last = done.stdout.splitlines()[-1:]  # where it was
    assert last == ["all"], (last, done.stderr[-2000:])


@pytest.mark.parametrize("kind", KINDS)
def test_a_shape_however_far_out_is_refused_or_makes_a_picture(kind):
    clip, cache = RecordingClip(list(lamps(SIZE, 3))), Cache(1 << 26)
    needed = {"matte": {"file": "spots.mp4"}, "drawn": {"points": TRIANGLE}}.get(kind, {})
    plain = {"id": "a", "kind": kind, **needed}
    for name, field in KINDS[kind].model_fields.items():
        for far in (*FAR, 1e6, -1e6):
            for value in (far, [far, far], [[far] * 6] * 3):
                shape = plain | {name: value}
                try:
                    look = a_look(step("glow", amount=1, mask=[shape]))
                except InvalidLookError:
                    continue
                seen = Evaluator(look, clip, SIZE, cache, assets=ASSETS).picture(1)
                assert np.isfinite(seen).all(), (name, value, field)
