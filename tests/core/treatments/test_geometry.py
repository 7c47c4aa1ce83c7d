"""Frames bent and cut: against OpenCV's model, and all that is read lined up with them."""

import cv2
import numpy as np
import pytest

from tests.conftest import RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import RenderGraph
from yearning.core.image.window import crop_box_at, ratio_box
from yearning.core.look.output_crop import crop_ratio
from yearning.core.picture import Box, Size
from yearning.core.treatments import TREATMENTS
from yearning.core.treatments.bend import Bend, _bent_places

SIZE = Size(320, 180)
LAMPS = [0.4 * picture for picture in lamps(SIZE, 4)]
"""Within black and white, so that a difference of nothing is black."""


def run(*steps, pictures=None, frame=1, after=None):
    pictures = LAMPS if pictures is None else pictures
    path = Evaluator(a_look(*steps), RecordingClip(pictures), SIZE, Cache(1 << 28))
    return path.picture(frame, after)


def places(size, part, k1, k2):
    right, down = np.empty((2, size.height, size.width), np.float32)
    _bent_places(0, size.height, *map(np.float32, (part, k1, k2)), right, down)
    return right, down


@pytest.mark.parametrize("terms", [(0.12, 0.0), (-0.3, 0.0), (0.2, 0.35), (-0.1, 0.4)])
def test_places_are_those_of_opencvs_radial_model(terms):
    """`initUndistortRectifyMap`, its focal length half the diagonal, its centre the frame's."""
    k1, k2 = terms
    focal = np.hypot(SIZE.width, SIZE.height) / 2
    centre = (SIZE.width - 1) / 2, (SIZE.height - 1) / 2
    camera = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1]])
    given = np.array([k1, k2, 0, 0])
    x, y = cv2.initUndistortRectifyMap(camera, given, None, camera, SIZE, cv2.CV_32FC1)
    right, down = places(SIZE, 1.0, k1, k2)
    np.testing.assert_allclose(right, x, atol=2e-3)
    np.testing.assert_allclose(down, y, atol=2e-3)


@pytest.mark.parametrize("terms", [(0.5, 0.0), (0.12, 0.0), (-0.3, 0.5), (0.4, 0.4)])
def test_growing_hides_every_empty_corner_and_no_more(terms):
    bend = Bend(barrel=terms[0], edge_barrel=terms[1], fringe=0.5)
    part = bend._part(SIZE)
    right, down = places(SIZE, part, *terms)
    for at, count in ((right, SIZE.width), (down, SIZE.height)):
        assert -1 < at.min() <= at.max() < count
    wider = places(SIZE, part * 1.03, *terms)
    assert min(wider[0].min(), wider[1].min()) < 0.5


def test_a_bend_of_nothing_is_the_picture():
    plain = {"barrel": 0, "edge_barrel": 0, "fringe": 0}
    np.testing.assert_allclose(run(step("bend", plain)), LAMPS[1], atol=1e-6)


def test_what_is_read_is_moved_as_the_picture_below_was():
    """The footage laid over itself bent and cropped: nothing differs."""
    over = {"id": "o", "treatment": "exposure", "mix": {"input": "footage", "blend": "difference"}}
    for movers in ([step("bend")], [step("crop", {"size": 0.6})], [step("bend"), step("crop")]):
        assert np.abs(run(*movers, over)).max() < 1e-6
    grade = {"id": "c", "treatment": "exposure", "settings": {"stops": 0.5}}
    late = over | {"mix": {"input": "c", "blend": "difference"}}
    assert np.abs(run(grade, step("bend"), late)).max() < 1e-6


@pytest.mark.parametrize("frame", [0, 1, 2])
def test_what_is_read_is_moved_only_while_the_picture_below_is(frame):
    bend = step("bend") | {"bursts": [{"from": 1, "to": 1}]}
    over = {"id": "o", "treatment": "exposure", "mix": {"input": "footage", "blend": "difference"}}
    assert np.abs(run(bend, over, frame=frame)).max() < 1e-6


@pytest.mark.parametrize("ratio", [16 / 9, 4 / 3, 1, 9 / 16, 1.85, 2.39, 21 / 9])
@pytest.mark.parametrize("size", [Size(1920, 1080), Size(1080, 1920), Size(321, 181)])
def test_a_box_has_its_ratio_within_a_pixel_and_lies_in_the_middle(ratio, size):
    box = ratio_box(ratio, size)
    assert box.width == size.width or box.height == size.height
    assert abs(box.width - ratio * box.height) <= max(1, ratio) + 1e-6
    assert abs(2 * box.left + box.width - size.width) <= 1
    assert abs(2 * box.top + box.height - size.height) <= 1
    assert (box.width % 2, box.height % 2) == (size.width % 2, size.height % 2)


def test_a_crop_leaves_its_pixels_as_they_are_and_black_beside_them():
    picture = LAMPS[1]
    cropped = run(step("crop", {"ratio": 1.0}))
    box = ratio_box(1.0, SIZE)
    np.testing.assert_array_equal(box.of(cropped), box.of(picture))
    beside = np.delete(cropped, np.s_[box.left : box.left + box.width], axis=2)
    assert not beside.any()


def test_what_a_letterbox_hides_is_brought_out_from_under_it():
    picture = LAMPS[1]
    box = ratio_box(2.39, SIZE)
    lowest = run(step("letterbox", {"place": [0.5, 1.0], "align": True, "colour": "#336699"}))
    np.testing.assert_allclose(box.of(lowest), picture[:, -box.height :], atol=1e-6)
    np.testing.assert_allclose(lowest[:, 0, 0], [0.2, 0.4, 0.6], atol=1e-6)


def test_a_window_of_half_the_size_is_the_part_twice_as_large():
    y, x = np.mgrid[0:180, 0:320].astype(np.float32)
    ramp = np.stack([x / 320, y / 180, (x + y) / 500])
    shown = run(
        step("crop", {"ratio": 16 / 9, "size": 0.5, "place": [0.375, 0.75]}), pictures=[ramp] * 2
    )
    across = (0.375 * 320 - 80 + (np.arange(320) + 0.5) / 2 - 0.5) / 320
    np.testing.assert_allclose(shown[0, 90, 4:-4], across[4:-4], atol=1e-5)


def test_only_a_crop_that_always_stands_cuts_the_result():
    crop = step("crop", {"ratio": 1.5})
    assert crop_ratio(a_look(step("vignette"), crop)) == 1.5
    assert crop_ratio(a_look(step("letterbox"))) is None
    for other in ({"bursts": [{"from": 1, "to": 2}]}, {"on": False}, {"mix": {"amount": 0.5}}):
        assert crop_ratio(a_look(crop | other)) is None


@pytest.mark.parametrize("kind", ["crop", "letterbox"])
def test_a_place_is_the_middle_in_fractions_and_is_held_within_the_picture(kind):
    window = TREATMENTS[kind](ratio=1.0, size=0.5, place=(0.3, 0.6))
    middle = np.array([[0.3 * SIZE.width, 0.6 * SIZE.height]])
    shown = window.map_points(middle, 0, SIZE)[0]
    np.testing.assert_allclose(shown, [SIZE.width / 2, SIZE.height / 2], atol=1e-9)
    far, edge = (TREATMENTS[kind](ratio=1.0, size=0.5, place=place) for place in ((0, 1), (0.1, 1)))
    np.testing.assert_array_equal(far.map_points(middle, 0, SIZE), edge.map_points(middle, 0, SIZE))
    corner = ratio_box(1.0, SIZE)
    foot = far.map_points(np.array([[0.0, SIZE.height]]), 0, SIZE)[0]
    np.testing.assert_allclose(foot, [corner.left, corner.top + corner.height], atol=1e-9)


def vignette(**settings):
    white = [np.full((3, 180, 320), 0.8, np.float32)] * 2
    return run(step("vignette", settings), pictures=white)


@pytest.mark.parametrize("roundness", [0.0, 0.5, 1.0])
@pytest.mark.parametrize("strength", [-3.0, 0.6])
def test_a_vignette_is_symmetric_and_grows_outwards_alone(roundness, strength):
    plane = vignette(stops=strength, roundness=roundness)[1]
    np.testing.assert_allclose(plane, plane[::-1, ::-1], atol=1e-5)
    np.testing.assert_allclose(plane, plane[:, ::-1], atol=1e-5)
    outwards = np.sign(strength) * np.diff(plane[90, 160:])
    assert outwards.min() >= -1e-6
    assert outwards.sum() > 0.05


def test_a_vignette_at_full_strength_takes_three_stops_of_the_corners():
    """A stop is half the light: display-coded values times 2^(−1/2.4) (BT.1886)."""
    corner = vignette(stops=-3, size=[0.15, 0.15], softness=0.5)[0, 0, 0]
    assert corner == pytest.approx(0.8 * 2 ** (-3 / 2.4), rel=1e-3)


def test_a_vignette_is_halfway_on_the_line_that_is_drawn():
    """Half the change of the code values lies at the opening's edge, on both axes."""
    half = 0.8 * (1 + 0.5 * (2 ** (-2 / 2.4) - 1))
    found = vignette(stops=-2, size=[0.25, 0.375], centre=[0.5, 0.5], softness=0.3)[1]
    across = np.interp(160 + 80, np.arange(320) + 0.5, found[90])
    down = np.interp(90 + 67.5, np.arange(180) + 0.5, found[:, 160])
    np.testing.assert_allclose([across, down], half, atol=4e-3)


def test_a_vignette_with_its_sides_pushed_out_darkens_corners_alone():
    found = vignette(stops=-3, size=[0.45, 0.45], corners=1.0, softness=0.3)[1]
    np.testing.assert_allclose([found[90, 0], found[0, 160], found[90, -1]], 0.8, atol=1e-4)
    assert max(found[0, 0], found[0, -1], found[-1, 0], found[-1, -1]) < 0.4
    whole = vignette(stops=-3, size=[0.45, 0.45], softness=0.3)[1]
    rows = np.arange(0, 80)
    columns = ((rows + 0.5) * 16 / 9).astype(int)
    np.testing.assert_allclose(found[rows, columns], whole[rows, columns], atol=5e-3)
    assert whole[90, 0] < 0.7


def test_a_vignette_keeps_what_it_is_told_to():
    lamp = np.full((3, 180, 320), 0.3, np.float32)
    lamp[:, 5:15, 5:15] = 1.0
    tinted = lamp * np.array([1, 0.7, 0.4], np.float32)[:, None, None]

    def corner(picture, **kept):
        settings = {"stops": -2.4, "size": [0.2, 0.2], **kept}
        return run(step("vignette", settings), pictures=[picture] * 2)[:, 10, 10]

    np.testing.assert_allclose(corner(lamp, keep_lights=1), 1, atol=1e-3)
    np.testing.assert_allclose(corner(lamp, keep_lights=1, keep_hue=0), 1, atol=1e-3)
    assert 0.6 < corner(lamp, keep_lights=0.5)[0] < 0.9
    hues = corner(tinted, keep_hue=1)
    np.testing.assert_allclose(hues / hues[0], [1, 0.7, 0.4], atol=1e-3)
    burnt = corner(tinted, keep_hue=0)
    assert burnt[2] / burnt[0] < 0.35
    between = corner(tinted, keep_hue=0.5)
    np.testing.assert_allclose(between, (hues + burnt) / 2, atol=1e-5)


def test_a_vignette_follows_the_crop():
    """In a square crop its sides lie where the crop's do: it is as that of a square frame."""
    white = [np.full((3, 180, 320), 0.8, np.float32)] * 2
    box = ratio_box(1.0, SIZE)
    boxed = step("vignette", {"roundness": 0})
    for steps in ((step("crop"), boxed), (boxed, step("crop"))):
        inside = box.of(run(*steps, pictures=white))[1]
        np.testing.assert_allclose(inside[90], inside[:, 90], atol=2e-3)
        assert inside[90, 0] < 0.75


BOXED = {"roundness": 0, "centre": [0.4, 0.55], "stops": -2}


@pytest.mark.parametrize("kind", ["vignette", "leak"])
@pytest.mark.parametrize(
    "frames",
    [
        [step("crop", {"ratio": 1.0, "size": 0.6, "place": [0.3, 0.6]})],
        [step("letterbox", {"ratio": 2.39, "place": [0.5, 0.4]})],
        [
            step("letterbox", {"ratio": 2.39, "size": 0.8}),
            step("crop", {"ratio": 1.2, "size": 0.7, "place": [0.4, 0.5]}),
        ],
    ],
)
def test_it_takes_the_frame_that_is_left_wherever_the_crops_stand(kind, frames):
    """On an even picture it is the same before the crops as after them, but for resampling."""
    grey = [np.full((3, 180, 320), 0.4, np.float32)] * 2
    own = step(kind, BOXED if kind == "vignette" else {"from_edge": "right", "position": 0.3})
    before, after = run(own, *frames, pictures=grey), run(*frames, own, pictures=grey)
    look = a_look(*frames)
    box = RenderGraph(look).visible_box(len(frames), SIZE)
    inside = Box(box.left + 2, box.top + 2, box.width - 4, box.height - 4)
    off = np.abs(inside.of(before) - inside.of(after))
    assert np.ptp(inside.of(after)) > 0.1
    assert off.max() < 0.02
    assert off.mean() < 0.002


def test_later_steps_do_not_reach_what_is_cut_off():
    raised = {"id": "c", "treatment": "curve", "settings": {"luma": [[0, 0.3], [1, 1]]}}
    box = ratio_box(1.0, SIZE)
    result = run(step("crop"), raised, step("grain"))
    beside = np.delete(result, np.s_[box.left : box.left + box.width], axis=2)
    assert not beside.any()
    assert box.of(result).mean() > 0.3
    lined = run(step("letterbox"), raised)  # bars are part of the picture
    assert lined[:, 0].min() > 0.25


def test_a_leak_comes_from_the_edge_of_the_crop():
    black = [np.zeros((3, 180, 320), np.float32)] * 2
    settings = {"from_edge": "right", "drift": 0, "breathe": 0}
    leak = step("leak", settings)
    for steps in ((step("crop"), leak), (leak, step("crop"))):
        square = ratio_box(1.0, SIZE).of(run(*steps, pictures=black))
        assert square[0, :, -40:].mean() > 4 * square[0, :, :40].mean()


@pytest.mark.parametrize("ratio", [1.0, 2.39, 9 / 16])
def test_what_is_cut_of_a_smaller_result_is_even_and_has_no_dark_edge(ratio):
    full, small = Size(960, 540), Size(480, 270)
    white = RecordingClip([np.ones((3, 540, 960), np.float32)] * 2)
    path = Evaluator(a_look(step("crop", {"ratio": ratio})), white, small, Cache(1 << 28))
    box = crop_box_at(ratio, full, small)
    assert (box.width % 2, box.height % 2) == (0, 0)
    assert abs(box.width - ratio * box.height) <= 2 * max(1, ratio)
    assert box.of(path.picture(0)).min() > 0.999


CARRIERS = [
    ("crop", {"ratio": 1.2, "size": 0.8, "place": [0.46, 0.52]}),
    ("letterbox", {"ratio": 2.0, "size": 0.9}),
    ("border", {"ratio": 1.4, "opening": 0.8, "roughness": 0}),
    ("weave", {"across": 60, "down": 60, "seed": 3}),
    ("bend", {"barrel": 0.3, "edge_barrel": -0.1, "fringe": 0}),
    ("bend", {"barrel": -0.2, "cover": "mirror", "fringe": 0}),
]


@pytest.mark.parametrize(("kind", "settings"), CARRIERS)
def test_a_place_is_carried_to_where_it_is_seen(kind, settings):
    """A soft dot, and where the middle of its light is after."""
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width] + 0.5
    at = np.array([[118.0, 60.0], [205.0, 125.0]])
    for place in at:
        dot = np.exp(-((x - place[0]) ** 2 + (y - place[1]) ** 2) / 18).astype(np.float32)
        found = run(step(kind, settings), pictures=[np.stack([dot] * 3)] * 2)[1]
        light = np.maximum(found - 0.1, 0)
        seen = np.array([(light * x).sum(), (light * y).sum()]) / light.sum()
        wanted = TREATMENTS[kind](**settings).map_points(place[None], 1, SIZE)[0]
        assert np.abs(wanted - place).max() > 0.3
        np.testing.assert_allclose(wanted, seen, atol=0.25)
