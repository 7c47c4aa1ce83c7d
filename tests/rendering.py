"""Renders in tests: on one worker in the test's own process, unless another cluster is given."""

import atexit
import os
import shutil
import signal
import subprocess
from functools import cache
from hashlib import sha256
from pathlib import Path
from typing import Any

from yearning.core.look.document import Look
from yearning.farm.cluster import Cluster
from yearning.farm.job import Job
from yearning.farm.run import Progress, run
from yearning.media.decode.clip import OpenClip


@cache
def here() -> Cluster:
    """The worker in this process, kept for all tests."""
    cluster = Cluster(1, processes=False)
    atexit.register(cluster.close)
    return cluster


def pieces_of(out: Path) -> Path:
    """Where a result's pieces are while it is made."""
    return out.with_name(f".{out.name}.pieces")


def render(
    footage: OpenClip, look: Look, out: Path, cluster: Cluster | None = None, **how: Any
) -> Progress:
    """Render `footage` through `look` into `out`; `on_progress` and `halt` go to the run, the
    rest to the job."""
    watched = {name: how.pop(name) for name in ("on_progress", "halt") if name in how}
    job = Job.of(footage, look, out, **how)
    done = run(job, pieces_of(out), cluster or here(), **watched)
    shutil.rmtree(pieces_of(out))
    return done


def kill_all(process: subprocess.Popen[Any]) -> None:
    """Kill -9 a process and all it started."""
    tree = subprocess.run(["ps", "-eo", "pid,ppid"], capture_output=True, text=True, check=True)
    parents = [tuple(map(int, line.split())) for line in tree.stdout.splitlines()[1:]]
    family = [process.pid]
    for one in family:
        family += [pid for pid, parent in parents if parent == one]
    for one in family:
        try:
            os.kill(one, signal.SIGKILL)
        except ProcessLookupError:
            continue
    process.wait()


def digests_of(folder: Path) -> dict[str, str]:
    """SHA-256 of every file of a folder, by its name."""
    found = sorted(path for path in folder.iterdir() if path.is_file())
    return {path.name: sha256(path.read_bytes()).hexdigest() for path in found}
