"""Any look, however its steps read and hold each other, against a plain evaluator."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.compositing.blend import BLENDS, mix
from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import Bundle
from yearning.core.picture import Size

SIZE = Size(96, 54)
PICTURES = lamps(SIZE, 3)

KINDS = {
    "glow": {"temporal_smoothing": 0, "keep_midtones": 0},
    "soften": {"radius": 30},
    "sharpen": {"radius": 20},
    "curve": {"luma": [[0, 0.2], [1, 0.8]]},
    "levels": {"gamma": 1.4},
    "mono": {"blue": -0.5},
    "exposure": {"stops": 0.5},
}


TIMED = (
    {"bursts": [{"from": 1, "to": 1}]},
    {"bursts": [{"from": 0, "to": 0}, {"from": 2, "to": 2}]},
    {"bursts": [{"from": 0, "to": 2, "ramp": 3}]},
    {"keys": {"mix.amount": [{"frame": 0, "value": 0.2}, {"frame": 2, "value": 0.6}]}},
    {"keys": {"mix.amount": [{"frame": 1, "value": 0}, {"frame": 2, "value": 1}]}},
)
"""When a step is active; looked at from the frame between two."""


@st.composite
def rows(draw, depth=0, earlier=(), within="s"):
    """Steps in a row, bundles among them; each reads what it may."""
    steps, known = [], list(earlier)
    for n in range(draw(st.integers(0 if depth else 1, 3))):
        bundle = depth < 2 and draw(st.integers(0, 3)) == 0
        name = f"{within}{n}"
        mixing = {
            "blend": draw(st.sampled_from(BLENDS)),
            "amount": draw(st.sampled_from([0.0, 0.4, 1.0])),
            "out_of_range": draw(st.sampled_from(["limit", "keep"])),
            "input": draw(st.sampled_from(["previous", "previous", "footage", *known])),
        }
        if draw(st.booleans()):
            mixing["tones"] = [[0.1, 0.2], [0.6, 1.0]]
        made = {"id": name, "mix": mixing, "on": draw(st.integers(0, 4)) > 0}
        made |= draw(st.sampled_from([{}, {}, {}, *TIMED]))
        if bundle:
            inner, names = draw(rows(depth + 1, tuple(known), f"{name}."))
            made |= {"treatment": "bundle", "settings": {"steps": inner}}
            known += names
        else:
            kind = draw(st.sampled_from(sorted(KINDS)))
            made |= {"treatment": kind, "settings": KINDS[kind]}
        steps.append(made)
        known.append(name)
    return steps, known[len(earlier) :]


def treat_alone(picture, made):
    """A step's treatment of a picture, and no more."""
    look = a_look(step(made.treatment, made.settings.model_dump(), blend="normal", amount=1))
    return Evaluator(look, RecordingClip([picture] * 3), SIZE, Cache(0), keep="nothing").picture(1)


def plainly(steps, so_far, shown):
    """The picture after the steps; `shown` gets what stands after each by its id."""
    for timed in steps:
        made = timed.at(1)
        reads = made.mix.input
        read = so_far if reads == "previous" else shown[reads]
        if isinstance(made.settings, Bundle):
            treated = plainly(made.settings.steps, read, shown)
        elif made.on and made.mix.amount:
            treated = treat_alone(read, made)
        if made.on and made.mix.amount:
            out = np.empty_like(so_far)
            weights = weight_plane(so_far, made.mix.amount, made.mix.tones)
            keeps = made.mix.out_of_range == "keep"
            mix(so_far, treated, made.mix.blend, weights, out, keep_beyond=keeps)
            so_far = out
        shown[made.id] = so_far
    return so_far


@settings(max_examples=60)
@given(rows())
def test_any_look_is_what_its_steps_say_however_pictures_are_kept(made):
    steps, _ = made
    look = a_look(*steps)
    shown = {"footage": PICTURES[1]}
    plainly(look.steps, PICTURES[1], shown)
    for keep in ("last", "every step", "nothing"):
        path = Evaluator(look, RecordingClip(PICTURES), SIZE, Cache(1 << 26), keep=keep)
        for name, expected in shown.items():
            np.testing.assert_allclose(path.picture(1, name), expected, atol=3e-5, err_msg=name)
