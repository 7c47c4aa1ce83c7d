"""Steps that show where a mask says: in looks, through crops and bends, and the same in bands."""

import numpy as np
import pytest

from tests.conftest import RecordingClip, lamps, step
from yearning.core import parallel
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import RenderGraph
from yearning.core.engine.step_weight import step_weight
from yearning.core.look.document import parse_look
from yearning.core.picture import Size
from yearning.core.treatment.assets import NO_ASSETS
from yearning.core.treatment.capabilities import WarpsFrame
from yearning.core.treatments import TREATMENTS

SIZE = Size(192, 108)
HEAD = {"id": "head", "kind": "ellipse", "centre": [0.45, 0.5], "size": [0.2, 0.3], "feather": 90}
LOWER = {"id": "lower", "kind": "wash", "join": "take away", "from": [0.5, 0.4], "to": [0.5, 0.7]}
MASK = [HEAD, LOWER]


@pytest.fixture(scope="module")
def pictures():
    return lamps(SIZE, 4)


def evaluator(pictures, *steps, size=SIZE, **how):
    look = parse_look({"format": "yearning-look/3", "steps": list(steps)})
    return Evaluator(look, RecordingClip(pictures), size, Cache(1 << 26), **how)


@pytest.mark.parametrize("kind", sorted(set(TREATMENTS) - {"plate", "table"}))
def test_a_masked_step_is_laid_back_by_the_mask_s_weight(kind, pictures):
    plain = evaluator(pictures, step(kind, blend="normal", amount=0.6))
    masked = evaluator(pictures, step(kind, blend="normal", amount=0.6, mask=MASK))
    weight = step_weight(masked, 2, kind)
    assert 0.3 < weight.max() <= 1
    assert weight.min() == 0
    below = pictures[2]
    expected = below + weight * (plain.picture(2) - below)
    if not issubclass(TREATMENTS[kind], WarpsFrame):  # bars and crops blacken what they cut off
        np.testing.assert_allclose(masked.picture(2), expected, atol=3e-5)
    untouched = weight == 0
    np.testing.assert_array_equal(masked.picture(2)[:, untouched], below[:, untouched])


@pytest.mark.parametrize("blend", ["normal", "screen", "multiply", "luminosity"])
def test_every_blend_shows_by_the_mask(blend, pictures):
    plain = evaluator(pictures, step("soften", {"radius": 20}, blend=blend))
    masked = evaluator(pictures, step("soften", {"radius": 20}, blend=blend, mask=MASK))
    weight = step_weight(masked, 0, "soften")
    expected = pictures[0] + weight * (plain.picture(0) - pictures[0])
    np.testing.assert_allclose(masked.picture(0), expected, atol=3e-5)


def test_bands_from_the_footage_give_what_whole_pictures_do(pictures):
    tones = {"id": "t", "kind": "tones", "of": "footage", "join": "keep common"}
    steps = [
        step("exposure", {"stops": 1}, mask=MASK),
        step("glow"),
        step("grain", mask=[HEAD, tones]),
    ]
    streamed = evaluator(pictures, *steps)
    kept = evaluator(pictures, *steps, keep="every step")
    np.testing.assert_allclose(streamed.picture(1), kept.picture(1), atol=1e-6)


@pytest.mark.parametrize("keep", ["nothing", "last", "every step"])
def test_what_is_found_in_a_picture_has_its_feather_however_that_is_made(keep, pictures):
    soft = {"id": "t", "kind": "tones", "feather": 120}
    hue = {"id": "h", "kind": "hue", "of": "glow", "feather": 40, "join": "take away"}
    steps = [
        step("exposure", {"stops": 1}),
        step("glow"),
        step("mono", mask=[soft, hue]),
        step("curve", mask=[soft | {"of": "footage"}]),
    ]
    path = evaluator(pictures, *steps, keep=keep)
    weight = step_weight(path, 1, "mono")
    plain = step_weight(
        evaluator(pictures, *steps[:2], step("mono", mask=[soft | {"feather": 0}])), 1, "mono"
    )
    assert np.abs(np.diff(weight)).max() < 0.5 * np.abs(np.diff(plain)).max()
    below = path.picture(1, after="glow")
    mono = evaluator(pictures, *steps[:2], step("mono")).picture(1)
    expected = below + weight * (mono - below)
    np.testing.assert_allclose(path.picture(1, after="mono"), expected, atol=3e-5)
    whole = evaluator(pictures, *steps, keep="every step").picture(1)
    np.testing.assert_allclose(path.picture(1), whole, atol=1e-6)


def test_the_picture_that_a_feathered_shape_is_found_in_is_made_once(pictures, monkeypatch):
    monkeypatch.setattr(parallel, "band_rows", lambda width, multiple=1: 24 * multiple)
    soft = {"id": "t", "kind": "tones", "feather": 120}
    path = evaluator(pictures, step("glow"), step("mono", mask=[soft]), keep="nothing")
    made = []
    whole = path.whole_picture
    path.whole_picture = lambda frame, number: made.append(number) or whole(frame, number)
    path.picture(1)
    assert made.count(path.graph_at(1).after_step["glow"]) == 1


def test_the_footage_is_brought_back_inside_a_shape(pictures):
    mono = step("mono")
    back = step("exposure", {"stops": 0}, input="footage", mask=[HEAD | {"feather": 0}])
    path = evaluator(pictures, mono, back)
    weight = step_weight(path, 0, "exposure")
    np.testing.assert_allclose(
        path.picture(0)[:, weight == 1], pictures[0][:, weight == 1], atol=1e-6
    )
    before = path.picture(0, after="mono")
    np.testing.assert_array_equal(path.picture(0)[:, weight == 0], before[:, weight == 0])


def test_tones_of_an_earlier_picture_are_found_there(pictures):
    dark = [[0, 1], [0.3, 1], [0.31, 0], [1, 0]]
    shape = {"id": "dark", "kind": "tones", "points": dark}
    black = step("exposure", {"stops": -9})
    so_far = evaluator(pictures, black, step("mono", mask=[shape]))
    as_shot = evaluator(pictures, black, step("mono", mask=[shape | {"of": "footage"}]))
    named = evaluator(pictures, black, step("mono", mask=[shape | {"of": "exposure"}]))
    assert step_weight(so_far, 0, "mono").min() == 1
    assert step_weight(as_shot, 0, "mono").min() == 0
    np.testing.assert_array_equal(step_weight(named, 0, "mono"), step_weight(so_far, 0, "mono"))


@pytest.mark.parametrize(
    ("kind", "settings", "tolerance"),
    [
        ("crop", {"ratio": 1.0, "size": 0.6, "place": [0.4, 0.5]}, 0.012),
        ("bend", {"barrel": 0.3, "fringe": 0}, 0.02),  # a feather is scaled as the shape's middle
        ("weave", {"across": 9, "down": 9}, 0.012),
        ("border", {"opening": 0.7, "roughness": 0}, 0.012),
    ],
)
def test_shapes_are_carried_with_the_picture(kind, settings, tolerance, pictures):
    lift = step("levels", {"out_black": 0.4}, mask=[HEAD])
    flat = [np.full_like(picture, 0.2) for picture in pictures]
    before = evaluator(flat, lift, step(kind, settings)).picture(1)
    after = evaluator(flat, step(kind, settings), lift).picture(1)
    moved = evaluator(flat, step(kind, settings)).picture(1)
    same = np.abs(moved - 0.2).max(axis=0) < 1e-3  # where it still shows the picture
    assert same.mean() > 0.3
    assert (after - moved)[:, same].max() > 0.05
    assert np.abs(after - before)[:, same].max() < tolerance


def test_one_shape_of_two_steps_is_one(pictures):
    lift = step("levels", {"out_black": 0.4}, mask=[HEAD])
    lift["keys"] = {
        "mix.mask.head.centre": [
            {"frame": 0, "value": [0.3, 0.5]},
            {"frame": 3, "value": [0.7, 0.5]},
        ]
    }
    other = step("mono", mask=[{"id": "its", "same_as": "levels.head", "invert": True}])
    path = evaluator(pictures, other, lift)
    for frame in (0, 2, 3):
        ours, theirs = step_weight(path, frame, "mono"), step_weight(path, frame, "levels")
        np.testing.assert_allclose(ours, 1 - theirs, atol=1e-6)
    left = step_weight(path, 0, "levels")
    assert left[:, :96].sum() > 5 * left[:, 110:].sum()


def test_shared_tones_are_found_where_they_were(pictures):
    dark = {"id": "dark", "kind": "tones", "points": [[0, 1], [0.3, 1], [0.31, 0], [1, 0]]}
    first = step("exposure", {"stops": 9}, mask=[dark])
    shared = step("mono", mask=[{"id": "dark", "same_as": "exposure.dark"}])
    path = evaluator(pictures, first, shared)
    weight = step_weight(path, 0, "exposure")
    assert 0 < weight.mean() < 1
    np.testing.assert_array_equal(step_weight(path, 0, "mono"), weight)


def test_a_bundle_shows_by_its_mask(pictures):
    inner = step("exposure", {"stops": 1})
    bundle = {
        "id": "both",
        "treatment": "bundle",
        "settings": {"steps": [inner]},
        "mix": {"mask": [HEAD]},
    }
    path = evaluator(pictures, bundle)
    alone = evaluator(pictures, step("exposure", {"stops": 1}, mask=[HEAD]))
    np.testing.assert_allclose(path.picture(0), alone.picture(0), atol=1e-6)


def test_another_mask_is_another_picture_and_the_same_one_is_not():
    def key(*mask):
        look = {"format": "yearning-look/3", "steps": [step("mono", mask=list(mask))]}
        return RenderGraph(parse_look(look)).cache_keys[-1]

    assert key(HEAD) == key(dict(HEAD))
    assert len({key(), key(HEAD), key(HEAD | {"feather": 91}), key(HEAD, LOWER)}) == 4


def test_a_step_that_is_off_shows_where_it_would(pictures):
    off = step("mono", mask=MASK) | {"on": False}
    path = evaluator(pictures, off)
    assert step_weight(path, 0, "mono").max() > 0.3
    np.testing.assert_array_equal(path.picture(0), pictures[0])
    with pytest.raises(KeyError, match="glow"):
        step_weight(path, 0, "glow")


class GreyPlate:
    """A plate of two frames: a bright left half, then a bright right half, clear at the top."""

    frames = 2
    size = SIZE

    def picture(self, frame, size):
        out = np.full((3, size.height, size.width), 0.25, np.float32)
        half = size.width // 2
        out[:, :, half * frame : half * (frame + 1)] = 1.0
        return out

    def matte(self, frame, size):
        out = np.ones((size.height, size.width), np.float32)
        out[: size.height // 4] = 0
        return out


def with_matte(pictures, *before, **fields):
    def plate(name):
        assert name == "grey"
        return GreyPlate()

    matte = {"id": "m", "kind": "matte", "file": "grey"} | fields
    assets = NO_ASSETS._replace(plate=plate)
    return evaluator(pictures, *before, step("mono", mask=[matte]), assets=assets)


def test_a_matte_weighs_by_its_light_at_the_clip_s_frame_and_stays_after_its_last(pictures):
    path = with_matte(pictures)
    for frame, left, right in ((0, 1, 0.25), (1, 0.25, 1), (3, 0.25, 1)):
        weight = step_weight(path, frame, "mono")
        assert weight[80, 40] == pytest.approx(left, abs=1e-6)
        assert weight[80, 150] == pytest.approx(right, abs=1e-6)
        assert weight[5].max() == 0  # beyond the plate


def test_a_matte_weighs_by_its_alpha(pictures):
    weight = step_weight(with_matte(pictures, use="alpha"), 0, "mono")
    assert weight[:27].max() == 0
    assert weight[27:].min() == 1


def test_a_matte_goes_where_a_crop_has_moved_the_picture(pictures):
    crop = step("crop", {"ratio": 16 / 9, "size": 0.5, "place": [0.25, 0.5]})
    weight = step_weight(with_matte(pictures, crop), 0, "mono")
    assert weight[50:, :180].min() > 0.99  # the left half fills the frame
    assert weight.max() <= 1


def test_a_matte_without_a_plate_is_as_if_it_were_not_there(pictures):
    path = with_matte(pictures, file="")
    assert step_weight(path, 0, "mono").min() == 1


@pytest.mark.parametrize("blend", ["normal", "screen"])
def test_a_plate_shows_by_the_mask_where_it_covers(blend, pictures):
    assets = NO_ASSETS._replace(plate=lambda name: GreyPlate())
    settings = {"file": "grey", "dim_below": 0.4}  # what is below is dimmed under it
    plain = evaluator(pictures, step("plate", settings, blend=blend), assets=assets)
    masked = evaluator(pictures, step("plate", settings, blend=blend, mask=MASK), assets=assets)
    weight = step_weight(masked, 0, "plate")
    expected = pictures[0] + weight * (plain.picture(0) - pictures[0])
    np.testing.assert_allclose(masked.picture(0), expected, atol=3e-5)
