"""Reels over the API: made by hand, read from timelines, played, rendered and given back."""

import json

import cv2
import numpy as np
import opentimelineio as otio
import pytest

from tests.api.conftest import clip_added, codes_shown, problem
from tests.api.test_renders import render_at_end
from tests.conftest import encode
from tests.hostile.timelines import crafted_timelines
from tests.media.timeline.making import cut_clip, span, time, timeline
from yearning.media.decode.clip import open_clip

BRIGHT = {
    "format": "yearning-look/3",
    "name": "Bright",
    "steps": [{"id": "e", "treatment": "exposure", "settings": {"stops": 1}}],
}
PLAIN = {"format": "yearning-look/3", "steps": []}


@pytest.fixture
def look_id(client):
    return client.post("/api/v1/looks", json=BRIGHT).json()["id"]


def shot(id, clip, first, last, **more):
    name = more.pop("name", id)
    return {"kind": "shot", "id": id, "name": name, "clip": clip, "first": first, "last": last,
            **more}  # fmt: skip


def gap(id, frames):
    return {"kind": "gap", "id": id, "frames": frames}


def add_reel(client, *items, **more):
    answer = client.post("/api/v1/reels", json={"name": "Cut", "items": list(items), **more})
    assert answer.status_code == 201, answer.text
    return answer.json()


def send_timeline(client, made, name="cut.otio"):
    text = otio.adapters.write_to_string(made, "otio_json")
    answer = client.post("/api/v1/reels/timelines", params={"name": name}, content=text.encode())
    assert answer.status_code == 201, answer.text
    return answer.json()


def picture(client, reel, frame, **query):
    path = f"/api/v1/reels/{reel}/pictures/{frame}"
    answer = client.get(path, params={"height": 48, **query})
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR).astype(int)


def test_a_reel_is_made_changed_and_taken_back(client, clip_id, look_id):
    reel = add_reel(
        client, shot("a", clip_id, 5, 9), gap("g", 3), shot("b", clip_id, 0, 19, speed=2)
    )
    assert (reel["frames"], reel["rate"]) == (5 + 3 + 10, {"numerator": 24, "denominator": 1})
    own = f"/api/v1/reels/{reel['id']}"
    items = [reel["items"][0] | {"look": look_id}, *reel["items"][1:]]
    change = {"name": "Cut", "items": items, "revision": reel["revision"]}
    changed = client.put(own, json=change).json()
    assert changed["items"][0]["look"] == look_id
    assert client.get(own).json() == changed
    assert "changed since" in problem(client.put(own, json=change), 409)
    step = {"revision": changed["revision"], "to": reel["revision"]}
    assert client.post(f"{own}/undo", json=step).json() == reel
    nowhere = {"revision": reel["revision"], "to": 99}
    assert "no revision 99" in problem(client.post(f"{own}/undo", json=nowhere), 404)
    assert client.delete(own).status_code == 204
    assert client.get("/api/v1/reels").json() == []
    assert client.post(f"{own}/restore").json() == reel


@pytest.mark.parametrize(
    ("items", "says"),
    [
        ([shot("a", 1, 9, 5)], "before it begins"),
        ([shot("a", 1, 0, 5), gap("a", 2)], "two of its items have the id a"),
        ([{"kind": "title", "id": "t"}], "kind"),
        ([shot("a", 1, 0, 5, fitting={"format": "other"})], "format"),
        ([shot("a", 1, 0, 5, speed=99)], "8"),
    ],
)
def test_what_can_be_no_reel_is_refused(items, says, client):
    assert says in problem(client.post("/api/v1/reels", json={"items": items}), 422)


def test_its_pictures_are_those_of_its_shots_through_their_looks(client, clip_id, look_id):
    fitting = {"format": "yearning-fitting/2", "steps": {"e": {"settings": {"stops": 0.5}}}}
    items = [
        shot("a", clip_id, 5, 9, look=look_id),
        gap("g", 3),
        shot("b", clip_id, 20, 29),
        shot("c", clip_id, 20, 29, look=look_id, fitting=fitting),
    ]
    reel = add_reel(client, *items)["id"]
    half = json.loads(json.dumps(BRIGHT))
    half["steps"][0]["settings"]["stops"] = 0.5
    for frame, look, of in ((1, BRIGHT, 6), (9, PLAIN, 21), (20, half, 22)):
        assert (
            np.abs(picture(client, reel, frame) - codes_shown(client, clip_id, look, of)).mean() < 4
        )
    assert (
        np.abs(picture(client, reel, 1, plain=True) - codes_shown(client, clip_id, PLAIN, 6)).mean()
        < 4
    )
    assert picture(client, reel, 6).max() == 0
    out = client.get(f"/api/v1/reels/{reel}/pictures/28")
    assert "28 is out of range" in problem(out, 422)


def test_it_is_played_through_its_cuts(client, clip_id, look_id):
    reel = add_reel(client, shot("a", clip_id, 5, 7, look=look_id), gap("g", 2),
                 shot("b", clip_id, 20, 22))  # fmt: skip
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        socket.send_json({"type": "start", "reel": reel["id"], "frame": 1, "height": 48})
        assert socket.receive_json()["type"] == "held"
        for n in range(10):
            data = socket.receive_bytes()
            assert int.from_bytes(data[:4], "little") == n
            codes = cv2.imdecode(np.frombuffer(data[8:], np.uint8), cv2.IMREAD_COLOR).astype(int)
            frame = (1 + n) % 8
            if frame in (3, 4):
                assert codes.max() == 0
            else:
                assert np.abs(codes - picture(client, reel["id"], frame)).mean() < 4
            socket.send_json({"type": "shown", "due": n})
        socket.send_json({"type": "start", "reel": reel["id"], "frame": 8})
        while isinstance(message := socket.receive(), dict) and "text" not in message:
            pass
        assert "the reel has 8" in message["text"]


def test_shots_are_rendered_once_and_the_timeline_has_the_results(
    client, clip_id, look_id, tmp_path
):
    items = [shot("a", clip_id, 5, 7, look=look_id), gap("g", 2), shot("b", clip_id, 20, 22),
             shot("c", None, 0, 5), shot("d", clip_id, 20, 22)]  # fmt: skip
    reel = add_reel(client, *items)
    own = f"/api/v1/reels/{reel['id']}"
    before = otio.adapters.read_from_string(client.get(f"{own}/timeline").text, "otio_json")
    media = before.video_tracks()[0][0].media_reference.target_url
    assert media in [path.as_uri() for path in (tmp_path / "work" / "media").iterdir()]
    ask = {"result": {"codec": "FFV1"}, "handles": 2}
    done = client.post(f"{own}/renders", json=ask).json()
    assert (len(done["added"]), done["kept"]) == (3, 0)
    assert done["refused"] == ["shot 3, c: its media is missing; drop it on the page"]
    renders = [render_at_end(client, render) for render in done["added"]]
    assert [render["total"] for render in renders] == [7, 7, 7]
    assert renders[0]["file"].startswith("cut-001-a-")
    again = client.post(f"{own}/renders", json=ask).json()
    assert (again["added"], again["kept"]) == ([], 3)
    states = {each["shot"]: each["state"] for each in client.get(f"{own}/results").json()}
    assert states == {"a": "done", "b": "done", "c": "none", "d": "done"}
    with open_clip(tmp_path / "work" / "renders" / renders[1]["file"]) as result:
        codes = (255 * result.picture(2, result.size.with_height(48))[::-1]).transpose(1, 2, 0)
    assert np.abs(codes - picture(client, reel["id"], 5)).mean() < 4
    answer = client.get(f"{own}/timeline")
    assert answer.headers["content-disposition"].endswith('filename="Cut.otio"')
    read = otio.adapters.read_from_string(answer.text, "otio_json")
    track = read.video_tracks()[0]
    assert [type(each).__name__ for each in track] == ["Clip", "Gap", "Clip", "Gap", "Clip"]
    assert track[0].media_reference.target_url.endswith(renders[0]["file"])
    assert track[0].trimmed_range().duration.value == 3
    # another look is another result; the first stays known
    items[0]["look"] = None
    change = {"name": "Cut", "items": items, "revision": reel["revision"]}
    client.put(own, json=change)
    changed = client.post(f"{own}/renders", json=ask).json()
    assert (len(changed["added"]), changed["kept"]) == (1, 2)


def test_a_timeline_is_read_with_the_project_s_clips_and_missing_media_come_later(
    client, clip, tmp_path
):
    clip_added(client, clip)  # "small"
    made = timeline(
        [
            cut_clip("small.mp4", 5, 8, available=span(0, 40)),
            otio.schema.Gap(duration=time(6)),
            cut_clip("Other_Take.mov", 0, 4),
        ]
    )
    made.metadata["kept"] = {"by": "us"}
    for n, name in ((0, "bright"), (2, "nowhere")):
        made.tracks[0][n].metadata["yearning"] = {"look": name}
    look = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    reel = send_timeline(client, made)
    first, between, missing = reel["items"]
    assert (first["look"], missing["look"]) == (look, None)
    assert reel["notes"] == ["item 3: no look here is called 'nowhere'; it is as shot"]
    assert (first["first"], first["last"], between["frames"]) == (5, 12, 6)
    assert missing["clip"] is None
    assert "no media found" in reel["missing"][missing["id"]]
    encode(tmp_path / "other.mp4", "libx264", frames=30)
    body = (tmp_path / "other.mp4").read_bytes()
    client.post("/api/v1/clips", params={"name": "other take.mp4"}, content=body)
    found = client.post(f"/api/v1/reels/{reel['id']}/media").json()
    assert found["missing"] == {}
    assert (found["items"][2]["id"], found["items"][2]["last"]) == (missing["id"], 3)
    answer = client.get(f"/api/v1/reels/{reel['id']}/timeline")
    read = otio.adapters.read_from_string(answer.text, "otio_json")
    assert read.metadata["kept"] == {"by": "us"}


def test_an_imported_reel_without_its_last_shot_is_given_back(client, clip):
    clip_added(client, clip)
    reel = send_timeline(client, timeline([cut_clip("small", 5 * n, 5) for n in range(3)]))
    items = reel["items"][:2]
    change = {"name": "Cut", "items": items, "revision": reel["revision"]}
    assert client.put(f"/api/v1/reels/{reel['id']}", json=change).status_code == 200
    for ending in (".otio", ".edl"):
        answer = client.get(f"/api/v1/reels/{reel['id']}/timeline", params={"ending": ending})
        assert answer.status_code == 200, answer.text
        if ending == ".otio":
            read = otio.adapters.read_from_string(answer.text, "otio_json")
            assert [each.source_range.start_time.value for each in read.video_tracks()[0]] == [0, 5]


@pytest.mark.parametrize("name", ["no tracks", "deep stacks", "cyclic", "far"])
def test_a_timeline_that_means_no_good_leaves_nothing_behind(name, client, tmp_path):
    content = crafted_timelines()[name].encode()
    answer = client.post("/api/v1/reels/timelines?name=a.otio", content=content)
    assert problem(answer, 422).startswith("a.otio: ")
    assert not list((tmp_path / "work" / "timelines").iterdir())


@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        ("cut.txt", b"{}", "timelines end in .otio or .edl"),
        ("cut.otio", b"{", "not a timeline"),
        ("cut.edl", b"", "no clips"),
        ("cut.otio", b'{"OTIO_SCHEMA": "Timeline.99"}', "not a timeline"),
    ],
)
def test_what_is_no_timeline_is_told_and_leaves_nothing(name, content, says, client, tmp_path):
    answer = client.post("/api/v1/reels/timelines", params={"name": name}, content=content)
    assert says in problem(answer, 422)
    assert client.get("/api/v1/reels").json() == []
    assert not list((tmp_path / "work" / "timelines").iterdir())


EDIT_LIST = """TITLE: Cut
FCM: NON-DROP FRAME

001  AX       V     C        00:00:01:00 00:00:03:00 00:00:00:00 00:00:02:00
* FROM CLIP NAME: first take
"""
"""CMX 3600 (SMPTE 258M-2004): two seconds of a clip from its second second on."""


@pytest.mark.parametrize(
    ("said", "rate"), [({}, (25, 1)), ({"rate": 29.97}, (30000, 1001)), ({"rate": 24}, (24, 1))]
)
def test_an_edit_list_has_the_rate_that_is_said_or_that_of_most_clips(said, rate, client, tmp_path):
    for n, each in enumerate((25, 25, 30)):
        path = encode(tmp_path / f"take {n}.mp4", "libx264", frames=20 + n, rate=each)
        client.post("/api/v1/clips", params={"name": path.name}, content=path.read_bytes())
    params = {"name": "cut.edl"} | said
    reel = client.post("/api/v1/reels/timelines", params=params, content=EDIT_LIST).json()
    assert (reel["rate"]["numerator"], reel["rate"]["denominator"]) == rate
    assert reel["frames"] == 2 * round(rate[0] / rate[1])
    told = [note for note in reel["notes"] if "read at 25" in note]
    assert len(told) == (0 if said else 1)


def test_paths_in_a_timeline_reach_nothing_of_this_machine(client, clip):
    made = timeline([cut_clip("shot", 0, 4, clip)])
    assert send_timeline(client, made)["items"][0]["clip"] is None


def test_a_timeline_of_the_longest_name_stays_readable(client):
    made = timeline([cut_clip("shot", 0, 4)])
    reel = send_timeline(client, made, name=f"{'n' * 300}.otio")
    assert client.get("/api/v1/reels").json()[0]["id"] == reel["id"]
    assert client.post(f"/api/v1/reels/{reel['id']}/media").status_code == 200
