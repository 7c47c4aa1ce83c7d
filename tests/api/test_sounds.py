"""Files of sound over the API: brought in, played, laid under a reel, and heard in its movie."""

import json
import struct

import av
import numpy as np
import opentimelineio as otio
import pytest

from tests.api.conftest import clip_added, problem
from tests.api.test_movies import make_movie
from tests.api.test_reels import add_reel, send_timeline, shot
from tests.media.timeline.making import cut_clip, time, timeline
from tests.test_cli_reel_movie import SAMPLES, heard_in, noise_file, noisy
from yearning.media.audio.waveform import audio_levels
from yearning.media.decode.probe import MAX_SOUND_RATE, MIN_SOUND_RATE
from yearning.media.stills.stills import write_still


def brought_in(client, path, name="music.wav"):
    answer = client.post("/api/v1/sounds", params={"name": name}, content=path.read_bytes())
    assert answer.status_code == 201, answer.text
    return answer.json()


@pytest.fixture
def music(client, tmp_path):
    """Two seconds of music in the project, and its samples."""
    samples = noise_file(tmp_path / "music.wav", 2, seed=7)
    return brought_in(client, tmp_path / "music.wav"), samples


def test_a_file_of_sound_is_kept_once_listed_and_played(client, music, tmp_path):
    sound, _ = music
    assert (sound["title"], sound["seconds"], sound["channels"]) == ("music", 2, 2)
    assert brought_in(client, tmp_path / "music.wav") == sound
    assert client.get("/api/v1/sounds").json() == [sound]
    assert sound["file"] not in [plate["file"] for plate in client.get("/api/v1/plates").json()]
    played = client.get(f"/api/v1/sounds/{sound['file']}/play")
    assert played.headers["content-type"] == "audio/webm"
    (tmp_path / "played.webm").write_bytes(played.content)
    with av.open(str(tmp_path / "played.webm")) as container:
        assert container.streams.audio[0].codec_context.name.endswith("opus")
    assert abs(len(heard_in(tmp_path / "played.webm")) - 96000) < 1000


def test_a_sound_is_read_deleted_and_brought_back_but_not_while_a_reel_has_it(
    client, music, clip_id
):
    sound, _ = music
    one = f"/api/v1/sounds/{sound['file']}"
    assert client.get(one).json() == sound
    assert client.delete(one).status_code == 204
    problem(client.get(one), 404)
    problem(client.delete(one), 404)
    assert client.get("/api/v1/sounds").json() == []
    problem(client.post(f"/api/v1/plates/{sound['file']}/restore"), 404)
    problem(client.post("/api/v1/sounds/never.there.wav/restore"), 404)
    assert client.post(f"{one}/restore").json() == sound
    assert client.get(one).json() == sound
    laid = {"id": "m", "name": "music", "file": sound["file"], "at": 0, "frames": 10}
    reel = add_reel(client, shot("a", clip_id, 0, 9), sounds=[laid], name="Quay")
    assert "used by Quay" in problem(client.delete(one), 409)
    assert client.delete(f"/api/v1/reels/{reel['id']}").status_code == 204
    assert client.delete(one).status_code == 204


def test_how_loud_a_sound_is_is_told_for_files_and_for_clips_at_their_speed(
    client, music, clip, clip_id, tmp_path
):
    sound, samples = music
    told = client.get(f"/api/v1/sounds/{sound['file']}/levels")
    assert "immutable" in told.headers["cache-control"]
    assert (told.json()["per_second"], len(told.json()["peaks"])) == (50, 100)
    assert min(told.json()["peaks"]) > 0.8 * 255 * np.abs(samples).max() / 32768
    of_clip = client.get(f"/api/v1/clips/{clip_id}/sound/levels").json()
    assert of_clip == {"per_second": 50, "peaks": audio_levels(clip).tolist()}
    client.put(f"/api/v1/clips/{clip_id}/reading", json={"speed": 0.5, "sound": "stretched"})
    slow = client.get(f"/api/v1/clips/{clip_id}/sound/levels").json()
    assert slow == of_clip | {"per_second": 25}


@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        ("music.txt", b"la", "files of sound end in .wav"),
        ("music.wav", b"RIFF", "not a sound file that can be read"),
        ("music.mp3", b"\0" * 5000, "not a sound file that can be read"),
        ("music.flac", b"", "the file is empty"),
    ],
)
def test_what_is_no_sound_is_refused_by_name_and_leaves_nothing(name, content, says, client):
    answer = client.post("/api/v1/sounds", params={"name": name}, content=content)
    detail = problem(answer, answer.status_code)
    assert says in detail
    assert name in detail
    assert client.get("/api/v1/sounds").json() == []
    assert list((client.app.state.project.folder / "incoming").iterdir()) == []


@pytest.mark.parametrize("rate", [1, 100, MIN_SOUND_RATE - 1, MAX_SOUND_RATE + 1, 2**32 - 1])
def test_sound_of_a_rate_that_none_is_recorded_at_is_refused(rate, client):
    """80 kB at one sample a second last for a day."""
    head = struct.pack("<4sI4s4sIHHIIHH4sI", b"RIFF", 80_036, b"WAVE", b"fmt ", 16, 1, 1, rate,
                       rate * 2 % 2**32, 2, 16, b"data", 80_000)  # fmt: skip
    sent = client.post("/api/v1/sounds?name=slow.wav", content=head + bytes(80_000))
    assert problem(sent, 422).startswith("slow.wav: ")
    assert client.get("/api/v1/sounds").json() == []


def test_one_file_of_sound_does_not_wait_for_another(client, tmp_path):
    writing = client.app.state.preview.writing
    first = writing(tmp_path / "a.webm")
    with first:
        assert writing(tmp_path / "a.webm") is first
        assert writing(tmp_path / "b.webm").acquire(blocking=False)


def test_a_picture_is_no_sound_to_play(client, tmp_path):
    write_still(np.full((3, 16, 16), 0.5, np.float32), tmp_path / "dot.png", 8)
    content = (tmp_path / "dot.png").read_bytes()
    plate = client.post("/api/v1/plates", params={"name": "dot.png"}, content=content).json()
    problem(client.get(f"/api/v1/sounds/{plate['file']}/play"), 404)


def test_a_movie_has_the_music_under_its_shots_and_those_that_are_not_heard(
    client, music, tmp_path
):
    sound, samples = music
    own = noisy(tmp_path / "ash.mov", 40, 1)
    clip = clip_added(client, tmp_path / "ash.mov")
    lies = {"id": "m", "name": "music", "file": sound["file"], "at": 4, "start": 0.4, "frames": 12}
    late = {"id": "n", "name": "ash", "clip": clip, "at": 16, "start": 0.2, "frames": 30}
    reel = add_reel(
        client,
        shot("a", clip, 5, 14),
        shot("b", clip, 20, 29, heard=False),
        sounds=[lies | {"level": -3}, late],
    )
    assert [each["level"] for each in reel["sounds"]] == [-3, 0]
    heard = heard_in(make_movie(client, reel["id"], codec="FFV1"))
    expected = np.zeros((20 * SAMPLES, 2))
    expected[: 10 * SAMPLES] = own[5 * SAMPLES : 15 * SAMPLES]
    expected[4 * SAMPLES : 16 * SAMPLES] += 10 ** (-3 / 20) * samples[10 * SAMPLES : 22 * SAMPLES]
    expected[16 * SAMPLES :] += own[5 * SAMPLES : 9 * SAMPLES]  # as far as there is picture
    limited = np.clip(np.rint(expected), -32768, 32767)
    np.testing.assert_array_equal(heard, limited)


def test_music_that_a_timeline_names_comes_later_and_goes_out_again(client, clip, tmp_path):
    clip_added(client, clip)  # "small"
    cut = timeline([cut_clip("small", 5, 8)], sound=[otio.schema.Gap(duration=time(2))])
    cut.tracks[1].append(cut_clip("music", 10, 6))
    cut.tracks[1][1].metadata["yearning"] = {"level": -12}
    reel = send_timeline(client, cut)
    (missing,) = reel["sounds"]
    assert (missing["file"], missing["clip"], missing["at"]) == (None, None, 2)
    assert "not found" in reel["missing"][missing["id"]]
    assert any("music" in note for note in reel["notes"])
    ask = {"reel": reel["id"], "result": {"codec": "FFV1"}}
    told = problem(client.post("/api/v1/movies/making", json=ask), 422)
    assert "music: its media is missing" in told
    assert client.get("/api/v1/renders").json() == []  # nothing is begun for it
    noise_file(tmp_path / "music.wav", 2, seed=7)
    file = brought_in(client, tmp_path / "music.wav")["file"]
    found = client.post(f"/api/v1/reels/{reel['id']}/media").json()
    assert found["missing"] == {}
    (there,) = found["sounds"]
    assert (there["id"], there["file"], there["start"]) == (missing["id"], file, 10 / 25)

    items = [found["items"][0], shot("b", found["items"][0]["clip"], 0, 3)]
    change = {**{name: found[name] for name in ("name", "rate", "revision", "sounds")}}
    client.put(f"/api/v1/reels/{reel['id']}", json=change | {"items": items})
    text = client.get(f"/api/v1/reels/{reel['id']}/timeline").text
    (track,) = otio.adapters.read_from_string(text, "otio_json").audio_tracks()
    quiet, laid = track
    assert (quiet.duration().value, laid.name, laid.duration().value) == (2, "music", 6)
    assert laid.trimmed_range().start_time.to_seconds() == pytest.approx(0.4)
    assert laid.media_reference.target_url.endswith(file)
    assert json.loads(text)  # and so it is read again
    again = send_timeline(client, otio.adapters.read_from_string(text, "otio_json"))
    (kept,) = again["sounds"]
    assert (kept["file"], kept["at"], kept["level"]) == (file, 2, -12)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"level": 3}, "level"),
        ({"start": -1}, "start"),
        ({"frames": 0}, "frames"),
        ({"id": "a"}, "two of its items have the id a"),
    ],
)
def test_a_sound_that_can_not_be_is_told_by_its_place(change, says, client, clip_id):
    sound = {"id": "m", "name": "music", "at": 0, "frames": 5} | change
    body = {"name": "Cut", "items": [shot("a", clip_id, 0, 3)], "sounds": [sound]}
    answer = client.post("/api/v1/reels", json=body)
    assert answer.status_code == 422
    assert says in answer.text
