"""Work on a long clip for a while, and see that a server takes no more and more of the machine.

`python -m tests.soak [MINUTES] [BUDGET_MB]`: each treatment runs once; then two pages at once
scrub, edit, play, read, compare proofs, render, lift a figure out and cut a reel, at random places
of a clip of half an hour. Each line says, for a minute, the most that the process took, what was
kept, its open files, threads and temporary folders. It ends with 1 where memory went beyond the
budget and `BESIDE_MB` over what the server had before, or any of these is not flat over the second
half.
"""

import json
import os
import random
import sys
import tempfile
import threading
import time
import urllib.request
from collections import Counter
from pathlib import Path
from typing import NamedTuple

from websockets.sync.client import connect

from benchmarks.render import repeat_clip
from tests.hostile.bringing_in import UNENDED, memory_mb
from tests.ui.serving import start_server
from tests.waiting import let_pass, wait_for
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS

BUDGET_MB = 750
BESIDE_MB = 400
"""Of the process beside its budget and what it took once each treatment had run."""

TIMES = 225
"""A clip of eight seconds so many times over is half an hour."""

FRAMES = 192 * TIMES

HEIGHTS = (270, 488, 1080)

PROOFS = 64

PAGES = 2

LIFT_SECONDS = 40.0
"""After which the lifting is stopped, so that it is not all that a page does."""

EVERY_SECONDS = 0.5
"""How often it is seen what the process takes."""

GROWTH = 1.1
"""Of the second half's peak over the first's, at the most: what is work in hand differs."""

HANDLES = 12
"""Open files, threads and folders more in the second half than in the first, at the most."""

AROUND = [[0.3, 0.2], [0.7, 0.2], [0.7, 0.9], [0.3, 0.9]]
STROKES = [
    {"frame": 0, "kind": "around", "points": AROUND},
    {"frame": 0, "kind": "this", "points": [[0.45, 0.5], [0.55, 0.5]], "width": 40},
]


class Work:
    """A page's requests to a server on a long clip and a short one."""

    def __init__(self, address: str, page: int) -> None:
        self._address = address
        self._page = page
        self._random = random.Random(page)
        self._look = json.loads((LOOKS / "lamps-at-dusk.json").read_text())
        self._sequence = 0

    def ask(self, path: str, body: dict | bytes | None = None) -> bytes:
        """What the server answers."""
        sent = json.dumps(body).encode() if isinstance(body, dict) else body
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(self._address + path, sent, headers)
        return urllib.request.urlopen(request, timeout=600).read()

    def run_each_treatment(self) -> None:
        """A picture of each treatment as it comes."""
        for treatment in json.loads(self.ask("/api/v1/catalogue"))["treatments"]:
            step = {"id": "t", "treatment": treatment["kind"]}
            look = {"format": "yearning-look/3", "steps": [step]}
            self.ask("/api/v1/pictures", self._picture_request(0, look=look))
        self.ask("/api/v1/looks", self._look)

    def do_something(self) -> str:
        """One of the actions; returns its name."""
        actions = (self.scrub, self.edit, self.read, self.play, self.proof, self.render)
        rare = (self.lift, self.cut)
        action = self._random.choice((*actions, *actions, *rare))
        action()
        return action.__name__

    def _picture_request(self, frame: int, **more: object) -> dict:
        self._sequence += 1
        about = {"clip": 1, "frame": frame, "look": self._look}
        about["height"] = self._random.choice(HEIGHTS)
        return about | {"channel": f"soak {self._page}", "sequence": self._sequence} | more

    def _vary(self) -> None:
        self._look["steps"][0]["settings"]["spread"] = self._random.uniform(10, 120)

    def scrub(self) -> None:
        """Pictures of places all over the clip, and a few neighbours of each."""
        for _ in range(6):
            frame = self._random.randrange(FRAMES - 8)
            for n in range(frame, frame + 4):
                self.ask("/api/v1/pictures", self._picture_request(n))

    def edit(self) -> None:
        """A setting changed many times at one frame."""
        frame = self._random.randrange(FRAMES)
        for _ in range(20):
            self._vary()
            self.ask("/api/v1/pictures", self._picture_request(frame, height=488))
        self.ask("/api/v1/path-pictures", self._picture_request(frame, height=488))

    def read(self) -> None:
        """Readings and a filmstrip."""
        for _ in range(4):
            self.ask("/api/v1/readings", self._picture_request(self._random.randrange(FRAMES)))
        self.ask(f"/api/v1/clips/1/filmstrip?count={self._random.choice((16, 64))}")

    def play(self) -> None:
        """Some seconds from anywhere."""
        frame = self._random.randrange(FRAMES - 200)
        self._play({"clip": 1, "look": self._look, "height": 488, "frame": frame})

    def proof(self) -> None:
        """A sheet of proofs at one frame."""
        frame = self._random.randrange(FRAMES)
        for _ in range(PROOFS):
            self._vary()
            self.ask("/api/v1/pictures", self._picture_request(frame, height=216))

    def render(self) -> None:
        """A second of the clip as a file."""
        first = self._random.randrange(FRAMES - 24)
        result = {"first": first, "last": first + 23, "height": self._random.choice((270, 1080))}
        ask = {"clip": 1, "look": self._look, "result": result}
        number = json.loads(self.ask("/api/v1/renders", ask))["id"]
        wait_for(
            lambda: json.loads(self.ask(f"/api/v1/renders/{number}"))["state"],
            lambda state: state not in UNENDED,
        )

    def lift(self) -> None:
        """A figure lifted out of the short clip; a second page that asks meanwhile waits for it."""
        strokes = [STROKES[0], STROKES[1] | {"width": self._random.randint(20, 60)}]
        self.ask("/api/v1/mattes/finding", {"clip": 2, "title": "Soak", "strokes": strokes})
        ends = time.monotonic() + LIFT_SECONDS
        wait_for(
            lambda: json.loads(self.ask("/api/v1/mattes/finding")),
            lambda status: not status["running"] or time.monotonic() > ends,
        )
        self.ask("/api/v1/mattes/finding/stop", b"")

    def cut(self) -> None:
        """A reel of some shots, seen at each and played."""
        look = json.loads(self.ask("/api/v1/looks"))[0]["id"]
        starts = [self._random.randrange(FRAMES - 48) for _ in range(3)]
        shots = [
            {"kind": "shot", "id": f"s{n}", "name": f"Shot {n}", "clip": 1, "first": first}
            | {"last": first + 39, "look": look}
            for n, first in enumerate(starts)
        ]
        reel = json.loads(self.ask("/api/v1/reels", {"name": "Soak", "items": shots}))["id"]
        for frame in (0, 50, 100):
            self.ask(f"/api/v1/reels/{reel}/pictures/{frame}?height=488")
        self._play({"reel": reel, "height": 488, "frame": 0})

    def _play(self, what: dict) -> None:
        with connect(self._address.replace("http", "ws") + "/api/v1/play", max_size=None) as socket:
            socket.send(json.dumps({"type": "start"} | what))
            for _ in range(100):
                while not isinstance(socket.recv(), bytes):
                    pass
                socket.send('{"type": "shown"}')


class Taken(NamedTuple):
    """What a server's process takes of the machine."""

    memory: float
    """In MB."""
    kept: float
    """In MB, of the memory."""
    files: int
    threads: int
    folders: int
    """Temporary files and folders, of the process and of its project."""

    def __str__(self) -> str:
        memory = f"{self.memory:5.0f} MB, {self.kept:5.0f} MB kept"
        return f"{memory}, {self.files} files, {self.threads} threads, {self.folders} temporary"


class Server:
    """A server on a project of a long clip and a short one, in a folder of its own."""

    def __init__(self, folder: Path, budget_mb: int) -> None:
        self._temporary, self._project = folder / "temporary", folder / "Soak"
        self._temporary.mkdir()
        environment = os.environ | {"TMPDIR": str(self._temporary)}
        flags = ("--cache", str(budget_mb))
        self.process, self.address = start_server(self._project, *flags, env=environment)
        self._client = Work(self.address, PAGES)

    def bring_in(self, file: Path) -> None:
        """Add a clip."""
        self._client.ask(f"/api/v1/clips?name={file.name}", file.read_bytes())

    def measure(self) -> Taken:
        """What it takes now."""
        place, pid = Path(f"/proc/{self.process.pid}"), self.process.pid
        files, threads = (len(list((place / name).iterdir())) for name in ("fd", "task"))
        temporary = [*self._temporary.iterdir(), *(self._project / "assets").glob("tmp*")]
        kept = json.loads(self._client.ask("/api/v1/memory"))["kept"] / 1e6
        return Taken(memory_mb(pid, "VmRSS"), kept, files, threads, len(temporary))


def most_of(taken: list[Taken]) -> Taken:
    """The most of each."""
    return Taken(*map(max, zip(*taken, strict=True)))


def work(server: Server, minutes: float) -> list[Taken]:
    """Have pages work on a server for so long; the most that it took, minute by minute."""
    done: Counter[str] = Counter()
    finished: list[int] = []
    until = time.monotonic() + 60 * minutes

    def page(number: int) -> None:
        at_work = Work(server.address, number)
        while time.monotonic() < until:
            done[at_work.do_something()] += 1
        finished.append(number)

    pages = [threading.Thread(target=page, args=(number,)) for number in range(PAGES)]
    for each in pages:
        each.start()
    each_minute: list[Taken] = []
    while any(each.is_alive() for each in pages):
        taken = []
        minute = time.monotonic() + 60
        while time.monotonic() < minute and any(each.is_alive() for each in pages):
            taken.append(server.measure())
            let_pass(EVERY_SECONDS)
        each_minute.append(most_of(taken))
        print(f"{len(each_minute):3}: {each_minute[-1]}; {dict(done)}", flush=True)
        done.clear()
    assert len(finished) == PAGES, "a page was refused something; see above"
    return each_minute


def main(minutes: float, budget_mb: int) -> int:
    """Work so long; 0 where what the server took was within its budget, and flat."""
    with tempfile.TemporaryDirectory() as folder:
        long = Path(folder) / "long.mp4"
        repeat_clip(MEDIA / "lantern-barge.mp4", long, TIMES)
        server = Server(Path(folder), budget_mb)
        try:
            server.bring_in(long)
            server.bring_in(MEDIA / "reed-walker.mp4")
            print(f"imported: {server.measure()}", flush=True)
            Work(server.address, PAGES).run_each_treatment()
            before = server.measure()
            print(f"each treatment ran once: {before}", flush=True)
            taken = work(server, minutes)
        finally:
            server.process.terminate()
            server.process.wait()
    first, second = most_of(taken[: len(taken) // 2]), most_of(taken[len(taken) // 2 :])
    limit = before.memory - before.kept + budget_mb + BESIDE_MB
    print(f"first half: {first}\nsecond:     {second}\nallowed:    {limit:5.0f} MB")
    fits = max(first.memory, second.memory) <= limit
    flat = second.memory <= GROWTH * first.memory
    flat &= second.files - first.files <= HANDLES
    flat &= second.threads - first.threads <= HANDLES
    flat &= second.folders - first.folders <= HANDLES
    return int(not (fits and flat))


if __name__ == "__main__":
    asked = sys.argv[1:] + ["60", str(BUDGET_MB)][len(sys.argv) - 1 :]
    sys.exit(main(float(asked[0]), int(asked[1])))
