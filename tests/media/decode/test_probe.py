"""What files are, and one line for each that can't be used."""

import json

import pytest

from tests.conftest import encode
from yearning.media.decode.probe import probe_file
from yearning.media.errors import MediaError


def test_a_clip_says_what_it_is(clip):
    found = probe_file(clip).as_json()
    json.dumps(found)
    assert (found["width"], found["height"], found["frames"]) == (192, 112, 40)
    assert found["rate"] == 25
    assert found["duration"] == pytest.approx(1.6)
    assert (found["pixel_format"], found["matrix"], found["range"]) == (
        "yuv420p", "bt709", "limited",
    )  # fmt: skip
    assert found["rotation"] == 0
    assert found["audio"] == [{"codec": "aac", "rate": 48000, "channels": 1, "language": "und"}]


@pytest.mark.parametrize(
    ("tag", "matrix"), [(1, "bt709"), (6, "bt601"), (5, "bt601"), (9, "bt2020")]
)
def test_the_streams_matrix_is_taken(tag, matrix, make_clip):
    probe = probe_file(make_clip(f"tag{tag}.mp4", "libx264", tag=tag, frames=3))
    assert (probe.matrix, probe.tagged) == (matrix, True)


def test_an_untagged_small_clip_is_taken_as_bt601(make_clip):
    probe = probe_file(make_clip("untagged.mp4", "libx264", frames=3))
    assert (probe.matrix, probe.tagged) == ("bt601", False)


def _no_video(folder, clip):
    (folder / "notes.mp4").write_text("just some words\n" * 99)
    return folder / "notes.mp4", "not a video file"


def _empty(folder, clip):
    (folder / "empty.mp4").touch()
    return folder / "empty.mp4", "0 bytes"


def _cut_before_its_index(folder, clip):
    (folder / "cut.mp4").write_bytes(clip.read_bytes()[: clip.stat().st_size // 2])
    return folder / "cut.mp4", "cut off"


def _cut_after_its_index(folder, clip):
    whole = encode(folder / "fast.mp4", "libx264", options={"movflags": "+faststart"})
    import av

    with (
        av.open(str(whole)) as source,
        av.open(str(folder / "front.mp4"), "w", options={"movflags": "+faststart"}) as out,
    ):
        stream = out.add_stream_from_template(source.streams.video[0])
        for packet in source.demux(video=0):
            if packet.size:
                packet.stream = stream
                out.mux(packet)
    data = (folder / "front.mp4").read_bytes()
    assert data.index(b"moov") < data.index(b"mdat")
    (folder / "short.mp4").write_bytes(data[: int(len(data) * 0.6)])
    return folder / "short.mp4", "cut off"


def _sound_alone(folder, clip):
    import av

    path = folder / "sound.m4a"
    with av.open(str(clip)) as source, av.open(str(path), "w", format="mp4") as out:
        stream = out.add_stream_from_template(source.streams.audio[0])
        for packet in source.demux(audio=0):
            if packet.size:
                packet.stream = stream
                out.mux(packet)
    return path, "sound but no picture"


def _missing(folder, clip):
    return folder / "nowhere.mp4", "no such file"


def _folder(folder, clip):
    return folder, "a folder"


def _play_list(folder, clip):
    (folder / "list.ffconcat").write_text(f"ffconcat version 1.0\nfile '{clip}'\n")
    return folder / "list.ffconcat", "not a video file"


BAD = [
    _no_video, _empty, _cut_before_its_index, _cut_after_its_index, _sound_alone, _missing,
    _folder, _play_list,
]  # fmt: skip


@pytest.mark.parametrize("bad", BAD)
def test_what_can_not_be_used_is_refused_in_one_line(bad, tmp_path, clip):
    path, says = bad(tmp_path, clip)
    with pytest.raises(MediaError, match=says) as refusal:
        probe_file(path)
    assert "\n" not in str(refusal.value)
    assert path.name in str(refusal.value)
