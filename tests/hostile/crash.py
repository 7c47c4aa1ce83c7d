"""Servers killed at work, and what is left of it: `python -m tests.hostile.crash [ROUNDS]`.

Each round a server on the same project edits looks, takes in clips and renders, all at once, until
it is killed: at random, or at a moment that is waited for. Then the database is whole, what was
acknowledged is there, nothing half made is left, and renders go on. In the end each result is, byte
for byte, what an undisturbed server makes.
"""

import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from hashlib import sha256
from pathlib import Path
from typing import Any

import httpx

from tests.conftest import encode
from tests.data import DATA
from tests.hostile.bringing_in import UNENDED
from tests.rendering import kill_all
from tests.ui.serving import start_server
from tests.waiting import let_pass, wait_for
from yearning.core.picture import Size
from yearning.store.content_store import file_digest
from yearning.store.migrations import MIGRATIONS
from yearning.store.project import DATABASE, Project

CODECS = ("H.264", "AV1", "VP9", "FFV1", "PNG", "OpenEXR")
FRAMES = 144
"""Three chunks."""

SECONDS = 240.0
"""For a moment that is waited for, and for renders to end."""

STEPS = [{"id": kind, "treatment": kind} for kind in ("glow", "curve", "grain")]
LOOK: dict[str, Any] = {"format": "yearning-look/3", "name": "Test", "steps": STEPS}


class Lost(AssertionError):
    """Something that was acknowledged is not there, or something is there that should not be."""


def _must(holds: bool, otherwise: str) -> None:
    if not holds:
        raise Lost(otherwise)


class Rounds:
    """A project that lives through rounds, and what its servers have acknowledged.

    Args:
        folder: for the project, and for files to send.
        seed: of what is done, and of when it ends.
        codecs: what is rendered, one a round.
        frames: of each render, more than a chunk's.
    """

    def __init__(
        self, folder: Path, seed: int, codecs: Sequence[str] = CODECS, frames: int = FRAMES
    ) -> None:
        self._folder = folder
        self._random = random.Random(seed)
        self._codecs = codecs
        self._project = folder / "work"
        self._sound = encode(folder / "sound.mp4", "libx264", frames=frames, size=Size(96, 64))
        self._whole = self._digests_in_peace()
        self._look, self.edits = 0, 0
        self._acknowledged: dict[str, Any] = {}
        self.clips: dict[str, str] = {}
        """The names of clips that were acknowledged, by their digests."""
        self._renders: dict[int, str] = {}
        """The codecs of renders that were acknowledged, by their numbers."""

    def _digests_in_peace(self) -> dict[str, str]:
        """The digest of each result as a server makes it that is left in peace."""
        process, address = start_server(self._folder / "peace")
        try:
            with httpx.Client(base_url=address, timeout=SECONDS) as client:
                clip = self._send_clip(client)
                made = {codec: self._ask_for_render(client, clip, codec) for codec in self._codecs}
                self._wait_until(lambda: self._have_ended(client, list(made.values())))
                return {
                    codec: _digest(Project(self._folder / "peace", read_only=True), number)
                    for codec, number in made.items()
                }
        finally:
            process.terminate()
            process.wait(timeout=60)

    def _send_clip(self, client: httpx.Client) -> int:
        sent = client.post("/api/v1/clips?name=sound.mp4", content=self._sound.read_bytes())
        return int(sent.raise_for_status().json()["id"])

    @staticmethod
    def _ask_for_render(client: httpx.Client, clip: int, codec: str) -> int:
        ask = {"clip": clip, "look": LOOK, "result": {"codec": codec, "quality": "draft"}}
        return int(client.post("/api/v1/renders", json=ask).raise_for_status().json()["id"])

    @staticmethod
    def _have_ended(client: httpx.Client, numbers: list[int]) -> bool:
        states = {r["id"]: r["state"] for r in client.get("/api/v1/renders").json()}
        return not any(states[number] in UNENDED for number in numbers)

    @staticmethod
    def _wait_until(reached: Callable[[], bool], seconds: float = SECONDS) -> None:
        ends = time.monotonic() + seconds

        def is_over() -> bool:
            _must(time.monotonic() < ends, "what was waited for did not come")
            return reached()

        wait_for(is_over)

    def one(self, number: int) -> str:
        """A round; returns the moment at which it was ended."""
        moments = (
            self._random_moment,
            self._begun_ahead,
            self._in_a_chunk,
            self._at_joining,
            self._at_an_import,
        )
        moment = moments[number % len(moments)]
        process, address = start_server(self._project)
        ended = threading.Event()
        with httpx.Client(base_url=address, timeout=SECONDS) as client:
            clip = self._send_clip(client)
            self.clips[file_digest(self._sound)] = "sound"
            codec = self._codecs[number % len(self._codecs)]
            for _ in range(2):  # the second is begun on the worker that the first one's last leaves
                self._renders[self._ask_for_render(client, clip, codec)] = codec
        works = [
            threading.Thread(target=self._go_on, args=(address, work, ended))
            for work in (self._edit, self._bring_in)
        ]
        for work in works:
            work.start()
        try:
            moment(address)
        finally:
            ended.set()
            kill_all(process)
            for work in works:
                work.join()
        self.check()
        return moment.__name__.strip("_").replace("_", " ")

    def _go_on(
        self, address: str, work: Callable[[httpx.Client], None], ended: threading.Event
    ) -> None:
        """Do something over and over, until the server is not there any more."""
        with httpx.Client(base_url=address, timeout=SECONDS) as client:
            while not ended.is_set():
                with suppress(httpx.TransportError):
                    work(client)

    def _edit(self, client: httpx.Client) -> None:
        if not self._look:
            self._look = client.post("/api/v1/looks", json=LOOK).raise_for_status().json()["id"]
        address = f"/api/v1/looks/{self._look}"
        now = client.get(address).raise_for_status().json()
        look = now["look"] | {"name": f"edit {self.edits + 1}"}
        self.edits += 1
        change = {"revision": now["revision"], "look": look}
        self._acknowledged = client.put(address, json=change).raise_for_status().json()

    def _bring_in(self, client: httpx.Client) -> None:
        """A file of another content each time: what comes after a film is of no meaning to it."""
        number = self._random.getrandbits(60)
        data = self._sound.read_bytes() + b"\0\0\0\x10free" + number.to_bytes(8)

        def slowly() -> Iterator[bytes]:
            for part in (data[: len(data) // 2], data[len(data) // 2 :]):
                yield part
                let_pass(0.1)

        sent = client.post(f"/api/v1/clips?name={number}.mp4", content=slowly())
        self.clips[sha256(data).hexdigest()] = sent.raise_for_status().json()["name"]

    def _random_moment(self, address: str) -> None:
        let_pass(self._random.uniform(0.05, 4))

    def _in_a_chunk(self, address: str) -> None:
        def working() -> bool:
            found = httpx.get(f"{address}/api/v1/renders", timeout=SECONDS).json()
            return any(r["state"] == "running" and 0 < r["done"] < r["total"] for r in found)

        with suppress(Lost):  # a short one may be over
            self._wait_until(working, 20)

    def _begun_ahead(self, address: str) -> None:
        pieces = Project(self._project, read_only=True).renders.pieces

        def is_begun() -> bool:
            found = httpx.get(f"{address}/api/v1/renders", timeout=SECONDS).json()
            return any(r["state"] == "waiting" and pieces(r["id"]).exists() for r in found)

        self._wait_until(is_begun)

    def _at_joining(self, address: str) -> None:
        results = self._project / "renders"
        with suppress(Lost):
            self._wait_until(lambda: any(results.rglob(".*.part")), 20)

    def _at_an_import(self, address: str) -> None:
        arriving = self._project / "incoming"
        self._wait_until(lambda: any(arriving.iterdir()))
        let_pass(self._random.uniform(0, 1.5))

    def check(self) -> None:
        """Make sure that nothing is lost, and nothing left over.

        Raises:
            Lost: it says what.
        """
        with sqlite3.connect(self._project / DATABASE) as database:
            (found,) = database.execute("PRAGMA integrity_check").fetchone()
        _must(found == "ok", f"the database is not whole: {found}")
        project = Project(self._project)
        if self._acknowledged:
            current = project.looks.get(self._look)
            _must(
                current.revision >= self._acknowledged["revision"]
                and int(current.look.name.split()[1]) >= int(self._acknowledged["name"].split()[1]),
                f"{current.look.name} is current; {self._acknowledged['name']} was acknowledged",
            )
        kept = {clip.digest: clip for clip in project.clips.all()}
        for digest, name in self.clips.items():
            _must(digest in kept, f"{name} was acknowledged, and is not there")
            _must(file_digest(kept[digest].path) == digest, f"{name} is not what it was")
        for number in self._renders:
            project.renders.get(number)
        left = [
            *(self._project / "incoming").iterdir(),
            *project.assets.glob("tmp*"),
            *(self._project / "media").glob("*.part"),
            *(self._project / "renders").rglob(".*.part"),
        ]
        _must(not left, f"left over: {left}")

    def finish(self) -> int:
        """Have all renders end, and compare their results; returns how many there were."""
        process, address = start_server(self._project)
        try:
            with httpx.Client(base_url=address, timeout=SECONDS) as client:
                self._wait_until(
                    lambda: self._have_ended(client, list(self._renders)), 10 * SECONDS
                )
        finally:
            process.terminate()
            process.wait(timeout=60)
        project = Project(self._project)
        for number, codec in self._renders.items():
            found = project.renders.get(number)
            _must(found.state == "done", f"render {number} {found.state}: {found.message}")
            _must(_digest(project, number) == self._whole[codec], f"render {number} ({codec})")
        return len(self._renders)

    def worker(self) -> None:
        """A farm's worker is killed: its chunk is rendered by another."""
        process, address = start_server(self._project)
        try:
            with httpx.Client(base_url=address, timeout=SECONDS) as client:
                number = self._ask_for_render(client, self._send_clip(client), "H.264")
                self._renders[number] = "H.264"
                self._in_a_chunk(address)
                workers = [pid for pid, words in _descendants(process.pid) if "spawn_main" in words]
                for pid in workers[:1]:
                    with suppress(ProcessLookupError):
                        os.kill(pid, signal.SIGKILL)
                self._wait_until(lambda: self._have_ended(client, [number]))
        finally:
            process.terminate()
            process.wait(timeout=60)

    def command_line(self) -> None:
        """A render of the command line is killed, and asked again: it goes on, to the same file."""
        look, out = self._folder / "look.json", self._folder / "out.mp4"
        look.write_text(json.dumps(LOOK))
        words = [sys.executable, "-m", "yearning.cli", "render", str(self._sound)]
        words += ["--look", str(look), "-o", str(out), "--quality", "draft"]
        process = subprocess.Popen(words)
        with suppress(Lost):
            self._wait_until(lambda: any(self._folder.glob(".out.mp4*/*")), 30)
        let_pass(self._random.uniform(0, 1))
        kill_all(process)
        subprocess.run(words, check=True, timeout=SECONDS)
        _must(file_digest(out) == self._whole["H.264"], "the command line's result")
        left = list(self._folder.glob(".out.mp4*"))
        _must(not left, f"left over: {left}")

    def migration(self) -> None:
        """A server is killed while it brings a project of the first version up to date."""
        old = self._folder / "old"
        shutil.rmtree(old, ignore_errors=True)
        shutil.copytree(DATA / "first-project", old)
        opens = f"from yearning.store.project import *; Project(Path({str(old)!r}))"
        words = [sys.executable, "-c", opens]
        process = subprocess.Popen(words)
        with suppress(Lost):
            self._wait_until(lambda: (old / f"{DATABASE}-wal").exists(), 30)
        let_pass(self._random.uniform(0, 0.02))
        kill_all(process)
        project = Project(old)
        with sqlite3.connect(old / DATABASE) as database:
            (version,) = database.execute("PRAGMA user_version").fetchone()
            (found,) = database.execute("PRAGMA integrity_check").fetchone()
        _must((version, found) == (len(MIGRATIONS), "ok"), f"version {version}, {found}")
        (look,), (clip,) = project.looks.all(), project.clips.all()
        _must((look.look.name, clip.name) == ("Renamed", "Small"), "what the project held")


def _digest(project: Project, render: int) -> str:
    """SHA-256 of a render's result; of stills, of all of them in order."""
    path = project.renders.get(render).path
    files = sorted(path.parent.glob(f"*{path.suffix}")) if "%" in path.name else [path]
    return sha256(b"".join(file.read_bytes() for file in files)).hexdigest()


def _descendants(parent: int) -> list[tuple[int, str]]:
    """The processes below one: numbers and words."""
    found = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True)
    family, below = {parent}, []
    for line in found.stdout.splitlines()[1:]:
        pid, above, words = line.split(None, 2)
        if int(above) in family:
            family.add(int(pid))
            below.append((int(pid), words))
    return below


def main(rounds: int, seed: int = 1) -> int:
    """So many rounds, and one each of what is killed otherwise; 0 where nothing was lost."""
    moments: Counter[str] = Counter()
    begun = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        work = Rounds(Path(folder), seed, CODECS[:rounds])
        for number in range(rounds):
            moments[said := work.one(number)] += 1
            print(f"round {number}: killed, {said}", flush=True)
            work.migration()
        work.finish()  # so that what comes next does not wait for it
        work.worker()
        work.command_line()
        renders = work.finish()
        edits, clips = work.edits, len(work.clips)
    print(
        f"{rounds} servers killed in {time.monotonic() - begun:.0f} s ({dict(moments)}), {edits} "
        f"edits, {clips} clips, {renders} renders: nothing lost, all results the same"
    )
    return 0


if __name__ == "__main__":
    try:
        sys.exit(main(*map(int, sys.argv[1:] or ["60"])))
    except Lost as error:
        sys.exit(f"lost: {error}")
