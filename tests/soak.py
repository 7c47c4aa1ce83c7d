"""Work on a long clip for a while, and see that the server's memory stays within its budget.

`python -m tests.soak [MINUTES]`: scrubbing, editing, play, readings and paths at random places of a
clip of half an hour, with what is kept limited to `CACHE_MB`. Each line says the action's end, the
process's memory and what the caches hold. It ends with 1 where memory grew beyond the budget.
"""

import json
import random
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from websockets.sync.client import connect

from benchmarks.render import repeated
from tests.ui.serving import started
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS

CACHE_MB = 600
BESIDE_MB = 900
"""Of the process beside its caches: Python, compiled kernels, decoders, arrays at work."""

TIMES = 225
"""A clip of eight seconds so many times over is half an hour."""

FRAMES = 192 * TIMES


class Work:
    """A page's requests to a server on one clip."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._look = json.loads((LOOKS / "lamps-at-dusk.json").read_text())
        self._sequence = 0

    def ask(self, path: str, body: dict | bytes | None = None) -> bytes:
        """What the server answers."""
        sent = json.dumps(body).encode() if isinstance(body, dict) else body
        headers = {"Content-Type": "application/json"}
        request = urllib.request.Request(self._address + path, sent, headers)
        return urllib.request.urlopen(request, timeout=600).read()

    def _about(self, frame: int, **more: object) -> dict:
        self._sequence += 1
        about = {"clip": 1, "frame": frame, "look": self._look, "height": 488}
        return about | {"channel": "soak", "sequence": self._sequence} | more

    def scrub(self) -> None:
        """Pictures of places all over the clip, and a few neighbours of each."""
        for _ in range(6):
            frame = random.randrange(FRAMES - 8)
            for n in range(frame, frame + 4):
                self.ask("/api/pictures", self._about(n))

    def edit(self) -> None:
        """A setting changed many times at one frame."""
        frame = random.randrange(FRAMES)
        for _ in range(20):
            self._look["steps"][0]["settings"]["spread"] = random.uniform(10, 120)
            self.ask("/api/pictures", self._about(frame))
        self.ask("/api/path", self._about(frame))

    def read(self) -> None:
        """Readings and a filmstrip."""
        for _ in range(4):
            self.ask("/api/readings", self._about(random.randrange(FRAMES)))
        self.ask(f"/api/clips/1/filmstrip?count={random.choice((16, 64))}")

    def play(self) -> None:
        """Some seconds from anywhere."""
        ask = {"type": "start", "clip": 1, "look": self._look, "height": 488}
        with connect(self._address.replace("http", "ws") + "/api/play", max_size=None) as socket:
            socket.send(json.dumps(ask | {"frame": random.randrange(FRAMES - 200)}))
            for _ in range(120):
                while not isinstance(socket.recv(), bytes):
                    pass
                socket.send('{"type": "shown"}')

    def kept_mb(self) -> float:
        """What the caches hold."""
        return json.loads(self.ask("/api/memory"))["kept"] / 1e6


def resident_mb(pid: int) -> float:
    """Memory of a process that is in use."""
    status = Path(f"/proc/{pid}/status").read_text()
    return int(status.partition("VmRSS:")[2].split()[0]) / 1024


def main(minutes: float) -> int:
    """Work so long; 0 where memory stayed within what it may take."""
    random.seed(1)
    with tempfile.TemporaryDirectory() as folder:
        long = Path(folder) / "long.mp4"
        repeated(MEDIA / "lantern-barge.mp4", long, TIMES)
        process, address = started(Path(folder) / "Soak", "--cache", str(CACHE_MB))
        try:
            work = Work(address)
            work.ask("/api/clips?name=long.mp4", long.read_bytes())
            print(f"imported: {resident_mb(process.pid):.0f} MB", flush=True)
            most, until = 0.0, time.monotonic() + 60 * minutes
            while time.monotonic() < until:
                action = random.choice((work.scrub, work.edit, work.read, work.play))
                action()
                most = max(most, resident := resident_mb(process.pid))
                left = (until - time.monotonic()) / 60
                kept = work.kept_mb()
                print(f"{left:5.1f} min left  {action.__name__:6} {resident:6.0f} MB, "
                      f"{kept:4.0f} MB kept", flush=True)  # fmt: skip
        finally:
            process.terminate()
            process.wait()
    print(f"at the most {most:.0f} MB of {CACHE_MB + BESIDE_MB}")
    return int(most > CACHE_MB + BESIDE_MB)


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 30))
