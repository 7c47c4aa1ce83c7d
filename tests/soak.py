"""Work on a long clip for a while, and see that a server takes no more and more of the machine.

`python -m tests.soak [MINUTES]`: two pages at once scrub, edit, play, read and render at random
places of a clip of half an hour, with what is kept limited to `CACHE_MB`. Each line says what was
done, the process's memory, what the caches hold, and its open files and threads. It ends with 1
where memory grew beyond the budget, or any of these is not flat over the second half.
"""

import json
import random
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path
from typing import NamedTuple

from websockets.sync.client import connect

from benchmarks.render import repeated
from tests.hostile.bringing_in import UNENDED, memory_mb
from tests.ui.serving import started
from tests.waiting import wait_for
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS

CACHE_MB = 600
BESIDE_MB = 900
"""Of the process beside its caches: Python, compiled kernels, decoders, arrays at work."""

TIMES = 225
"""A clip of eight seconds so many times over is half an hour."""

FRAMES = 192 * TIMES

PAGES = 2

GROWTH = 1.1
"""Of the second half's peak over the first's, at the most: what is work in hand differs."""

HANDLES = 12
"""Open files and threads more in the second half than in the first, at the most."""


class Work:
    """A page's requests to a server on one clip."""

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

    def do_something(self) -> str:
        """One of the actions; returns its name."""
        action = self._random.choice((self.scrub, self.edit, self.read, self.play, self.render))
        action()
        return action.__name__

    def _about(self, frame: int, **more: object) -> dict:
        self._sequence += 1
        about = {"clip": 1, "frame": frame, "look": self._look, "height": 488}
        return about | {"channel": f"soak {self._page}", "sequence": self._sequence} | more

    def scrub(self) -> None:
        """Pictures of places all over the clip, and a few neighbours of each."""
        for _ in range(6):
            frame = self._random.randrange(FRAMES - 8)
            for n in range(frame, frame + 4):
                self.ask("/api/v1/pictures", self._about(n))

    def edit(self) -> None:
        """A setting changed many times at one frame."""
        frame = self._random.randrange(FRAMES)
        for _ in range(20):
            self._look["steps"][0]["settings"]["spread"] = self._random.uniform(10, 120)
            self.ask("/api/v1/pictures", self._about(frame))
        self.ask("/api/v1/path-pictures", self._about(frame))

    def read(self) -> None:
        """Readings and a filmstrip."""
        for _ in range(4):
            self.ask("/api/v1/readings", self._about(self._random.randrange(FRAMES)))
        self.ask(f"/api/v1/clips/1/filmstrip?count={self._random.choice((16, 64))}")

    def play(self) -> None:
        """Some seconds from anywhere."""
        ask = {"type": "start", "clip": 1, "look": self._look, "height": 488}
        with connect(self._address.replace("http", "ws") + "/api/v1/play", max_size=None) as socket:
            socket.send(json.dumps(ask | {"frame": self._random.randrange(FRAMES - 200)}))
            for _ in range(120):
                while not isinstance(socket.recv(), bytes):
                    pass
                socket.send('{"type": "shown"}')

    def render(self) -> None:
        """A second of the clip as a file."""
        first = self._random.randrange(FRAMES - 24)
        result = {"first": first, "last": first + 23, "height": 270}
        ask = {"clip": 1, "look": self._look, "result": result}
        number = json.loads(self.ask("/api/v1/renders", ask))["id"]
        wait_for(
            lambda: json.loads(self.ask(f"/api/v1/renders/{number}"))["state"],
            lambda state: state not in UNENDED,
        )


class Taken(NamedTuple):
    """What a server's process takes of the machine."""

    memory: float
    """In MB."""
    files: int
    threads: int

    @classmethod
    def by(cls, pid: int) -> "Taken":
        """What a process takes now."""
        place = Path(f"/proc/{pid}")
        files, threads = place / "fd", place / "task"
        return cls(
            memory_mb(pid, "VmRSS"), len(list(files.iterdir())), len(list(threads.iterdir()))
        )


def work(pid: int, address: str, minutes: float) -> list[Taken]:
    """Have pages work on a server for so long; what it took, every time one had done something."""
    taken: list[Taken] = []
    lock, until = threading.Lock(), time.monotonic() + 60 * minutes

    def page(number: int) -> None:
        at_work = Work(address, number)
        while time.monotonic() < until:
            did = at_work.do_something()
            kept = json.loads(at_work.ask("/api/v1/memory"))["kept"] / 1e6
            with lock:
                taken.append(now := Taken.by(pid))
                print(
                    f"{(until - time.monotonic()) / 60:5.1f} min left  {did:6} {now.memory:6.0f} "
                    f"MB, {kept:4.0f} MB kept, {now.files} files, {now.threads} threads",
                    flush=True,
                )

    pages = [threading.Thread(target=page, args=(number,)) for number in range(PAGES)]
    for each in pages:
        each.start()
    for each in pages:
        each.join()
    return taken


def main(minutes: float) -> int:
    """Work so long; 0 where what the server took was within its budget, and flat."""
    with tempfile.TemporaryDirectory() as folder:
        long = Path(folder) / "long.mp4"
        repeated(MEDIA / "lantern-barge.mp4", long, TIMES)
        process, address = started(Path(folder) / "Soak", "--cache", str(CACHE_MB))
        try:
            Work(address, 0).ask("/api/v1/clips?name=long.mp4", long.read_bytes())
            print(f"imported: {memory_mb(process.pid, 'VmRSS'):.0f} MB", flush=True)
            taken = work(process.pid, address, minutes)
        finally:
            process.terminate()
            process.wait()
    halves = taken[: len(taken) // 2], taken[len(taken) // 2 :]
    before, after = (Taken(*map(max, zip(*half, strict=True))) for half in halves)
    print(f"in the first half at the most {before}\nin the second {after}")
    fits = max(before.memory, after.memory) <= CACHE_MB + BESIDE_MB
    flat = after.memory <= GROWTH * before.memory
    flat &= max(after.files - before.files, after.threads - before.threads) <= HANDLES
    return int(not (fits and flat))


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 30))
