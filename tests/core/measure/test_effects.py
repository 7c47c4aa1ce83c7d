"""What steps do to clips: the amounts that follow do as much on one clip as on another."""

import numpy as np
import pytest

from yearning.core.colour.luma import luma_plane
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.measure.effects import EffectMeter, even_amount, noise_of
from yearning.core.picture import Size
from yearning.core.treatment.assets import NO_ASSETS
from yearning.core.treatments import TREATMENTS
from yearning.library.look import Look
from yearning.testing import lamps

MEASURED = {kind: t.effect for kind, t in TREATMENTS.items() if t.effect}
DIM = ArrayClip([picture * np.float32(0.7) for picture in lamps(Size(160, 90), 3)])
BRIGHT = ArrayClip([picture * np.float32(1.2) for picture in lamps(Size(160, 90), 3, seed=4)])


def look(kind, amount, **more):
    settings = dict(TREATMENTS[kind].shown)
    step = {"id": "s", "treatment": kind, "settings": settings, "mix": {"amount": amount}} | more
    return parse_look({"format": "yearning-look/3", "name": "Measured", "steps": [step]})


def measure_effect(kind, clip, amount=1.0, **more):
    meter = EffectMeter(look(kind, amount, **more), "s", clip, NO_ASSETS)
    assert list(meter.run()) == [1, 2, 3]
    return meter.effect()


def plain_effect(kind, clip, amount):
    """What a step does with an amount, from the pictures with it and without."""
    pairs = [
        [luma_plane(Look.of_document(look(kind, a)).picture(clip, n)) for a in (amount, 0)]
        for n in range(3)
    ]
    change = np.stack([whole - below for whole, below in pairs])
    below = np.stack([below for _, below in pairs])
    if MEASURED[kind] == "light":
        return np.sqrt(np.mean(np.maximum(change, 0) ** 2))
    if MEASURED[kind] == "grain":
        return np.sqrt(np.mean(change**2)) / np.mean([max(noise_of(b), 0.5 / 255) for b in below])
    if MEASURED[kind] == "edges":
        return -change.mean() / below.mean()
    rise, fall = (np.clip((below - edge) / 0.25, 0, 1) for edge in (0.1, 0.65))
    weight = rise**2 * (3 - 2 * rise) - fall**2 * (3 - 2 * fall)
    return abs((weight * change).sum() / weight.sum())


@pytest.mark.parametrize("kind", MEASURED)
def test_with_its_amount_a_step_does_on_one_clip_what_it_does_on_another(kind):
    effects = [measure_effect(kind, clip) for clip in (DIM, BRIGHT)]
    weaker = int(np.argmin(effects))
    clips = [DIM, BRIGHT] if weaker == 0 else [BRIGHT, DIM]
    low, high = sorted(effects)
    found = even_amount(0.8 * low, high)
    assert found.reached == 1
    wanted, got = plain_effect(kind, clips[0], 0.8), plain_effect(kind, clips[1], found.amount)
    assert got == pytest.approx(wanted, rel=0.02)


@pytest.mark.parametrize("kind", MEASURED)
def test_what_a_step_can_do_is_measured_whatever_it_is_set_to_now(kind):
    plain = measure_effect(kind, DIM)
    assert plain > 0
    keys = {"mix.amount": [{"frame": 0, "value": 0.1}]}
    assert measure_effect(kind, DIM, 0.2, on=False) == plain
    assert measure_effect(kind, DIM, keys=keys, bursts=[{"from": 1, "to": 1}]) == plain


def test_an_amount_is_at_most_all_and_none_where_nothing_is_done():
    assert even_amount(0.5, 0.25) == (1.0, 0.5)
    assert even_amount(0.0, 0.25) == (0.0, 1.0)
    assert even_amount(0.5, 1e-6) is None


@pytest.mark.parametrize("sigma", [0.005, 0.02, 0.08])
def test_noise_is_found_in_a_picture_with_edges(sigma):
    """Immerkær 1996: white noise of a known deviation, over ramps and steps."""
    y, x = np.mgrid[0:180, 0:320].astype(np.float32)
    scene = 0.3 + 0.2 * (x > 140) + 0.001 * y + 0.1 * ((x // 40 + y // 40) % 2)
    noisy = scene + np.random.default_rng(1).normal(0, sigma, scene.shape)
    assert noise_of(noisy.astype(np.float32)) == pytest.approx(sigma, rel=0.1)


@pytest.mark.parametrize(("kind", "id"), [("curve", "s"), ("glow", "gone")])
def test_what_is_not_measured_is_told(kind, id):
    with pytest.raises(InvalidLookError, match=r"is not measured|no step 'gone'"):
        EffectMeter(look(kind, 1.0), id, DIM, NO_ASSETS)
