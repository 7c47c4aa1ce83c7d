"""Over HTTP: a reel as one movie, of the renders of its shots."""

import av
import numpy as np
import pytest

from tests.api.conftest import clip_added, problem, told_once
from tests.api.test_reels import BRIGHT, add_reel, gap, shot
from tests.conftest import encode
from tests.test_cli_reel_movie import SAMPLES, heard_in, noisy
from tests.test_cli_reels import frames_of
from yearning.core.picture import Size

MAKING = "/api/v1/movies/making"


@pytest.fixture
def cut(client, tmp_path):
    """A reel of three shots of two clips with a gap; and what the clips sound like."""
    sounds = [noisy(tmp_path / f"{n}.mov", 60, n) for n in (1, 2)]
    ash, elm = (clip_added(client, tmp_path / f"{n}.mov") for n in (1, 2))
    look = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    items = [
        shot("a", ash, 5, 11, look=look),
        shot("b", elm, 20, 31),
        gap("g", 6),
        shot("c", ash, 30, 38),
    ]
    return add_reel(client, *items)["id"], sounds


def make_movie(client, reel, **result):
    """The movie, once it is made."""
    answer = client.post(MAKING, json={"reel": reel, "result": result})
    assert answer.status_code == 202, answer.text
    assert answer.json()["running"]
    status = told_once(client, MAKING, lambda status: not status["running"])
    assert status["error"] is None
    assert status["done"] == status["total"]
    return client.app.state.project.folder / "renders" / status["file"]


def shot_results(client):
    """The files of the shots' renders, in their order."""
    renders = client.app.state.project.renders.all()
    return [render.path for render in reversed(renders)]


@pytest.mark.parametrize("codec", ["H.264", "FFV1", "AV1", "VP9"])
def test_a_movie_has_the_frames_of_its_shots_and_their_sound(codec, client, cut):
    reel, sounds = cut
    path = make_movie(client, reel, codec=codec, quality="draft")
    movie = frames_of(path)
    parts = [frames_of(result) for result in shot_results(client)]
    assert [len(part) for part in parts] == [7, 12, 9]
    np.testing.assert_array_equal(movie[:19], np.concatenate(parts[:2]))
    np.testing.assert_array_equal(movie[25:], parts[2])
    assert movie[19:25].max() <= 2  # a code or two, as the codec has black
    heard = heard_in(path)
    if codec != "FFV1":
        assert abs(len(heard) - 34 * SAMPLES) < 2100  # a frame of the codec of sound
        return
    ash, elm = sounds
    expected = [
        ash[5 * SAMPLES : 12 * SAMPLES],
        elm[20 * SAMPLES : 32 * SAMPLES],
        np.zeros((6 * SAMPLES, 2), np.int16),
        ash[30 * SAMPLES : 39 * SAMPLES],
    ]
    np.testing.assert_array_equal(heard, np.concatenate(expected))


@pytest.mark.parametrize("codec", ["H.264", "AV1", "VP9"])
def test_a_movie_s_frames_stand_at_even_times_in_order(codec, client, cut):
    path = make_movie(client, cut[0], codec=codec, quality="draft")
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        times = [float(frame.pts * stream.time_base) for frame in container.decode(stream)]
    np.testing.assert_allclose(np.diff(times), 1 / 25, atol=1e-3)
    with av.open(str(path)) as container:
        packets = [p for p in container.demux(video=0) if p.size]
    assert all(packet.dts is None or packet.dts <= packet.pts for packet in packets)
    decoding = [packet.dts for packet in packets if packet.dts is not None]
    assert decoding == sorted(set(decoding))


def test_what_is_rendered_is_taken_and_each_movie_has_a_name_of_its_own(client, cut):
    reel, _ = cut
    first = make_movie(client, reel, codec="FFV1")
    second = make_movie(client, reel, codec="FFV1")
    assert (first.name, second.name) == ("Cut.mkv", "Cut 2.mkv")
    assert len(shot_results(client)) == 3
    assert first.read_bytes()[-4000:] == second.read_bytes()[-4000:]
    taken = client.get(f"/api/v1/movies/{first.name}/file")
    assert taken.content == first.read_bytes()
    assert 'filename="Cut.mkv"' in taken.headers["content-disposition"]


def test_movies_that_were_made_stay_on_the_reels_list(client, cut, make_client):
    reel, _ = cut
    first, second = make_movie(client, reel, codec="FFV1"), make_movie(client, reel, codec="FFV1")
    with make_client() as started_anew:
        listed = started_anew.get("/api/v1/movies", params={"reel": reel}).json()
        assert [movie["file"] for movie in listed] == [second.name, first.name]
        assert listed[0] == {"file": second.name, "title": "Cut", "frames": 34,
                             "made": listed[0]["made"], "bytes": second.stat().st_size}  # fmt: skip
        assert 0 <= listed[0]["made"] - listed[1]["made"] < 600
        first.unlink()
        listed = started_anew.get("/api/v1/movies", params={"reel": reel}).json()
        assert [movie["file"] for movie in listed] == [second.name]
        assert started_anew.get("/api/v1/movies", params={"reel": reel + 1}).json() == []


def test_a_movie_is_given_up_and_its_shots_go_on(client, cut, monkeypatch):
    reel, _ = cut
    queue = client.app.state.render_queue
    monkeypatch.setattr(queue, "wake", lambda render: None)  # it looks by itself in a while
    client.post(MAKING, json={"reel": reel, "result": {"codec": "FFV1"}})
    assert client.post(f"{MAKING}/stop").status_code == 204
    status = client.get(MAKING).json()
    assert (status["stopped"], status["running"], status["file"]) == (True, False, None)
    assert len(client.app.state.project.renders.all()) == 3


def test_a_shot_that_fails_is_named(client, cut):
    reel, _ = cut
    folder = client.app.state.project.folder
    client.app.state.render_queue.close()
    client.post(MAKING, json={"reel": reel, "result": {"codec": "FFV1"}})
    (waiting, *_) = reversed(client.app.state.project.renders.all())
    client.app.state.project.renders.note(waiting.id, "failed", 0, "the cable was pulled")
    status = told_once(client, MAKING, lambda status: not status["running"])
    assert status["error"] == "a: the cable was pulled"
    assert not list(folder.glob("renders/Cut*"))


@pytest.mark.parametrize(
    ("result", "says"),
    [
        ({"codec": "PNG"}, "stills are rendered shot by shot"),
        ({"codec": "FFV1", "overlay": True}, "a look alone is rendered shot by shot"),
        ({"height": 4}, "16 lines or more"),
    ],
)
def test_what_can_be_no_movie_is_told(result, says, client, cut):
    assert says in problem(client.post(MAKING, json={"reel": cut[0], "result": result}), 422)
    assert client.get(MAKING).json() is None
    assert client.app.state.project.renders.all() == []


def test_reels_that_can_be_no_movie_are_told(client, cut, tmp_path):
    encode(tmp_path / "other.mp4", "libx264", size=Size(64, 36))
    other = clip_added(client, tmp_path / "other.mp4")
    ash = client.app.state.project.clips.all()[0].id
    unlike = add_reel(client, shot("a", ash, 0, 4), shot("small", other, 0, 4))["id"]
    missing = add_reel(client, shot("a", ash, 0, 4), shot("lost", None, 0, 4))["id"]
    empty = add_reel(client, gap("g", 4))["id"]
    for reel, says in ((unlike, "64x36, not"), (missing, "lost: its media is missing"),
                       (empty, "has no shot")):  # fmt: skip
        assert says in problem(client.post(MAKING, json={"reel": reel, "result": {}}), 422)
    assert client.app.state.project.renders.all() == []


@pytest.mark.parametrize("name", ["none.mkv", "..%2Fproject.db", "x.json"])
def test_files_that_are_no_movies_are_not_given(client, name):
    answer = client.get(f"/api/v1/movies/{name}/file")
    assert answer.status_code == 404
