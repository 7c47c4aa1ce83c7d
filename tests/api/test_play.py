"""Play over its socket: frames streamed, or made ahead of it."""

import struct

import cv2
import numpy as np
import pytest

from tests.conftest import THREE_STEPS, a_look
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.filters import area_resized
from yearning.core.treatments.glow import Glow
from yearning.media.decode.footage import Footage
from yearning.media.quantizing import quantize

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}


def _frames(socket, count, due=None):
    seen = {}
    while len(seen) < count:
        message = socket.receive()
        if message.get("bytes"):
            frame, length = struct.unpack_from("<II", message["bytes"])
            seen[frame] = message["bytes"][8 : 8 + length], message["bytes"][8 + length :]
            socket.send_json({"type": "shown"} | ({} if due is None else {"due": due(frame)}))
    return seen


def test_play_streams_frames_in_order_and_round_again(client, clip_id, clip):
    start = {"type": "start", "clip": clip_id, "look": LOOK, "frame": 36, "height": 56}
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        socket.send_json(start)
        seen = _frames(socket, 8)
    assert list(seen) == list(range(8))
    with Footage(clip) as footage:
        path = Evaluator(a_look(*THREE_STEPS), footage, footage.size, Cache(0))
        exact = area_resized(path.picture(38), footage.size.with_height(56))
    got = cv2.imdecode(np.frombuffer(seen[2][0], np.uint8), 1)
    assert np.abs(got.astype(int) - quantize(exact, 8)).mean() < 6


def test_play_sends_what_it_is_compared_with(client, clip_id):
    start = {"type": "start", "clip": clip_id, "look": LOOK, "frame": 0, "height": 56}
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        socket.send_json(start | {"base": "footage"})
        result, base = _frames(socket, 1)[0]
    assert base.startswith(b"\xff\xd8")
    assert base != result


def _playing(client, **ask):
    socket = client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"})
    return socket, {"type": "start", "look": LOOK, "frame": 0, "height": 56} | ask


def test_a_range_is_played_round_and_round(client, clip_id):
    opened, start = _playing(client, clip=clip_id, frame=9, first=8, last=10)
    with opened as socket:
        socket.send_json(start)
        seen = _frames(socket, 7)
    assert list(seen) == list(range(7))
    assert seen[0] == seen[3] == seen[6] != seen[1]


def test_frames_are_made_ahead_and_play_finds_them(client, clip_id):
    opened, start = _playing(client, clip=clip_id, frame=4, first=3, last=6)
    with opened as socket:
        socket.send_json(start | {"type": "ahead"})
        held = [socket.receive_json()["frames"] for _ in range(5)]
    assert held == [[], [4], [5], [6], [3]]  # from the play head on, round to where it begins
    opened, start = _playing(client, clip=clip_id, frame=4, first=3, last=6)
    with opened as socket:
        socket.send_json(start)
        assert socket.receive_json() == {"type": "held", "frames": [3, 4, 5, 6]}
        made = _frames(socket, 4)
    opened, start = _playing(client, clip=clip_id, frame=4, first=3, last=6, height=54)
    with opened as socket:
        socket.send_json(start)
        assert socket.receive_json()["frames"] == []  # of another height there are none
        assert _frames(socket, 1)[0] != made[0]


def test_a_reels_frames_are_made_ahead_over_its_cuts_and_found(client, clip_id, monkeypatch):
    gathered = []
    reduced = Glow.reduce_clip
    monkeypatch.setattr(Glow, "reduce_clip", lambda *ask: gathered.append(1) or reduced(*ask))
    look = client.post("/api/v1/looks", json=LOOK).json()["id"]
    shot = {"kind": "shot", "name": "Shot", "clip": clip_id, "look": look}
    items = [
        shot | {"id": "a", "first": 5, "last": 7},
        {"kind": "gap", "id": "g", "frames": 2},
        shot | {"id": "b", "first": 30, "last": 31},
    ]
    reel = client.post("/api/v1/reels", json={"name": "Cut", "items": items}).json()["id"]
    ask = {"reel": reel, "frame": 2, "height": 56}
    address = {"url": "/api/v1/play", "headers": {"host": "127.0.0.1:8765"}}
    with client.websocket_connect(**address) as socket:
        socket.send_json(ask | {"type": "start", "height": 48})
        _frames(socket, 2)
    with client.websocket_connect(**address) as socket:
        socket.send_json(ask | {"type": "ahead"})
        told = [socket.receive_json()["frames"] for _ in range(6)]
    assert told == [[], [2], [3, 4, 5], [6], [0], [1]]
    monkeypatch.setattr(Evaluator, "picture_of", None)  # all is there
    with client.websocket_connect(**address) as socket:
        socket.send_json(ask | {"type": "ahead"})
        assert [socket.receive_json()["frames"] for _ in range(2)] == [[], [2, 3, 4, 5, 6, 0, 1]]
        socket.send_json(ask | {"type": "start"})
        assert socket.receive_json() == {"type": "held", "frames": []}
        assert list(_frames(socket, 7)) == list(range(7))
    assert len(gathered) == 1  # for both shots, and once for all


def test_making_ahead_ends_where_it_is_stopped(client, clip_id):
    opened, start = _playing(client, clip=clip_id)
    with opened as socket:
        socket.send_json(start | {"type": "ahead"})
        assert [socket.receive_json()["frames"] for _ in range(2)] == [[], [0]]
        socket.send_json({"type": "stop"})
        socket.send_json(start | {"type": "ahead"})
        while (message := socket.receive_json()["frames"]) and len(message) == 1 and message[0]:
            pass  # what was under way
        assert message[0] == 0
        assert len(message) < 40


def test_where_the_clock_is_ahead_frames_are_left_out_and_never_come_late(client, clip_id):
    opened, start = _playing(client, clip=clip_id)
    with opened as socket:
        socket.send_json(start)
        seen = list(_frames(socket, 40, due=lambda at: at + 20))
        socket.send_json({"type": "stop"})
        socket.send_json({"type": "start", "clip": 99, "look": LOOK, "frame": 0})
        while "bytes" in (message := socket.receive()):
            pass
        assert "99" in message["text"]
    assert seen == sorted(seen)
    assert seen[-1] > 60
    assert seen[:3] == [0, 1, 2]  # those that were on their way


def test_a_steps_own_change_is_played(client, clip_id):
    opened, start = _playing(client, clip=clip_id, after="g", base="footage", change=8)
    with opened as socket:
        socket.send_json(start)
        result, base = _frames(socket, 1)[0]
    assert base == b""
    ask = {"clip": clip_id, "frame": 0, "look": LOOK, "height": 56}
    ask |= {"show": "change", "after": "g", "base": "footage", "gain": 8}
    still = client.post("/api/v1/pictures", json=ask).content
    both = [cv2.imdecode(np.frombuffer(data, np.uint8), 1).astype(int) for data in (result, still)]
    assert np.abs(both[0] - both[1]).mean() < 3


GARBLED = [
    b"\0\1",
    "nothing",
    "[]",
    "3",
    "[" * 100_000,
    '{"type": "shown", "due": ' + "9" * 5000 + "}",
    '{"type": "shown", "due": 1e30}',
    '{"type": "shown", "due": -1}',
    '{"type": "start"}',
    '{"type": "start", "clip": 1, "look": {}, "frame": -3}',
]


@pytest.mark.parametrize("garbled", GARBLED, ids=lambda text: str(text)[:30])
def test_what_is_garbled_is_refused_and_play_goes_on(garbled, client, clip_id):
    start = {"type": "start", "clip": clip_id, "look": LOOK, "frame": 0, "height": 56}
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        send = socket.send_bytes if isinstance(garbled, bytes) else socket.send_text
        send(garbled)
        said = socket.receive_json()
        assert said["type"] == "error"
        assert "\n" not in said["detail"]
        socket.send_json(start)
        assert list(_frames(socket, 3)) == [0, 1, 2]


def test_play_says_why_it_ends(client, clip_id):
    start = {"type": "start", "clip": clip_id, "look": LOOK, "frame": 0, "height": 56}
    project = client.app.state.preview.project
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        for wrong, says in (
            ({"after": "nothing"}, "nothing"),
            ({"frame": 99_999}, "out of range"),
            ({"clip": 999}, "999"),
            ({"look": {"format": "other"}}, "format"),
        ):
            socket.send_json(start | wrong)
            assert says in socket.receive_json()["detail"]
        project.clips.get(clip_id).path.unlink()
        socket.send_json(start)
        assert "gone" in socket.receive_json()["detail"]


def test_what_play_breaks_off_for_is_said_whatever_it_is(client, clip_id, monkeypatch):
    opened, start = _playing(client, clip=clip_id)

    def no_light(*_):
        raise ZeroDivisionError("no light")

    with opened as socket:
        with monkeypatch.context() as patch:
            patch.setattr("yearning.api.routes.play.jpeg", no_light)
            socket.send_json(start)
            assert socket.receive_json() == {"type": "held", "frames": []}
            said = socket.receive_json()
        assert said == {"type": "error", "detail": "play broke off: ZeroDivisionError: no light"}
        socket.send_json(start)
        assert list(_frames(socket, 2)) == [0, 1]
