"""Timelines that OpenTimelineIO wrote, read as reels: ranges, media, and what is told."""

import wave
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import opentimelineio as otio
import pytest

from tests.conftest import encode
from tests.hostile.timelines import crafted_timelines, mutated_timeline
from tests.media.timeline.making import cut_clip, save_timeline, span, time, timeline
from yearning.core.look.reel import Gap, Reel, Shot
from yearning.media.errors import MediaError
from yearning.media.timeline.media_search import MediaSearch
from yearning.media.timeline.rates import exact_rate
from yearning.media.timeline.reading import read_timeline
from yearning.media.timeline.writing import Original, write_timeline


@pytest.fixture(scope="module")
def media(tmp_path_factory):
    """A folder with footage of 40 frames at 25 a second, one of which has a timecode."""
    folder = tmp_path_factory.mktemp("media")
    (folder / "day 1").mkdir()
    encode(folder / "day 1" / "A001.mp4", "libx264")
    with av.open(str(folder / "B002.mov"), "w") as out:
        out.metadata["timecode"] = "01:00:00:00"
        video = out.add_stream("mpeg4", rate=25)
        video.width, video.height, video.pix_fmt = 64, 48, "yuv420p"
        for _ in range(50):
            frame = av.VideoFrame.from_ndarray(np.zeros((72, 64), np.uint8), "yuv420p")
            out.mux(video.encode(frame))
        out.mux(video.encode(None))
    return folder


def read(made, tmp_path, media, **more):
    return read_timeline(
        save_timeline(made, tmp_path / "cut.otio"), MediaSearch(tmp_path, [media]), **more
    )


def parts(found):
    return [
        (shot.first, shot.last) if isinstance(shot, Shot) else shot.gap for shot in found.reel.items
    ]


def test_shots_gaps_and_ranges_are_those_of_the_timeline(media, tmp_path):
    a001 = media / "day 1" / "A001.mp4"
    made = timeline(
        [
            cut_clip("one", 5, 10, a001),
            otio.schema.Gap(duration=time(7)),
            cut_clip("two", 86400 + 12, 3, a001.as_uri(), available=span(86400, 40)),
        ]
    )
    found = read(made, tmp_path, media)
    assert parts(found) == [(5, 14), 7, (12, 14)]
    assert found.reel.rate == (25, 1)
    assert [shot.name for shot in found.reel.shots] == ["one", "two"]
    assert {shot.media for shot in found.reel.shots} == {str(a001)}
    assert found.notes == found.missing == []


@pytest.mark.parametrize("name", ["A001.mp4", "a001", "C:\\cards\\A001.MP4", "/gone/A001.mp4"])
def test_media_are_found_by_name_under_folders(name, media, tmp_path):
    found = read(timeline([cut_clip(name, 2, 4)]), tmp_path, media)
    assert parts(found) == [(2, 5)]
    gone = read_timeline(save_timeline(timeline([cut_clip(name, 2, 4)]), tmp_path / "cut.otio"))
    assert parts(gone) == [4]
    assert "no media found" in gone.missing[0].why
    assert gone.missing[0].why.startswith(f"V1, item 1 '{name}': ")


def test_of_files_of_a_name_that_is_taken_which_has_the_frames(media, tmp_path):
    (tmp_path / "x").mkdir()
    encode(tmp_path / "x" / "A001.mp4", "libx264", frames=8)
    made = save_timeline(timeline([cut_clip("A001", 20, 5)]), tmp_path / "cut.otio")
    found = read_timeline(made, MediaSearch(made.parent, [tmp_path / "x", media]))
    assert found.reel.shots[0].media == str(media / "day 1" / "A001.mp4")
    assert "2 files have its name" in found.notes[0]


def test_ranges_count_from_the_media_s_timecode(media, tmp_path):
    found = read(timeline([cut_clip("B002", 90000 + 10, 5)]), tmp_path, media)
    assert parts(found) == [(10, 14)]
    found = read(timeline([cut_clip("B002", 10, 5)]), tmp_path, media)
    assert parts(found) == [(10, 14)]


def test_what_lies_on_top_is_seen_and_what_is_off_is_not(media, tmp_path):
    below = [cut_clip("A001", 0, 30)]
    above = [otio.schema.Gap(duration=time(10)), cut_clip("B002", 0, 5)]
    off = cut_clip("A001", 0, 5)
    off.enabled = False
    found = read(timeline(below, above), tmp_path, media)
    assert parts(found) == [(0, 9), (0, 4), (15, 29)]
    assert "2 tracks of picture" in found.notes[0]
    found = read(timeline([off, cut_clip("A001", 7, 2)]), tmp_path, media)
    assert parts(found) == [5, (7, 8)]
    assert "switched off" in found.notes[0]


def test_transitions_are_cuts_and_nested_timelines_are_taken_apart(media, tmp_path):
    inner = otio.schema.Track(kind=otio.schema.TrackKind.Video)
    inner.extend([cut_clip("A001", 0, 10), cut_clip("A001", 20, 10)])
    nested = otio.schema.Stack("scene", [inner], source_range=span(5, 10))
    deep = otio.schema.Stack("deep", [otio.schema.Track("t", [nested.deepcopy()])])
    dissolve = otio.schema.Transition(in_offset=time(2), out_offset=time(2))
    made = timeline([cut_clip("A001", 3, 6), dissolve, cut_clip("A001", 30, 4), nested, deep])
    found = read(made, tmp_path, media)
    assert parts(found) == [(3, 8), (30, 33), (5, 9), (20, 24), (5, 9), (20, 24)]
    assert any("transitions are taken as cuts" in note for note in found.notes)
    assert any("'scene': what is nested is taken apart" in note for note in found.notes)


def test_speed_is_kept_and_what_else_is_done_to_time_is_told(media, tmp_path):
    freeze = cut_clip("A001", 4, 6)
    freeze.effects.append(otio.schema.FreezeFrame())
    back = cut_clip("A001", 4, 6, speed=-1.0)
    blurred = cut_clip("A001", 4, 6)
    blurred.effects.append(otio.schema.Effect(effect_name="Blur"))
    made = timeline([cut_clip("A001", 4, 6, speed=2.0), freeze, back, blurred])
    found = read(made, tmp_path, media)
    assert parts(found) == [(4, 15), (4, 9), (4, 9), (4, 9)]
    assert [shot.speed for shot in found.reel.shots] == [2.0, 1.0, 1.0, 1.0]
    told = " ".join(found.notes)
    assert "FreezeFrame is left out" in told
    assert "runs -1 times as fast" in told
    assert "Blur is left out" in told


def test_what_can_t_be_is_told_by_its_place_and_the_rest_is_there(media, tmp_path):
    bars = otio.schema.Clip("bars", otio.schema.GeneratorReference(), span(0, 5))
    made = timeline(
        [
            cut_clip("A001", 1000, 5),
            cut_clip("A001", 35, 10),
            bars,
            cut_clip("A001", 24, 12, rate=24),
            cut_clip("A001", 1, 2),
        ]
    )
    found = read(made, tmp_path, media)
    assert parts(found) == [5, (35, 39), 5, (25, 36), (1, 2)]
    assert "begins at frame 1000 of A001.mp4, which has 0 to 39" in found.missing[0].why
    assert "made by the editor" in found.missing[1].why
    assert any("it is cut there" in note for note in found.notes)


def test_footage_of_another_rate_keeps_its_own_and_that_is_told(media, tmp_path):
    made = timeline([cut_clip("A001", 12, 24, rate=24)])
    found = read(made, tmp_path, media)
    assert "has 25 frames a second and the timeline 24" in found.notes[0]
    assert parts(found) == [(12, 36)]


@pytest.mark.parametrize(
    ("given", "exact"),
    [
        (23.976, "24000/1001"), (23.98, "24000/1001"), (24, "24"), (25.0, "25"),
        (29.97, "30000/1001"), (30, "30"), (48, "48"), (59.94, "60000/1001"), (12.5, "25/2"),
    ],
)  # fmt: skip
def test_rates_are_exact(given, exact):
    assert exact_rate(given) == Fraction(exact)


EDL = """TITLE: CUT
FCM: NON-DROP FRAME

001  A001     V     C        00:00:00:10 00:00:01:00 00:00:00:00 00:00:00:15
* FROM CLIP NAME: A001.mp4
002  B002     V     C        01:00:00:05 01:00:01:00 00:00:00:15 00:00:01:10
"""


def test_an_edit_list_is_read_at_the_rate_that_is_said(media, tmp_path):
    path = tmp_path / "cut.edl"
    path.write_text(EDL)
    found = read_timeline(path, MediaSearch(path.parent, [media]), Fraction(25))
    assert parts(found) == [(10, 24), (5, 24)]


def test_a_broken_line_of_an_edit_list_is_told_and_the_rest_read(media, tmp_path):
    path = tmp_path / "cut.edl"
    path.write_text(EDL + "003  A001  V  C  00:00:99 00:00:01:00 00:00:01:10 00:00:02:10\n")
    found = read_timeline(path, MediaSearch(path.parent, [media]), Fraction(25))
    assert parts(found) == [(10, 24), (5, 24)]
    assert found.notes[0].startswith("cut.edl, line 7: ")


@pytest.mark.parametrize(
    ("name", "text", "why"),
    [
        ("a.otio", "{", "not a timeline"),
        ("a.otio", '{"OTIO_SCHEMA": "Timeline.99"}', "not a timeline"),
        ("a.otio", '{"OTIO_SCHEMA": "Clip.1"}', "holds no timeline"),
        ("a.edl", "hello", "none of its events|no clips"),
        ("a.xml", "<a/>", "end in .otio or .edl"),
        ("gone.otio", None, "can't be read"),
    ],
)
def test_what_is_no_timeline_is_told(name, text, why, tmp_path):
    path = tmp_path / name
    if text is not None:
        path.write_text(text)
    with pytest.raises(MediaError, match=why):
        read_timeline(path)


@pytest.mark.parametrize("name", list(crafted_timelines()))
def test_a_timeline_that_means_no_good_is_refused_in_words(name, tmp_path):
    path = tmp_path / "a.otio"
    path.write_text(crafted_timelines()[name])
    if name == "own metadata":  # is the business of whoever wrote it
        assert len(read_timeline(path).reel.items) > 1
        return
    with pytest.raises(MediaError, match=r"^a\.otio: .{10,300}$"):
        read_timeline(path)


@pytest.mark.parametrize("seed", range(150))
def test_a_timeline_gone_wrong_is_read_and_written_or_refused(seed, tmp_path):
    path = tmp_path / "a.otio"
    path.write_text(mutated_timeline(seed))
    try:
        found = read_timeline(path)
    except MediaError:
        return
    nothing = [None] * len(found.row)
    write_timeline(tmp_path / "b.otio", found.reel, nothing, row=found.row, timeline=found.timeline)
    assert len(read_timeline(tmp_path / "b.otio").row) == len(found.row)


def test_a_timeline_of_many_shots_is_read(media, tmp_path):
    a001 = media / "day 1" / "A001.mp4"
    made = timeline([cut_clip(f"s{n}", n % 30, 5, a001) for n in range(2000)])
    assert len(read(made, tmp_path, media).reel.shots) == 2000


def test_items_without_media_stand_as_gaps_of_their_length(media, tmp_path):
    found = read(timeline([cut_clip("nowhere", 3, 9), cut_clip("A001", 0, 2)]), tmp_path, media)
    assert found.reel.items[0] == Gap(gap=9)


def test_an_item_that_says_not_how_long_it_is_is_told_and_left_out(media, tmp_path):
    made = timeline([otio.schema.Clip("torn"), cut_clip("A001", 0, 5)], [otio.schema.Clip("too")])
    made.tracks.append(otio.schema.Track("A1", kind="Audio", children=[otio.schema.Clip("hum")]))
    found = read(made, tmp_path, media)
    assert parts(found) == [(0, 4)]
    assert [note.partition(":")[0] for note in found.notes] == [
        "V1, item 1 'torn'",
        "V2, item 1 'too'",
        "2 tracks of picture",
        "A1, item 1 'hum'",
    ]


# Sound


def tone_file(path, seconds):
    with wave.open(str(path), "wb") as out:
        out.setnchannels(1), out.setsampwidth(2), out.setframerate(8000)
        out.writeframes(bytes(round(seconds * 8000) * 2))
    return path


@pytest.fixture
def footage_with_sound(tmp_path):
    """Footage with sound, and music of four seconds."""
    encode(tmp_path / "talk.mp4", "libx264", tone=True)
    encode(tmp_path / "other.mp4", "libx264", tone=True)
    tone_file(tmp_path / "music.wav", 4)
    return tmp_path


def test_a_shot_s_own_sound_is_told_from_what_is_laid_under(footage_with_sound):
    shots = [cut_clip("talk", 5, 10), cut_clip("other", 0, 8), cut_clip("talk", 20, 6)]
    made = timeline(shots, sound=[cut_clip("talk", 5, 10), cut_clip("talk", 15, 8)])
    music = otio.schema.Track("A2", kind="Audio")
    music.append(otio.schema.Gap(duration=time(12)))
    music.append(cut_clip("music", 25, 75))
    music[1].metadata["yearning"] = {"level": -9}
    made.tracks.append(music)
    found = read(made, footage_with_sound, footage_with_sound)
    assert [shot.heard for shot in found.reel.shots] == [True, False, False]
    on, under = found.reel.sounds  # the first shot's sound goes on over the second's picture
    assert (Path(on.media).name, on.at, on.frames, on.start) == ("talk.mp4", 10, 8, 15 / 25)
    assert (Path(under.media).name, under.at, under.frames) == ("music.wav", 12, 75)
    assert (under.start, under.level) == (1.0, -9)
    assert found.notes == []


def test_channels_of_one_sound_on_tracks_of_their_own_are_heard_once(footage_with_sound):
    made = timeline([cut_clip("talk", 5, 10)], sound=[cut_clip("talk", 5, 10)])
    for name in ("A2", "A3"):
        track = otio.schema.Track(name, kind="Audio")
        track.append(cut_clip("talk", 5, 10))
        track.append(cut_clip("music", 25, 10))
        made.tracks.append(track)
    found = read(made, footage_with_sound, footage_with_sound)
    assert found.reel.shots[0].heard
    assert [(each.at, each.frames) for each in found.reel.sounds] == [(10, 10)]


def test_an_edit_list_s_sound_lies_where_it_is_recorded(footage_with_sound):
    (footage_with_sound / "cut.edl").write_text(
        """TITLE: Cut

001  AX       V     C        00:00:00:05 00:00:01:00 01:00:00:00 01:00:00:20
* FROM CLIP NAME: talk
002  AX       AA/V  C        00:00:00:10 00:00:01:00 01:00:00:20 01:00:01:10
* FROM CLIP NAME: other
003  AX       A     C        00:00:01:00 00:00:02:00 01:00:01:10 01:00:02:10
* FROM CLIP NAME: music
"""
    )
    found = read_timeline(
        footage_with_sound / "cut.edl",
        MediaSearch(footage_with_sound, [footage_with_sound]),
        Fraction(25),
    )
    assert [shot.heard for shot in found.reel.shots] == [False, True]
    (music,) = found.reel.sounds
    assert (Path(music.media).name, music.at, music.frames, music.start) == (
        "music.wav", 35, 25, 1.0,
    )  # fmt: skip


def test_a_timeline_without_tracks_of_sound_is_heard_as_its_shots(footage_with_sound):
    found = read(timeline([cut_clip("talk", 5, 10)]), footage_with_sound, footage_with_sound)
    assert found.reel.shots[0].heard
    assert found.reel.sounds == ()


def test_a_shot_that_runs_faster_is_heard_where_its_sound_does(footage_with_sound):
    made = timeline([cut_clip("talk", 0, 10, speed=2)], sound=[cut_clip("talk", 0, 10, speed=2)])
    found = read(made, footage_with_sound, footage_with_sound)
    assert found.reel.shots[0].heard
    assert found.reel.sounds == ()


def switch_off(clip):
    clip.enabled = False
    return clip


@pytest.mark.parametrize(
    ("item", "says"),
    [
        (lambda: cut_clip("gone", 0, 5), "no media found (gone); say the folder it is in"),
        (lambda: cut_clip("music", 500, 5), "begins at 20.00 s of music.wav, which has 4.00 s"),
        (lambda: switch_off(cut_clip("music", 0, 5)), "is switched off"),
        (lambda: otio.schema.Stack("three", children=[]), "what is nested in sound is left out"),
        (lambda: otio.schema.Transition(in_offset=time(2), out_offset=time(2)), "taken as a cut"),
    ],
)
def test_what_of_sound_is_not_taken_is_told_and_the_rest_heard(item, says, footage_with_sound):
    sound = [cut_clip("music", 0, 10), item(), cut_clip("music", 30, 10)]
    found = read(
        timeline([cut_clip("talk", 0, 30)], sound=sound), footage_with_sound, footage_with_sound
    )
    assert any(says in note and "A1, item 2" in note for note in found.notes), found.notes
    assert [(each.start, each.frames) for each in found.reel.sounds] == [(0, 10), (30 / 25, 10)]
    assert not found.reel.shots[0].heard


def test_a_track_of_sound_that_is_off_is_told(footage_with_sound):
    made = timeline([cut_clip("talk", 0, 30)], sound=[cut_clip("music", 0, 10)])
    made.tracks[1].enabled = False
    found = read(made, footage_with_sound, footage_with_sound)
    assert found.notes == ["A1: is switched off; it is not heard"]
    assert found.reel.sounds == ()


@pytest.mark.parametrize("ending", [".otio", ".edl"])
def test_a_shot_without_a_result_goes_out_with_its_clip_and_timecode(ending, media, tmp_path):
    clip, begins, rate = media / "B002.mov", 25 * 3600, Fraction(25)
    shots = (
        Shot(name="whole", media=str(clip), first=5, last=14),
        Shot(name="fast", media=str(clip), first=20, last=39, speed=2),
    )
    reel = Reel(name="Cut", rate=(25, 1), items=shots)
    out = tmp_path / f"cut{ending}"
    write_timeline(out, reel, [Original(clip, 50, rate, begins)] * 2)
    if ending == ".edl":
        assert " 01:00:00:05 01:00:00:15 00:00:00:00 00:00:00:10" in out.read_text()
        return
    read = otio.adapters.read_from_string(out.read_text(), "otio_json")
    whole, fast = read.video_tracks()[0]
    assert whole.media_reference.target_url == clip.resolve().as_uri()
    assert whole.media_reference.available_range == span(begins, 50)
    assert (whole.source_range, fast.source_range) == (span(begins + 5, 10), span(begins + 20, 10))
    again = read_timeline(out, MediaSearch(tmp_path, [media])).reel
    assert [(shot.first, shot.last, shot.speed) for shot in again.items] == [
        (shot.first, shot.last, shot.speed) for shot in shots
    ]
