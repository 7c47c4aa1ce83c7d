"""Tracks as files, and what rides on them."""

import json

import cv2
import numpy as np
import pytest

from yearning.core.motion.tracks import (
    MAX_FRAMES,
    MAX_VALUES,
    PARSED_AT_ONCE,
    Track,
    TrackError,
    map_places,
    parse_track,
    smooth_matrices,
    through_four,
    track_json,
)
from yearning.core.picture import Size

SIZE = (1920, 1080)


def shift_matrix(x, y=0.0):
    return ((1, 0, x), (0, 1, y), (0, 0, 1))


def track(places, **more):
    frames = [{"frame": n, "matrix": shift_matrix(x)} for n, x in places.items()]
    first = min(places, default=0)
    return Track.model_validate({"size": SIZE, "from": first, "frames": frames, **more})


def test_a_file_is_read_as_it_was_written():
    data = {
        "format": "yearning-track/1",
        "clip": "ab" * 32,
        "size": [1920, 1080],
        "from": 3,
        "kind": "corners",
        "shape": {"id": "head", "kind": "ellipse"},
        "smooth": 2,
        "frames": [
            {"frame": 3, "matrix": [[1, 0, 0], [0, 1, 0], [0, 0, 1]], "sure": 1.0},
            {"frame": 4, "matrix": [[1, 0.1, 4], [0, 1.5, 0], [0, 1e-4, 1]], "sure": 0.5},
            {"frame": 9, "matrix": [[1, 0, 9], [0, 1, 0], [0, 0, 1]], "sure": 1, "by_hand": True},
        ],
    }
    read = parse_track(json.dumps(data))
    assert parse_track(track_json(read)) == read
    assert read.frames[2].by_hand
    assert (read.begin, read.kind, read.pixels) == (3, "corners", Size(1920, 1080))
    lines = track_json(read).splitlines()
    assert len(lines) == 5  # a frame on a line


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"format": "yearning-look/3"}, "yearning-track/1"),
        ({"frames": []}, "frames"),
        ({"from": -1}, "from"),
        ({"size": [0, 1080]}, "size"),
        ({"frames": [{"frame": 3, "matrix": [[0, 0, 0], [0, 0, 0], [0, 0, 1]]}]}, "inverted"),
        ({"frames": [{"frame": 3, "matrix": [[1, 0, 0], [0, 1, 0]]}]}, "frames.0.matrix"),
        ({"frames": [{"frame": 4, "matrix": shift_matrix(0)},
                     {"frame": 4, "matrix": shift_matrix(1)}]}, "frame 4 comes after frame 4"),
        ({"frames": [{"frame": 4, "matrix": shift_matrix(0), "sure": 1.5}]}, "sure"),
        ({"smooth": 99}, "smooth"),
        ({"speed": 2}, "speed"),
    ],
)  # fmt: skip
def test_a_track_that_cannot_be_used_says_where_it_is_wrong(change, said):
    good = {
        "format": "yearning-track/1", "size": SIZE, "from": 3,
        "frames": [{"frame": 3, "matrix": shift_matrix(0)}],
    }  # fmt: skip
    parse_track(json.dumps(good))
    with pytest.raises(TrackError, match=said):
        parse_track(json.dumps(good | change))


def test_of_many_frames_the_one_that_is_wrong_is_named():
    frames = [{"frame": n, "matrix": shift_matrix(0)} for n in range(PARSED_AT_ONCE + 500)]
    frames[-3]["sure"] = 2
    text = json.dumps({"format": "yearning-track/1", "size": SIZE, "from": 0, "frames": frames})
    with pytest.raises(TrackError, match=rf"^frames.{PARSED_AT_ONCE + 497}.sure: "):
        parse_track(text)


def test_a_track_of_too_many_frames_is_refused_before_they_are_parsed():
    text = json.dumps({"format": "yearning-track/1", "frames": [None] * (MAX_FRAMES + 1)})
    with pytest.raises(TrackError, match=f"^frames: {MAX_FRAMES + 1}, where {MAX_FRAMES} are"):
        parse_track(text)


@pytest.mark.parametrize("rest", ["[],", "1,", "[[0,0,0],[0,0,0],[0,0,1]],", '"' * 2 + ","])
def test_a_track_that_holds_too_much_is_refused_before_it_is_parsed(rest):
    text = '{"format": "yearning-track/1", "frames": [' + rest * (MAX_VALUES + 1)
    with pytest.raises(TrackError, match="more than"):
        parse_track(text)


@pytest.mark.parametrize("text", ["", "{", "[" * 100_000, "null", b"\xff\xfe", '{"format": 3}'])
def test_what_is_no_track_is_refused(text):
    with pytest.raises(TrackError, match="not a track"):
        parse_track(text)


def test_between_frames_it_is_between_and_beyond_it_stays():
    found = track({2: 10.0, 3: 20.0, 7: 60.0})
    at = {p: found.matrix_at(p)[0, 2] for p in (0, 2, 2.25, 3, 3.5, 5, 7, 100)}
    assert at == {0: 10, 2: 10, 2.25: 12.5, 3: 20, 3.5: 20, 5: 20, 7: 60, 100: 60}


def test_lost_frames_are_those_left_out():
    found = track({2: 0.0, 3: 0.0, 7: 0.0})
    assert found.lost_ranges(10) == [(0, 1), (4, 6), (8, 9)]
    assert track(dict.fromkeys(range(5), 0.0)).lost_ranges(5) == []


def test_a_motion_is_the_same_at_every_size():
    turned = cv2.getRotationMatrix2D((900, 500), 20, 1.2)
    rows = [*turned.tolist(), [0, 0, 1]]
    found = Track.model_validate(
        {"size": SIZE, "from": 0, "frames": [{"frame": 0, "matrix": rows}]}
    )
    place = np.array([[333.0, 222.0]])
    half = map_places(found.motion_at(0).pixels(Size(960, 540)), place / 2)
    assert np.allclose(half * 2, place @ turned[:, :2].T + turned[:, 2])


def test_smoothing_leaves_what_is_even_and_quiets_what_trembles():
    rng = np.random.default_rng(3)
    even = {n: 5.0 * n for n in range(40)}
    trembles = {n: 5.0 * n + x for n, x in enumerate(rng.normal(0, 1, 40))}
    assert [track(even, smooth=6).matrix_at(n)[0, 2] for n in range(40)] == pytest.approx(
        list(even.values())
    )
    found = track(trembles, smooth=6)
    rest = [found.matrix_at(n)[0, 2] - 5 * n for n in range(8, 32)]
    assert np.std(rest) < 0.6
    assert np.std(np.diff(rest)) < 0.25  # against 1.41


def test_what_a_hand_put_right_and_the_first_frame_are_not_smoothed():
    frames = [
        {"frame": n, "matrix": shift_matrix(10.0 * (n % 2)), "by_hand": n == 9} for n in range(20)
    ]
    found = Track.model_validate({"size": SIZE, "from": 6, "smooth": 6, "frames": frames})
    assert [found.matrix_at(n)[0, 2] for n in (6, 9)] == [0, 10]
    assert 3 < found.matrix_at(12)[0, 2] < 7


def test_nothing_is_smoothed_over_a_gap():
    places = dict.fromkeys(range(10), 0.0) | dict.fromkeys(range(12, 22), 400.0)
    found = track(places, smooth=8)
    assert found.matrix_at(9)[0, 2] == 0
    assert found.matrix_at(12)[0, 2] == 400


@pytest.mark.parametrize("reach", [1, 7, 24])
def test_smoothing_is_the_gaussian_mean_of_where_the_corners_are(reach):
    """Against the sum written out, frame by frame, with gaps between."""
    rng = np.random.default_rng(reach)
    numbers = sorted(rng.choice(90, 70, replace=False).tolist())
    matrices = np.eye(3) + rng.normal(0, 1e-4, (70, 3, 3))
    matrices /= matrices[:, 2:, 2:]
    corners = np.array([[0, 0], [SIZE[0], 0], SIZE, [0, SIZE[1]]], float)
    found = smooth_matrices(numbers, matrices, reach, Size(*SIZE))
    for i, number in enumerate(numbers):
        near = 0
        while (
            near < reach and number - near - 1 in numbers and number + near + 1 in numbers
        ):  # as far on both sides, and over no gap
            near += 1
        offsets = range(-near, near + 1)
        weights = [np.exp(-0.5 * (k / (reach / 2)) ** 2) for k in offsets]
        mean = sum(
            weight * map_places(matrices[i + k], corners)
            for k, weight in zip(offsets, weights, strict=True)
        ) / sum(weights)
        assert map_places(found[i], corners) == pytest.approx(mean, abs=1e-6)


def test_four_places_give_the_matrix_that_takes_them():
    """Against OpenCV's getPerspectiveTransform."""
    was = np.array([[10, 20], [400, 30], [380, 300], [5, 280.0]])
    now = was + np.array([[8, 4], [-6, 7], [3, -5], [-4, 2]])
    reference = cv2.getPerspectiveTransform(was.astype(np.float32), now.astype(np.float32))
    assert np.allclose(through_four(was, now), reference, atol=1e-4)
