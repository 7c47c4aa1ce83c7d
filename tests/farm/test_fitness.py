"""Workers of another version, or that see no files: left out by name, and the others work."""

import shutil
import subprocess
from contextlib import ExitStack
from pathlib import Path

import pytest

import yearning
from tests.conftest import a_look
from tests.farm.schedulers import dask, scheduler
from tests.rendering import digests_of, pieces_of, render
from tests.waiting import wait_for
from yearning.farm import pieces
from yearning.farm.cluster import Cluster
from yearning.farm.errors import FarmError, Halted
from yearning.farm.fitness import blindness, difference, needs_of, versions
from yearning.farm.progress import Halt
from yearning.media.decode.footage import Footage

LOOK = a_look({"id": "e", "treatment": "exposure", "settings": {"stops": 1}})
BLIND = ["unshare", "--mount", "sh", "-c", 'mount -t tmpfs none "$0" && exec "$@"']
"""A program that sees an empty folder in the place of one."""


@pytest.fixture
def footage(clip):
    with Footage(clip) as opened:
        yield opened


@pytest.fixture
def farm(tmp_path):
    """Starts a scheduler, workers and a cluster of them, and waits until all are there."""
    with ExitStack() as opened:
        address = opened.enter_context(scheduler(tmp_path))
        place = ["--nthreads", "1", "--local-directory", str(tmp_path / "dask")]

        def start(*workers):
            for n, how in enumerate(workers):
                named = ["worker", address, "--name", f"w{n}", *place]
                opened.enter_context(dask(*named, **how))
            cluster = opened.enter_context(Cluster(address=address))
            wait_for(lambda: cluster.threads() == len(workers))
            return cluster

        yield start


def other_version(folder, change):
    """A worker's environment, in which the program is a copy with one change."""
    source = Path(yearning.__file__).parent
    shutil.copytree(
        source, folder / "yearning", ignore=shutil.ignore_patterns("web", "__pycache__")
    )
    change(folder / "yearning")
    return {"PYTHONPATH": str(folder)}


def stronger(program):
    file = program / "core" / "treatments" / "exposure.py"
    file.write_text(file.read_text() + "\n# another version\n")


def older(program):
    """Of a version that has not even what it is asked."""
    (program / "farm" / "fitness.py").unlink()


@pytest.mark.parametrize(
    ("change", "says"), [(stronger, "it has Yearning"), (older, "another version of Yearning")]
)
def test_a_worker_of_another_version_makes_no_frame(change, says, footage, make_folder, farm):
    once, shared = make_folder("once"), make_folder("shared")
    render(footage, LOOK, once / "a.mp4", chunk=5)
    cluster = farm({}, other_version(make_folder("copy"), change))
    lines = []

    def on_progress(progress):
        if progress.finished:
            lines[:] = pieces.read_manifest(pieces_of(shared / "a.mp4"))

    render(footage, LOOK, shared / "a.mp4", cluster, chunk=5, on_progress=on_progress)
    assert digests_of(shared) == digests_of(once)
    assert {line.worker.partition(",")[0] for line in lines} == {"w0"}
    assert {line.version for line in lines} == {versions()["Yearning"]}
    assert min(line.peak for line in lines) > 1 << 26  # Python with its libraries takes more
    (why,) = cluster.left_out.values()
    assert says in why
    assert cluster.summary.endswith(", 1 worker")
    assert cluster.note.startswith("without tcp://")
    assert cluster.note.endswith(why)


def test_a_worker_that_does_not_see_the_clip_is_named_and_the_others_go_on(
    make_clip, make_folder, farm
):
    media = make_folder("media")
    shutil.copy(make_clip("seen.mp4", "libx264"), media)
    blind = [*BLIND, str(media)]
    if subprocess.run([*blind, "true"], capture_output=True).returncode:
        pytest.skip("only root may mount a folder over another")
    once, shared = make_folder("once"), make_folder("shared")
    with Footage(media / "seen.mp4") as opened:
        render(opened, LOOK, once / "a.mp4", chunk=5)
        cluster = farm({}, {"before": blind})
        render(opened, LOOK, shared / "a.mp4", cluster, chunk=5)
        assert digests_of(shared) == digests_of(once)
        (why,) = cluster.left_out.values()
        assert "this worker does not see that folder" in why


def test_where_none_can_do_it_all_are_named(footage, make_folder, farm):
    out = make_folder("out") / "a.mp4"
    copies = [other_version(make_folder(f"copy {n}"), stronger) for n in range(2)]
    cluster = farm(*copies)
    with pytest.raises(
        FarmError, match=r"no worker can do this: tcp://.*; tcp://.*mend that"
    ) as said:
        render(footage, LOOK, out, cluster, chunk=5)
    assert str(said.value).count(versions()["Yearning"]) == 2


def test_a_scheduler_without_workers_is_said_and_what_mends_it(footage, make_folder, tmp_path):
    with scheduler(tmp_path) as address, Cluster(address=address) as cluster:
        said = []
        with pytest.raises(Halted):
            render(
                footage, LOOK, make_folder("out") / "a.mp4", cluster,
                on_progress=lambda progress: said.append(cluster.note),
                halt=lambda: Halt.NOW if said else None,
            )  # fmt: skip
        assert said[0] == f"no worker is at {address}; start one with `dask worker {address}`"


def test_what_is_other_is_said_by_name():
    own = versions()
    assert difference(own.items(), ()) is None
    for name in ("Yearning", "numba", "numpy", "av", "opencv-python-headless"):
        other = own | {name: "0.0.1"}
        assert difference(other.items(), ()) == (
            f"it has {name} {own[name]}, where the render is of 0.0.1"
        )
    wanted = own | {"film-tools": "1.2 (abc)"}
    assert difference(wanted.items(), ("film-tools",)) == (
        "it has no package 'film-tools'; install film-tools 1.2 there"
    )


def test_a_folder_is_known_by_its_mark(tmp_path):
    needs = needs_of(LOOK, pieces.write_mark(tmp_path))
    assert needs.packages == ()
    assert blindness(tmp_path, needs.mark) is None
    assert "does not see" in blindness(tmp_path / "gone", needs.mark)
    newer = pieces.write_mark(tmp_path)
    assert "is another folder" in blindness(tmp_path, needs.mark)
    assert [path.name for path in tmp_path.iterdir()] == [newer]
