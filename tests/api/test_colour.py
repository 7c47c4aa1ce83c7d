"""Over HTTP: readings, what is shown of a picture, tables, grades, baking, starters, snapshots."""

import base64
import json

import cv2
import numpy as np
import pytest

from tests.api.conftest import problem
from tests.conftest import THREE_STEPS, step
from yearning.core.cache import Cache
from yearning.core.colour.luma import luma_plane
from yearning.core.engine.baking import apply_to_colours
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.histogram import histogram
from yearning.core.look.document import parse_look
from yearning.core.measure import scopes
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatments import TREATMENTS
from yearning.media.decode.footage import Footage
from yearning.media.tables.cube import read_cube
from yearning.starters import starters

GRADE = [step("levels", {"gamma": 1.3}), step("tone", {"contrast": 0.3})]


def document(*steps):
    return {"format": "yearning-look/3", "name": "Dusk & dawn", "steps": list(steps)}


def picture_seen(client, **ask):
    answer = client.post("/api/v1/pictures", json=ask)
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)


@pytest.fixture
def core(clip):
    with Footage(clip) as footage:

        def picture(look, frame=3, after=None):
            path = Evaluator(parse_look(look), footage, footage.size, Cache(0))
            return path.picture(frame, after)

        yield picture


def drawing(found):
    data = np.frombuffer(base64.b64decode(found["data"]), np.uint8)
    return data.reshape(found["height"], found["width"])


def test_readings_are_those_of_the_core(client, clip_id, core):
    look = document(*GRADE)
    ask = {"clip": clip_id, "frame": 3, "look": look, "height": 112}
    found = client.post("/api/v1/readings", json=ask).json()
    picture = core(look)
    assert found["histogram"] == histogram(picture, 128).tolist()
    waves = scopes.waveform(picture, 264, 121)
    np.testing.assert_array_equal(drawing(found["waveform"]) > 0, waves[0, ::-1] > 0)
    assert drawing(found["parade"]).shape == (121, 264)
    np.testing.assert_array_equal(
        drawing(found["vectors"]) > 0, scopes.vectorscope(picture, 121) > 0
    )
    _, parts = scopes.out_of_range(picture)
    assert (found["black"], found["white"], found["gamut"]) == pytest.approx(tuple(parts))
    assert [t["name"] for t in found["targets"]] == ["R", "Yl", "G", "Cy", "B", "Mg"]
    after = client.post("/api/v1/readings", json=ask | {"after": "footage"}).json()
    assert after["histogram"] == histogram(core(look, after="footage"), 128).tolist()


def test_what_is_crushed_is_counted_between_the_bars(client, clip_id):
    """Grain makes half of every black bar darker than black; bars are no part of the picture."""
    grain = step("grain", {"gauge": "free", "strength": 0.2, "response_shadow": 1})
    dark = step("exposure", {"stops": 0.5})
    for bars in (step("letterbox", {"ratio": 2.76}), step("crop", {"ratio": 0.6})):
        ask = {"clip": clip_id, "frame": 3, "height": 112}
        plain, barred = (
            client.post("/api/v1/readings", json=ask | {"look": document(*steps)}).json()["black"]
            for steps in ((dark, grain), (dark, bars, grain))
        )
        assert abs(barred - plain) < 0.04


def test_a_place_s_value_is_read(client, clip_id, core):
    look = document(*GRADE)
    ask = {"clip": clip_id, "frame": 3, "look": look, "height": 112, "at": {"x": 0.3, "y": 0.7}}
    found = client.post("/api/v1/samples", json=ask).json()
    expected = scopes.sample_at(core(look), 0.3, 0.7)
    assert found == pytest.approx(expected._asdict(), abs=1e-6)
    assert client.post("/api/v1/samples", json=ask | {"at": {"x": 2, "y": 0}}).status_code == 422


def test_highlights_are_shown_and_what_a_glow_holds_is_told(client, clip_id, core):
    glow = step("glow", {"threshold": 0.3, "knee": 0.2, "keep_midtones": 1.0})
    look = document(glow, step("exposure", {"stops": 0.5}))
    ask = {"clip": clip_id, "frame": 3, "look": look, "height": 112}
    below = core(look, after="footage")
    part = np.clip((luma_plane(below) - 0.3) / 0.2, 0, 1)
    wanted = 255 * np.clip(below, 0, 1) * part * part * (3 - 2 * part)
    shown = picture_seen(client, **ask, show="highlights", after="glow")[..., ::-1].transpose(
        2, 0, 1
    )
    assert np.abs(shown - wanted).mean() < 2.5
    assert picture_seen(client, **ask, show="highlights", after="exposure").max() < 3
    assert picture_seen(client, **ask, show="highlights", after="footage").max() < 3

    def share_held(after, **settings):
        changed = {**glow, "settings": glow["settings"] | settings}
        body = ask | {"look": document(changed, step("exposure", {"stops": 0.5})), "after": after}
        found = client.post("/api/v1/held-light", json=body)
        return found.json()["held"]

    assert share_held("glow") > 0
    assert share_held("glow", keep_midtones=0.5) == pytest.approx(share_held("glow") / 2)
    assert share_held("exposure") == share_held(None) == 0
    assert client.post("/api/v1/held-light", json=ask | {"after": "none"}).status_code == 422


def test_change_weight_and_warnings_are_shown(client, clip_id, core):
    look = document(step("exposure", {"stops": 2}, tones=[[0.2, 0], [0.8, 1]]))
    ask = {"clip": clip_id, "frame": 3, "look": look, "height": 112}
    difference = core(look) - core(look, after="footage")
    shown = picture_seen(client, **ask, show="change", gain=4)[..., ::-1].transpose(2, 0, 1) / 255
    expected = np.clip(0.5 + 4 * difference, 0, 1)
    assert np.abs(shown - expected).mean() < 0.02
    same = picture_seen(client, **ask, show="change", base_look=look)
    assert np.abs(same.astype(int) - 128).max() <= 2
    weight = picture_seen(client, **ask, show="weight", after="exposure")
    below = core(look, after="footage")
    expected = 255 * np.interp(luma_plane(below), [0.2, 0.8], [0, 1])
    assert np.abs(weight[..., 1] - expected).mean() < 3
    layer = picture_seen(client, **ask, show="layer", after="exposure")
    alone = core(document(step("exposure", {"stops": 2})))
    assert np.abs(layer[..., 1] - 255 * np.clip(alone[1], 0, 1)).mean() < 3
    bright = document(step("exposure", {"stops": 4}))
    plain = picture_seen(client, **ask | {"look": bright})
    assert (picture_seen(client, **ask | {"look": bright}, show="warnings") != plain).any()


def test_the_path_shows_steps_within_bundles(client, clip_id):
    bundle = {"id": "b", "treatment": "bundle", "settings": {"steps": GRADE}}
    ask = {"clip": clip_id, "frame": 3, "look": document(bundle, THREE_STEPS[2]), "height": 64}
    assert set(client.post("/api/v1/path-pictures", json=ask).json()["steps"]) == {
        "levels",
        "tone",
        "b",
        "n",
    }


CUBE = b'TITLE "Turned"\nLUT_1D_SIZE 2\n1 1 1\n0 0 0\n'


def test_a_table_is_brought_in_used_and_rendered_from(client, clip_id, core):
    made = client.post(
        "/api/v1/tables", params={"name": "Harbour lights.cube"}, content=CUBE
    ).json()
    again = client.post(
        "/api/v1/tables", params={"name": "Harbour lights.cube"}, content=CUBE
    ).json()
    assert made == again
    assert client.get("/api/v1/tables").json() == [made]
    assert made["title"] == "Harbour lights"
    look = document(step("table", {"file": made["file"]}))
    ask = {"clip": clip_id, "frame": 3, "height": 112}
    shown = picture_seen(client, **ask, look=look)
    plain = picture_seen(client, **ask, look=document())
    assert np.abs(shown.astype(int) - (255 - plain.astype(int))).mean() < 3
    asked = {"clip": clip_id, "look": look, "result": {}}
    assert client.post("/api/v1/renders", json=asked).status_code == 201


@pytest.mark.parametrize(
    ("name", "body", "says"),
    [
        ("a.cube", b"LUT_3D_SIZE 4096\n", "a.cube: line 1: a size of 4096"),
        ("a.clf", b"<x/>", "a.clf: line 1: begins with x"),
        ("a.txt", b"", "a.txt: look-up tables end in"),
    ],
)
def test_what_is_no_table_is_refused_and_leaves_nothing(name, body, says, client):
    answer = client.post("/api/v1/tables", params={"name": name}, content=body)
    assert says in problem(answer, 422)
    assert list(client.app.state.preview.project.assets.iterdir()) == []


@pytest.mark.parametrize("file", ["gone.cube", "../project.sqlite", "/etc/passwd"])
def test_a_table_that_is_not_of_the_project_is_refused(file, client, clip_id):
    look = document(step("table", {"file": file}))
    answer = client.post("/api/v1/pictures", json={"clip": clip_id, "frame": 3, "look": look})
    assert file.rpartition("/")[2] in problem(answer, 422)


def test_a_look_is_baked_with_its_error(client, tmp_path):
    made = client.post("/api/v1/looks", json=document(*GRADE)).json()
    address = f"/api/v1/looks/{made['id']}/table"
    error = client.get(f"{address}/error", params={"side": 17}).json()["error"]
    answer = client.get(address, params={"side": 17})
    assert "Dusk---dawn.17.cube" in answer.headers["content-disposition"]
    (tmp_path / "a.cube").write_bytes(answer.content)
    values = read_cube(tmp_path / "a.cube").parts[0].values
    corner = apply_to_colours(parse_look(document(*GRADE)), np.full((3, 1, 1), 0.5, np.float32))[
        :, 0, 0
    ]
    np.testing.assert_allclose(values[8, 8, 8], corner, atol=1e-6)
    assert 0 < error < 0.05
    problem(client.get(address, params={"side": 12}), 422)
    grain = client.post("/api/v1/looks", json=document(*THREE_STEPS)).json()
    found = client.get(f"/api/v1/looks/{grain['id']}/table/error").json()
    assert found["error"] is None
    assert found["reason"].startswith("steps[0]: glow works on more")


def test_a_grade_goes_out_and_comes_in_again(client):
    grade = {"id": "dusk", "slope": [1.2, 1, 0.9], "offset": [0.1, 0, 0], "saturation": 1.5}
    for ending in ("cc", "cdl"):
        text = client.post(f"/api/v1/grades/{ending}", json=grade).content
        found = client.post("/api/v1/grades", params={"name": f"a.{ending}"}, content=text).json()
        assert found == grade | {"power": [1, 1, 1]}
    problem(client.post("/api/v1/grades/txt", json=grade), 422)
    assert "a.cc: line 1" in problem(
        client.post("/api/v1/grades", params={"name": "a.cc"}, content=b"no"), 422
    )


def test_starter_looks_are_looks_that_change_the_picture(client, clip_id):
    found = client.get("/api/v1/starters").json()
    assert [s["name"] for s in found] == [s.look.name for s in starters()]
    hits = next(s for s in found if s["name"] == "Three-way split hits")
    assert hits["bursts"] == {"hits": {"length": 4, "ramp": 1, "threshold": 4.0}}
    assert sum(bool(s["bursts"]) for s in found) == 2
    assert len(found) >= 5
    ask = {"clip": clip_id, "frame": 3, "height": 64}
    plain = picture_seen(client, **ask, look=document())
    for starter in found:
        assert starter["summary"]
        assert (
            np.abs(picture_seen(client, **ask, look=starter["look"]).astype(int) - plain).mean() > 2
        )


def test_snapshots_are_kept_with_their_look(client):
    made = client.post("/api/v1/looks", json=document(*GRADE)).json()
    address = f"/api/v1/looks/{made['id']}/snapshots"
    assert client.get(address).json() == []
    body = {"name": "Snapshot 1", "look": made["look"]}
    kept = [{"id": f"s{n}", **body} for n in (1, 2)]
    for snapshot in kept:  # from two pages, neither of which has seen the other's
        assert client.put(f"{address}/{snapshot['id']}", json=body).json() == snapshot
    assert client.get(address).json() == kept
    broken = body | {"look": {"format": "x"}}
    assert "format" in problem(client.put(f"{address}/s1", json=broken), 422)
    assert client.get(address).json() == kept
    assert client.delete(f"{address}/s1").status_code == 204
    assert client.get(address).json() == kept[1:]
    for n in range(2, 25):
        client.put(f"{address}/s{n}", json=body)
    assert client.put(f"{address}/s25", json=body).status_code == 200
    assert "at most 24" in problem(client.put(f"{address}/s26", json=body), 422)
    problem(client.get("/api/v1/looks/99/snapshots"), 404)
    problem(client.delete("/api/v1/looks/99/snapshots/s1"), 404)


OLD_TONE = {"id": "t", "treatment": "tone", "settings": {"vibrance": 0.3}}
OLD = {"format": "yearning-look/1", "name": "Old", "steps": [OLD_TONE]}


def test_a_snapshot_of_an_older_format_is_given_in_the_newest(client):
    made = client.post("/api/v1/looks", json=document(*GRADE)).json()
    address = f"/api/v1/looks/{made['id']}/snapshots"
    client.put(f"{address}/s1", json={"name": "Old", "look": OLD})
    (found,) = client.get(address).json()
    assert found["look"]["format"] == "yearning-look/3"
    settings = found["look"]["steps"][0]["settings"]
    assert settings["pale_colours"] == 0.3
    assert "vibrance" not in settings


def test_a_look_file_of_an_older_format_says_what_has_changed_of_its_picture(client):
    edge, crop = {"id": "v", "treatment": "vignette"}, {"id": "c", "treatment": "crop"}
    before = client.post("/api/v1/looks/check", json={**OLD, "steps": [edge, crop]}).json()
    assert before["notes"] == ["The vignette before a crop now fits the frame that is left."]
    assert before["look"]["format"] == "yearning-look/3"
    for steps in ([crop, edge], [edge | {"on": False}, crop], [OLD_TONE]):
        found = client.post("/api/v1/looks/check", json={**OLD, "steps": steps}).json()
        assert found["notes"] == []


def test_the_catalogue_says_what_a_table_can_hold(client):
    for found in client.get("/api/v1/catalogue").json()["treatments"]:
        assert found["colour_only"] == issubclass(TREATMENTS[found["kind"]], ColourOnly)


def test_levels_and_tone_are_set_from_the_whole_clip(client, clip_id, clip):
    ask = {"clip": clip_id, "look": document(*GRADE), "after": "footage"}
    with Footage(clip) as footage:
        frames = np.stack([footage.picture(n) for n in range(footage.frames)], 1)
    luma = np.tensordot([0.2126, 0.7152, 0.0722], frames, 1)
    expected = {
        "levels": {
            "black": np.clip(np.quantile(frames.reshape(3, -1), 0.001, axis=1).min(), 0, 1),
            "white": np.clip(np.quantile(frames.reshape(3, -1), 0.999, axis=1).max(), 0, 1),
        },
        "tone": {
            "pivot": np.median(luma),
            "contrast": np.log2(0.5 / np.diff(np.quantile(luma, [0.1, 0.9]))[0]),
        },
    }
    for kind, settings in expected.items():
        text = client.post("/api/v1/fits", json=ask | {"treatment": kind}).text
        *progress, last = [json.loads(line) for line in text.splitlines()]
        assert last["settings"] == pytest.approx(settings, abs=0.006)
        assert [line["done"] for line in progress] == (list(range(40)) if kind == "levels" else [])
    refused = client.post("/api/v1/fits", json=ask | {"treatment": "glow"})
    assert "set from a clip" in problem(refused, 422)


def test_a_clip_s_light_is_measured_with_progress_and_its_exposure_evened(
    client, clip_id, tmp_path, monkeypatch
):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    told = client.post(f"/api/v1/clips/{clip_id}/light").text
    lines = [json.loads(line) for line in told.splitlines()]
    assert [line["done"] for line in lines] == [0, 8, 16, 24, 32, 40, 40]
    ask = {"clip": clip_id, "frame": 3, "look": document(), "height": 112}
    plain = picture_seen(client, **ask)
    said = client.put(f"/api/v1/clips/{clip_id}/reading", json={"deflicker": 8}).json()
    assert said["reading"]["deflicker"] == 8
    assert (picture_seen(client, **ask) != plain).any()
    refused = client.put(f"/api/v1/clips/{clip_id}/reading", json={"deflicker": 0})
    assert "deflicker: 0 is not 1 to 240" in problem(refused, 422)
    client.put(f"/api/v1/clips/{clip_id}/reading", json={})
    assert (picture_seen(client, **ask) == plain).all()
