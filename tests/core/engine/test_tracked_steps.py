"""What rides on a track: shapes and treatments, through crops and bends, in every size."""

import numpy as np
import pytest

from tests.conftest import ASSETS as PLAIN_ASSETS
from tests.conftest import RecordingClip, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import RenderGraph
from yearning.core.engine.step_weight import step_weight
from yearning.core.image.filters import area_resized
from yearning.core.image.unwarp import invert_warp
from yearning.core.look.document import named_files, parse_look
from yearning.core.motion.tracks import Track, map_places
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS

SIZE = Size(192, 108)
HEAD = {"id": "head", "kind": "ellipse", "centre": [0.4, 0.4], "size": [0.1, 0.2], "feather": 60}
BOX = {"id": "box", "kind": "box", "centre": [0.4, 0.5], "size": [0.2, 0.1], "turn": 10, "round": 1}
PATH = {
    "id": "path",
    "kind": "drawn",
    "points": [[0.3, 0.3, 0, 0.1, 0.1, 0], [0.6, 0.4, 0, -0.1, 0, 0], [0.5, 0.7, 0.1, 0, 0, 0]],
}
WASH = {"id": "wash", "kind": "wash", "from": [0.2, 0.3], "to": [0.5, 0.6]}


def _track():
    """A part that moves down and to the right, turns, and comes nearer."""
    frames = []
    for n in range(8):
        c, s = 1.05**n * np.cos(0.06 * n), 1.05**n * np.sin(0.06 * n)
        rows = ((c, -s, 0.02 * n * 1920), (s, c, 0.03 * n * 1080), (0.0, 0.0, 1.0))
        frames.append({"frame": n, "matrix": rows})
    return Track.model_validate({"size": (1920, 1080), "from": 0, "frames": frames})


TRACK = _track()
"""What every name stands for in these tests."""
ASSETS = PLAIN_ASSETS._replace(track=lambda name: TRACK)


@pytest.fixture(scope="module")
def pictures():
    return lamps(SIZE, 6)


def look_of(*steps):
    return parse_look({"format": "yearning-look/3", "steps": list(steps)})


def evaluator(pictures, *steps, size=SIZE, clip=RecordingClip, assets=ASSETS, **how):
    return Evaluator(look_of(*steps), clip(pictures), size, Cache(1 << 26), assets=assets, **how)


def move_place(place, frame):
    """Where a place in fractions is at a frame."""
    return map_places(TRACK.motion_at(frame).pixels(Size(1, 1)), np.array([place]))[0].tolist()


def by_hand(shape, frame):
    """The shape put where the track has taken it."""
    size, turn = 1.05**frame, np.degrees(0.06 * frame)
    if shape["kind"] == "wash":
        return shape | {
            "from": move_place(shape["from"], frame),
            "to": move_place(shape["to"], frame),
        }
    if shape["kind"] == "drawn":
        points = []
        for x, y, a, b, c, d in shape["points"]:
            at, into, out = (move_place(p, frame) for p in ((x, y), (x + a, y + b), (x + c, y + d)))
            points.append([*at, *np.subtract(into, at), *np.subtract(out, at)])
        return shape | {"points": points}
    return shape | {
        "centre": move_place(shape["centre"], frame),
        "size": [size * each for each in shape["size"]],
        "turn": shape.get("turn", 0) + turn,
        "feather": size * shape.get("feather", 0),
    }


@pytest.mark.parametrize("shape", [HEAD, BOX, PATH, WASH], ids=lambda shape: shape["kind"])
def test_a_shape_rides_as_if_it_were_put_there_by_hand(shape, pictures):
    rides = evaluator(pictures, step("exposure", mask=[shape | {"track": "t.json"}]))
    for frame in (0, 3, 5):
        put = evaluator(pictures, step("exposure", mask=[by_hand(shape, frame)]))
        expected = step_weight(put, frame, "exposure")
        # its outline is that of the frame as shot, turned: chords, against chords of another
        np.testing.assert_allclose(step_weight(rides, frame, "exposure"), expected, atol=0.01)
    assert np.abs(step_weight(rides, 5, "exposure") - step_weight(rides, 0, "exposure")).max() > 0.3


@pytest.mark.parametrize(
    "warp", [step("crop", {"ratio": 1.2, "place": [0.3, 0.5]}), step("bend", {"barrel": 0.3})]
)
def test_a_shape_rides_in_the_frame_as_shot_and_is_warped_then(warp, pictures):
    shown = step("exposure", {"stops": 2}, mask=[HEAD | {"track": "t.json"}])
    put = step("exposure", {"stops": 2}, mask=[by_hand(HEAD, 4)])
    rides, there = evaluator(pictures, warp, shown), evaluator(pictures, warp, put)
    np.testing.assert_allclose(rides.picture(4), there.picture(4), atol=0.02)


def test_a_shape_that_is_the_same_as_another_rides_with_it(pictures):
    first = step("exposure", mask=[HEAD | {"track": "t.json"}])
    same = {"id": "it", "same_as": "exposure.head"}
    path = evaluator(pictures, first, step("tone", mask=[same]))
    np.testing.assert_array_equal(step_weight(path, 4, "tone"), step_weight(path, 4, "exposure"))


def test_keys_of_a_shape_are_where_it_is_in_the_track_s_first_frame(pictures):
    keyed = {"mix.mask.head.centre": [{"frame": 0, "value": [0.4, 0.4]},
                                      {"frame": 4, "value": [0.5, 0.3]}]}  # fmt: skip
    rides = step("exposure", mask=[HEAD | {"track": "t.json"}]) | {"keys": keyed}
    put = step("exposure", mask=[by_hand(HEAD | {"centre": [0.5, 0.3]}, 4)])
    found, expected = (step_weight(evaluator(pictures, s), 4, "exposure") for s in (rides, put))
    np.testing.assert_allclose(found, expected, atol=0.01)


RIDING = {
    "focus": {"centre": [0.4, 0.4], "size": [0.1, 0.2], "blur": 40},
    "vignette": {"centre": [0.4, 0.5], "size": [0.3, 0.3], "stops": -3},
    "plate": {"file": "spots.mp4", "scale": 0.4, "place": [0.4, 0.4]},
    "leak": {"from_edge": "left", "position": 0.3},
}

LOBE = {"from_edge": "left", "position": 0.3, "reach": 0.5, "width": 0.3, "light": 1.0}


def test_these_treatments_have_a_place_that_rides():
    assert {kind for kind, t in TREATMENTS.items() if "track" in t.model_fields} == set(RIDING)


def put_there(kind, settings, frame):
    """A treatment's settings, by hand, where the track takes its place."""
    size, turn = 1.05**frame, float(np.degrees(0.06 * frame))
    if kind == "leak":
        return settings | {"position": move_place([0, settings["position"]], frame)[1]}
    if kind == "plate":
        place = move_place(settings["place"], frame)
        return settings | {"place": place, "scale": settings["scale"] * size, "turn": turn}
    sized = [size * each for each in settings["size"]]
    there = settings | {"centre": move_place(settings["centre"], frame), "size": sized}
    return there | ({"turn": turn} if kind == "focus" else {})


@pytest.mark.parametrize("kind", RIDING)
def test_a_treatment_rides_as_if_it_were_put_there_by_hand(kind, pictures):
    settings = RIDING[kind]
    rides = evaluator(pictures, step(kind, settings | {"track": "t.json"}))
    still = evaluator(pictures, step(kind, settings))
    put = evaluator(pictures, step(kind, put_there(kind, settings, 4)))
    np.testing.assert_allclose(rides.picture(4), put.picture(4), atol=2e-3)
    assert np.abs(rides.picture(4) - still.picture(4)).max() > 0.02


@pytest.mark.parametrize("kind", ["focus", "plate", "vignette"])
def test_after_a_crop_a_place_rides_with_what_is_seen_there(kind, pictures):
    """The track's shift in pixels of the frame is the same, whatever part of it is left."""
    shift = {"size": SIZE, "from": 0, "frames": [
        {"frame": n, "matrix": [[1, 0, 3 * n], [0, 1, 2 * n], [0, 0, 1]]} for n in range(6)
    ]}  # fmt: skip
    assets = ASSETS._replace(track=lambda name: Track.model_validate(shift))
    crop = step("crop", {"ratio": 1.0, "place": [0.5, 0.5]})
    settings = RIDING[kind]
    rides = evaluator(pictures, crop, step(kind, settings | {"track": "t"}), assets=assets)
    name = "place" if kind == "plate" else "centre"
    x, y = settings[name]
    there = settings | {name: [x + 3 * 4 / SIZE.height, y + 2 * 4 / SIZE.height]}
    put = evaluator(pictures, crop, step(kind, there))
    np.testing.assert_allclose(rides.picture(4), put.picture(4), atol=2e-3)


def test_a_place_in_a_bent_picture_rides_as_what_is_seen_there(pictures):
    """The place is of the bent picture: it is unbent, moved, and bent again."""
    bend = step("bend", {"barrel": 0.4})
    rides = evaluator(pictures, bend, step("focus", RIDING["focus"] | {"track": "t"}))
    graph, full = rides.graph_at(5), SIZE
    number = graph.results[-1]
    warp = graph.warp_of(graph.node(number).below, 5, full)
    start = np.array(RIDING["focus"]["centre"]) * (full.width, full.height)
    matrix = TRACK.motion_at(5).pixels(full)
    expected = warp(map_places(matrix, invert_warp(warp, start[None])))[0]
    found = graph.ridden_node(number, 5, full).treatment.centre
    assert np.allclose(np.array(found) * (full.width, full.height), expected, atol=1e-6)
    assert np.allclose(invert_warp(warp, warp(start[None])), start, atol=1e-4)
    assert np.abs(expected - map_places(matrix, start[None])[0]).max() > 0.5


def test_a_track_of_another_clip_moves_nothing(pictures):
    theirs = TRACK.model_copy(update={"clip": "ab"})
    assets = ASSETS._replace(track=lambda name: theirs)

    class Known(RecordingClip):
        footage_id = "cd"

    class Theirs(RecordingClip):
        footage_id = "ab"

    shown = step("exposure", mask=[HEAD | {"track": "t"}])
    still = step_weight(evaluator(pictures, step("exposure", mask=[HEAD])), 4, "exposure")
    found = {
        clip.__name__: step_weight(
            evaluator(pictures, shown, clip=clip, assets=assets), 4, shown["id"]
        )
        for clip in (Known, Theirs)
    }
    np.testing.assert_array_equal(found["Known"], still)
    assert np.abs(found["Theirs"] - still).max() > 0.3


def test_a_track_that_can_not_be_had_moves_nothing(pictures):
    assets = ASSETS._replace(track=lambda name: None)
    rides = evaluator(pictures, step("exposure", mask=[HEAD | {"track": "t"}]), assets=assets)
    still = evaluator(pictures, step("exposure", mask=[HEAD]))
    np.testing.assert_array_equal(rides.picture(3), still.picture(3))


def test_a_slow_clip_rides_on_what_lies_between_frames(pictures):
    class Slow(RecordingClip):
        def source_frame(self, frame):
            return frame / 2

    shown = step("exposure", mask=[HEAD | {"track": "t"}])
    slow = evaluator(pictures, shown, clip=Slow)
    plain = evaluator(pictures, shown)
    np.testing.assert_array_equal(
        step_weight(slow, 4, "exposure"), step_weight(plain, 2, "exposure")
    )
    ends = [step_weight(plain, n, "exposure") for n in (1, 2)]
    middle = step_weight(slow, 3, "exposure")
    assert all(np.abs(middle - end).max() > 0.01 for end in ends)


def test_what_rides_is_the_same_at_half_the_size():
    full, half = Size(960, 540), Size(480, 270)
    pictures = lamps(full, 5)
    steps = [
        step("exposure", {"stops": 1}, mask=[HEAD | {"track": "t"}, WASH | {"join": "take away"}]),
        step("vignette", RIDING["vignette"] | {"track": "t"}),
    ]
    large = evaluator(pictures, *steps, size=full).picture(4)
    small = evaluator(pictures, *steps, size=half).picture(4)
    assert np.abs(small - area_resized(large, half)).max() < 0.01


def test_a_frame_alone_is_that_frame_of_the_clip(pictures):
    steps = [step("glow", mask=[HEAD | {"track": "t"}]), step("focus", {"track": "t"})]
    in_order = evaluator(pictures, *steps)
    for frame in range(6):
        last = in_order.picture(frame)
    np.testing.assert_array_equal(evaluator(pictures, *steps).picture(5), last)


def test_pictures_with_and_without_a_track_are_kept_apart():
    look = look_of(step("exposure", mask=[HEAD | {"track": "t"}]))
    motion = TRACK.motion_at
    keys = {
        RenderGraph(look, frame, motions=lambda name, n: motion(n)).cache_keys[-1]
        for frame in range(4)
    }
    assert len(keys | {RenderGraph(look).cache_keys[-1]}) == 5
    assert RenderGraph(look, motions=lambda name, n: motion(n)).timed


def test_a_look_names_its_tracks_by_their_places():
    steps = [step("glow", mask=[WASH, HEAD | {"track": "a.json"}]), step("focus", {"track": "b"})]
    found = [(named.path, named.kind, named.name) for named in named_files(look_of(*steps))]
    assert found == [
        ("steps[0].mix.mask[1].track", "track", "a.json"),
        ("steps[1].settings.track", "track", "b"),
    ]


def test_placed_lobes_ride_each_along_its_edge(pictures):
    lobes = [LOBE, LOBE | {"from_edge": "top", "position": 0.5}, LOBE | {"from_edge": "top left"}]
    left, top, corner = lobes
    there = [
        left | {"position": move_place([0, 0.3], 4)[1]},
        top | {"position": move_place([0.5, 0], 4)[0]},
        corner,
    ]
    settings = {"lobes": "placed", "placed": lobes, "track": "t.json"}
    rides = evaluator(pictures, step("leak", settings))
    put = evaluator(pictures, step("leak", {"lobes": "placed", "placed": there}))
    np.testing.assert_allclose(rides.picture(4), put.picture(4), atol=2e-3)
