"""Where places of the frame are seen after a look's steps."""

import numpy as np
import pytest

from tests.api.conftest import problem
from yearning.api.routes.frame_maps import COLUMNS, ROWS
from yearning.core.picture import Size
from yearning.core.treatments.bend import Bend

BEND = {"id": "a", "treatment": "bend", "settings": {"barrel": 0.3, "fringe": 0}}
BORDER = {"id": "b", "treatment": "border", "settings": {"opening": 0.5, "ratio": 16 / 9}}


def grid(client, clip_id, steps, frame=0):
    look = {"format": "yearning-look/3", "steps": steps}
    ask = {"clip": clip_id, "frame": frame, "look": look}
    answer = client.post("/api/v1/frame-maps", json=ask)
    assert answer.status_code == 200, answer.text
    found = answer.json()
    return np.reshape(found["places"], (found["rows"], found["columns"], 2))


def test_nothing_is_moved_by_colour(client, clip_id):
    look = {"format": "yearning-look/3", "steps": [{"id": "g", "treatment": "glow"}]}
    ask = {"clip": clip_id, "frame": 0, "look": look}
    assert client.post("/api/v1/frame-maps", json=ask).json()["places"] == []


def test_an_opening_of_half_the_frame_holds_all_of_it(client, clip_id):
    places = grid(client, clip_id, [BORDER])
    size = client.get(f"/api/v1/clips/{clip_id}").json()
    aspect = size["width"] / size["height"]
    wide, high = min(1, 16 / 9 / aspect) / 2, min(1, aspect / (16 / 9)) / 2
    part = max(wide, high)  # the whole height or width fills it
    assert places[0, 0] == pytest.approx([0.5 - part / 2, 0.5 - part / 2], abs=1e-6)
    assert places[-1, -1] == pytest.approx([0.5 + part / 2, 0.5 + part / 2], abs=1e-6)


def test_between_its_places_a_bend_is_within_a_fifth_of_a_pixel_at_1080p(client, clip_id):
    bend, full = Bend(**BEND["settings"]), Size(1920, 1080)
    corners = np.stack(np.meshgrid(np.linspace(0, 1, COLUMNS), np.linspace(0, 1, ROWS)), axis=-1)
    size = np.array(full, float)
    seen = bend.map_points(corners.reshape(-1, 2) * size, 0, full).reshape(corners.shape)
    cells = corners[:-1, :-1] + corners[1:, 1:]
    middles = bend.map_points(cells.reshape(-1, 2) / 2 * size, 0, full)
    between = (seen[:-1, :-1] + seen[1:, :-1] + seen[:-1, 1:] + seen[1:, 1:]) / 4
    assert np.abs(between.reshape(-1, 2) - middles).max() < 0.2


def test_steps_move_it_in_their_order_at_the_frame_asked_for(client, clip_id):
    weave = {"id": "w", "treatment": "weave", "settings": {"across": 200, "down": 200}}
    first, second = (grid(client, clip_id, [weave], frame) for frame in (0, 1))
    shift = second - first
    assert np.abs(shift - shift[0, 0]).max() < 1e-6
    assert np.abs(shift[0, 0]).max() > 1e-4
    bent_first, bent_last = (
        grid(client, clip_id, [BEND, BORDER]),
        grid(client, clip_id, [BORDER, BEND]),
    )
    assert np.abs(bent_first - bent_last).max() > 0.01
    off = grid(client, clip_id, [BEND, {**BORDER, "on": False}])
    assert off == pytest.approx(grid(client, clip_id, [BEND]))


def test_bad_input_is_told(client, clip_id):
    look = {"format": "yearning-look/3", "steps": [{**BEND, "treatment": "fold"}]}
    ask = {"clip": clip_id, "frame": 0, "look": look}
    assert "steps[0].treatment" in problem(client.post("/api/v1/frame-maps", json=ask), 422)
    gone = client.post(
        "/api/v1/frame-maps", json={**ask, "clip": 999, "look": {**look, "steps": []}}
    )
    assert problem(gone, 404)
