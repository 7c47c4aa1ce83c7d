"""Renders that are broken off, by whatever it is, go on and end as if nothing had been."""

import json
import os
import signal
import subprocess
import sys
import time
from functools import partial
from hashlib import sha256

import cv2
import numpy as np
import pytest

from tests.conftest import THREE_STEPS, a_look, step
from tests.farm.schedulers import dask, scheduler
from tests.rendering import digests_of, kill_all, pieces_of, render
from tests.waiting import wait_for
from yearning.core.image.filters import area_resized
from yearning.farm import pieces
from yearning.farm.cluster import Cluster, check_address
from yearning.farm.errors import DiskFull, FarmError, Halted
from yearning.farm.job import CHUNK, Job, preview_frames
from yearning.farm.run import Halt, run
from yearning.media.decode.footage import Footage
from yearning.media.encode.results import Output
from yearning.media.errors import MediaError

LOOK = a_look(step("glow", {"threshold": {"percentile": 90}}), *THREE_STEPS[1:])
RESULTS = [
    ("a.mp4", Output()),
    ("a.webm", Output("draft")),
    ("a.webm", Output("draft", "VP9")),
    ("a.mkv", Output()),
    ("%03d.png", Output()),
]
IDS = ["H.264", "AV1", "VP9", "FFV1", "PNG"]


@pytest.fixture
def footage(clip):
    with Footage(clip) as opened:
        yield opened


@pytest.fixture(scope="module")
def two_processes():
    with Cluster(2) as cluster:
        yield cluster


def halting_after(chunks):
    """What halts a run soon once so many chunks are finished."""
    seen = []

    def on_progress(progress):
        seen.append(len(progress.finished))

    return {
        "on_progress": on_progress,
        "halt": lambda: Halt.SOON if seen and seen[-1] >= chunks else None,
    }


@pytest.mark.parametrize(("name", "output"), RESULTS, ids=IDS)
def test_chunks_from_two_processes_and_a_halted_run_give_the_same_file(
    name, output, footage, make_folder, two_processes
):
    how = {"output": output, "chunk": 9}
    once, halted = make_folder("once"), make_folder("halted")
    render(footage, LOOK, once / name, **how)
    with pytest.raises(Halted):
        render(footage, LOOK, halted / name, two_processes, **how, **halting_after(2))
    assert digests_of(halted) == {}
    done = render(footage, LOOK, halted / name, two_processes, **how)
    assert 40 - 4 * 9 <= done.made <= 40 - 2 * 9  # what was in hand was finished too
    assert digests_of(halted) == digests_of(once)
    assert len(digests_of(once)) == (40 if name.endswith("png") else 1)


def test_a_halt_at_once_gives_up_what_is_in_hand(footage, make_folder):
    out = make_folder("a") / "a.mp4"
    began = []
    with pytest.raises(Halted):
        render(
            footage, LOOK, out, on_progress=began.append,
            halt=lambda: Halt.NOW if began and began[-1].done else None,
        )  # fmt: skip
    assert list(pieces.read_manifest(pieces_of(out))) == []
    assert not out.exists()
    render(footage, LOOK, out)
    assert out.exists()


def test_a_piece_that_was_damaged_is_made_again(footage, make_folder):
    once, mended = make_folder("once"), make_folder("mended")
    render(footage, LOOK, once / "a.mp4", chunk=10)
    with pytest.raises(Halted):
        render(footage, LOOK, mended / "a.mp4", chunk=10, **halting_after(2))
    piece = pieces_of(mended / "a.mp4") / "00001.nut"
    piece.write_bytes(piece.read_bytes()[:-7] + b"garbage")
    with (pieces_of(mended / "a.mp4") / "manifest.jsonl").open("a") as torn:
        torn.write('{"chunk": 2, "fi')  # as a power cut leaves it
    assert render(footage, LOOK, mended / "a.mp4", chunk=10).made == 30
    assert digests_of(mended) == digests_of(once)


def test_another_look_begins_anew(footage, make_folder):
    out = make_folder("a") / "a.mp4"
    with pytest.raises(Halted):
        render(footage, LOOK, out, chunk=10, **halting_after(2))
    assert render(footage, a_look(THREE_STEPS[1]), out, chunk=10).made == 40


def test_a_source_that_changed_since_is_refused(make_clip, footage, tmp_path):
    source = tmp_path / "source.mp4"
    source.write_bytes(footage.path.read_bytes())
    with Footage(source) as opened:
        job = Job.of(opened, LOOK, tmp_path / "a.mp4")
    os.utime(source, (1, 1))
    with Cluster(1, processes=False) as cluster:
        with pytest.raises(MediaError, match=r"source\.mp4: has changed"):
            run(job, tmp_path / "pieces", cluster)
        source.unlink()
        with pytest.raises(MediaError, match="moved, or this worker"):
            run(job, tmp_path / "pieces", cluster)
    assert not (tmp_path / "a.mp4").exists()


def test_progress_counts_frames_and_names_the_chunks(footage, make_folder):
    heard = []
    done = render(footage, LOOK, make_folder("a") / "a.mp4", chunk=10, on_progress=heard.append)
    assert (done.done, done.total, done.made, done.chunks) == (40, 40, 40, 4)
    assert done.finished == {0, 1, 2, 3}
    told = done._replace(seconds=4.0)  # of less than half a second no rate is told
    assert (told.rate, told.seconds_left) == (10, 0)
    assert 0 in [chunk for progress in heard for chunk, _ in progress.in_hand]
    assert [p.done for p in heard] == sorted(p.done for p in heard)


def test_a_render_leaves_small_pictures_of_its_frames(footage, tmp_path):
    job = Job.of(footage, a_look(), tmp_path / "a.mp4", first=4, last=28, chunk=10)
    with Cluster(1, processes=False) as cluster:
        run(job, tmp_path / "pieces", cluster)
    frames = pieces.pictures(tmp_path / "pieces")
    assert frames == preview_frames(4, 25)
    assert len(list((tmp_path / "pieces").iterdir())) == len(frames) == 20
    for n in frames:
        seen = cv2.imread(str(pieces.picture_path(tmp_path / "pieces", n)))[..., ::-1]
        size = footage.size.with_height(54)
        meant = area_resized(footage.picture(n), size).transpose(1, 2, 0)
        assert np.abs(seen / 255 - meant.clip(0, 1)).mean() < 0.02


# Kills


def test_a_killed_worker_is_replaced_and_the_file_is_the_same(footage, make_folder):
    once, killed = make_folder("once"), make_folder("killed")
    render(footage, LOOK, once / "a.mp4", chunk=10)
    with Cluster(1) as cluster:
        [pid] = cluster.on_each(os.getpid)

        def kill_once(progress):
            if progress.finished and os.path.exists(f"/proc/{pid}"):
                os.kill(pid, signal.SIGKILL)

        render(footage, LOOK, killed / "a.mp4", cluster, chunk=10, on_progress=kill_once)
        assert cluster.on_each(os.getpid) != [pid]
    assert digests_of(killed) == digests_of(once)


def start_command(source, look, out, *words):
    """`yearning render` as a process."""
    main = [sys.executable, "-m", "yearning.cli", "render", source, "--look", look, "-o", out]
    return subprocess.Popen([*map(str, main), *words], stderr=subprocess.PIPE, text=True)


def test_workers_here_give_way_to_what_the_user_does(two_processes):
    assert two_processes.on_each(partial(os.nice, 0)) == [10, 10]


def finished_of(out):
    """How many chunks of a result are finished."""
    return len(list(pieces.read_manifest(pieces_of(out))))


def commanded_until_finished(count, source, look, out):
    """A command that is rendering and has finished so many chunks."""
    process = start_command(source, look, out)
    wait_for(lambda: finished_of(out) >= count or process.poll() is not None)
    assert process.poll() is None, process.stderr.read()
    return process


def children_of(process):
    children = ["ps", "-o", "pid=", "--ppid", str(process.pid)]
    return subprocess.run(children, capture_output=True, text=True).stdout.split()


def test_a_killed_command_goes_on_whether_its_workers_were_killed_or_ended_with_it(
    make_clip, make_folder
):
    chunks = 6
    source = make_clip("long.mp4", "libx264", frames=chunks * CHUNK, tone=True)
    once, killed = make_folder("once"), make_folder("killed")
    look, out = once.with_name("look.json"), killed / "a.mp4"
    look.write_text(LOOK.model_dump_json())
    process = commanded_until_finished(1, source, look, out)
    started = children_of(process)
    assert started
    process.kill()
    process.wait()
    wait_for(lambda: not any(os.path.exists(f"/proc/{pid}") for pid in started))
    before = finished_of(out)
    kill_all(commanded_until_finished(before + 1, source, look, out))
    assert not out.exists()
    assert 1 <= before < finished_of(out) < chunks
    again = start_command(source, look, out)
    assert again.wait(timeout=120) == 0, again.stderr.read()
    assert len(list(killed.iterdir())) == 1  # the pieces are gone
    with Footage(source) as opened:
        render(opened, LOOK, once / "a.mp4")
    assert digests_of(killed) == digests_of(once)


def test_what_a_command_left_that_was_killed_while_joining_is_cleared_away(footage, make_folder):
    out = make_folder("a") / "a.mp4"
    for left in (".a.mp4.7082-139978565312064.part", ".b.mp4.7082-139978565312064.part"):
        (out.parent / left).touch()
    render(footage, LOOK, out)
    assert sorted(digests_of(out.parent)) == [".b.mp4.7082-139978565312064.part", "a.mp4"]


# A cluster that is there already


def test_workers_started_by_hand_share_one_clip(footage, make_folder, tmp_path):
    once, shared = make_folder("once"), make_folder("shared")
    render(footage, LOOK, once / "a.mp4", chunk=5)
    place = ["--nthreads", "1", "--local-directory", str(tmp_path)]
    with (
        scheduler(tmp_path) as address,
        dask("worker", address, "--name", "one", *place),
        dask("worker", address, "--name", "two", *place),
        Cluster(address=address) as cluster,
    ):
        wait_for(lambda: cluster.threads() >= 2)
        in_hand = []
        render(
            footage, LOOK, shared / "a.mp4", cluster, chunk=5,
            on_progress=lambda progress: in_hand.append(len(progress.in_hand)),
        )  # fmt: skip
        assert max(in_hand) == 2
        assert cluster.summary == f"at {address}, 2 workers"
    assert digests_of(shared) == digests_of(once)


@pytest.mark.parametrize("address", ["10.0.0.5:8786", "http://a:1", "tcp://", "tcp://a", ""])
def test_what_is_no_address_is_refused(address):
    with pytest.raises(FarmError, match="tcp://"):
        check_address(address)


def test_a_scheduler_that_is_not_there_is_said(monkeypatch):
    monkeypatch.setattr("yearning.farm.cluster.CONNECT_SECONDS", 1)
    with pytest.raises(FarmError, match="no scheduler answers there"):
        Cluster(address="tcp://127.0.0.1:9")


def test_a_scheduler_with_certificates_wants_some(monkeypatch):
    monkeypatch.setattr("yearning.farm.cluster.CONNECT_SECONDS", 1)
    with pytest.raises(FarmError, match="no certificates are named for TLS"):
        Cluster(address="tls://127.0.0.1:9")


# Full disks


@pytest.fixture
def small_disk(tmp_path):
    """A disk of its own, of 12 MB."""
    if os.geteuid() != 0:
        pytest.skip("a small disk can be mounted by root alone")
    place = tmp_path / "small"
    place.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=12m", "tmpfs", place], check=True)
    yield place
    subprocess.run(["umount", place], check=True)


@pytest.mark.parametrize(
    ("name", "part"),
    [(name, part) for name in ("a.mp4", "a.mkv", "%03d.png") for part in (0, 0.1, 0.5)]
    + [("a.mp4", 1.4), ("a.mkv", 1.4)],  # room for the pieces, and none to join them
)
def test_a_full_disk_pauses_and_what_is_finished_stays(
    name, part, footage, small_disk, make_folder, two_processes
):
    once = make_folder("once")
    render(footage, LOOK, once / name, chunk=4)
    size = sum(path.stat().st_size for path in once.iterdir())
    assert size < 5_000_000  # so that it fits, with its pieces, when there is room
    ballast = small_disk / "ballast"
    free = os.statvfs(small_disk).f_bavail * os.statvfs(small_disk).f_frsize
    ballast.write_bytes(bytes(free - 4096 - int(part * size)))
    out = small_disk / name
    with pytest.raises(DiskFull, match="is full") as paused:
        render(footage, LOOK, out, two_processes, chunk=4)
    assert not paused.value.has_room()
    assert [p.name for p in small_disk.iterdir() if p.is_file()] == ["ballast"]
    assert not list(pieces_of(out).glob("*.part")) + list(pieces_of(out).glob(".*.part"))
    ballast.unlink()
    assert paused.value.has_room()
    done = render(footage, LOOK, out, two_processes, chunk=4)
    assert done.total == 40
    assert digests_of(small_disk) == digests_of(once)


def test_the_manifest_names_what_is_whole(footage, make_folder):
    out = make_folder("a") / "a.mp4"
    with pytest.raises(Halted):
        render(footage, LOOK, out, chunk=10, **halting_after(3))
    lines = [json.loads(t) for t in (pieces_of(out) / "manifest.jsonl").read_text().splitlines()]
    assert [line["chunk"] for line in lines] == [0, 1, 2]
    for line in lines:
        piece = (pieces_of(out) / line["file"]).read_bytes()
        assert (sha256(piece).hexdigest(), len(piece)) == (line["digest"], line["bytes"])


def test_a_manifest_cleared_away_between_two_looks_at_it_is_empty(tmp_path, monkeypatch):
    """A render that ends while its state is asked for: the file was there, and is not any more."""
    monkeypatch.setattr("pathlib.Path.exists", lambda self: True)
    assert list(pieces.read_manifest(tmp_path)) == []


def test_a_render_without_workers_waits_and_can_be_halted(footage, make_folder, tmp_path):
    out = make_folder("a") / "a.mp4"
    with scheduler(tmp_path) as address, Cluster(address=address) as cluster:
        begun = time.monotonic()
        halt = lambda: Halt.NOW if time.monotonic() > begun + 1 else None  # noqa: E731
        with pytest.raises(Halted):
            render(footage, LOOK, out, cluster, halt=halt)
        assert 1 <= time.monotonic() - begun < 10
