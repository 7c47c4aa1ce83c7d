"""The server's answers: a changed setting, the first picture, and play, at 960x540."""

import json
import struct
import tempfile
import time
import urllib.request
from pathlib import Path

from websockets.sync.client import connect

from benchmarks.timing import seconds, spread
from tests.ui.serving import serving
from yearning.demo.seed import LOOKS

CHANGES = 40

SIX_STEPS = {
    "format": "yearning-look/2",
    "steps": [
        {
            "id": "glow",
            "treatment": "glow",
            "keys": {
                "spread": [{"frame": 0, "value": 20, "ease": "ease"}, {"frame": 48, "value": 60}]
            },
        },
        {
            "id": "exposure",
            "treatment": "exposure",
            "keys": {"stops": [{"frame": 0, "value": 0}, {"frame": 96, "value": -0.3}]},
        },
        {
            "id": "curve",
            "treatment": "curve",
            "settings": {"luma": [[0, 0.06], [0.25, 0.24], [1, 1]]},
        },
        {"id": "tone", "treatment": "tone", "settings": {"contrast": 0.15, "saturation": 0.9}},
        {"id": "mono", "treatment": "mono", "mix": {"amount": 0.3}},
        {
            "id": "grain",
            "treatment": "grain",
            "keys": {"clump": [{"frame": 0, "value": 0.1}, {"frame": 96, "value": 0.5}]},
        },
    ],
}


def _look() -> dict:
    return json.loads((LOOKS / "lamps-at-dusk.json").read_text())


def _picture(address: str, look: dict, frame: int = 30) -> None:
    body = json.dumps({"clip": 1, "frame": frame, "look": look, "height": 540}).encode()
    headers = {"Content-Type": "application/json"}
    urllib.request.urlopen(urllib.request.Request(f"{address}/api/pictures", body, headers)).read()


def _changes(address: str, step: int, setting: str, values: list[float]) -> tuple[float, float]:
    look, times = _look(), []
    for value in values:
        look["steps"][step]["settings"][setting] = value
        times.append(seconds(lambda: _picture(address, look)))
    return spread(times[3:])


def _play(address: str, look: dict, frames: int) -> float:
    times = []
    with connect(address.replace("http", "ws") + "/api/play", max_size=None) as socket:
        ask = {"type": "start", "clip": 1, "look": look, "frame": 0, "height": 540}
        socket.send(json.dumps(ask))
        while len(times) < frames:
            message = socket.recv()
            if isinstance(message, bytes):
                struct.unpack_from("<I", message)
                times.append(time.perf_counter())
                socket.send('{"type": "shown"}')
    return (len(times) - 12) / (times[-1] - times[11])


def run() -> None:
    """Print medians, 95th percentiles and frames a second."""
    with tempfile.TemporaryDirectory() as folder:
        project = Path(folder) / "Bench"
        with serving(project, "--demo"):
            pass  # seed it, so that the start below is a usual one
        began = time.perf_counter()
        with serving(project, "--demo") as address:
            up = time.perf_counter() - began
            first = seconds(lambda: _picture(address, _look(), 96))
            print("a three-step look at 960x540, through the server")
            print(f"  start {up:.2f} s, then the first picture {first:.2f} s")
            _picture(address, _look())
            for name, step, setting in (
                ("glow's spread", 0, "spread"),
                ("grain's clump", 2, "clump"),
            ):
                scale = 40 if setting == "spread" else 0.2
                values = [scale * (1 + n / CHANGES) for n in range(CHANGES)]
                middle, late = _changes(address, step, setting, values)
                print(f"  {name} changed: median {1e3 * middle:.0f} ms, 95 % {1e3 * late:.0f} ms")
            print(f"  play of six steps with keys: {_play(address, SIX_STEPS, 192):.1f} frames/s")
            look = _look()
            print(f"  play, first pass: {_play(address, look, 192):.1f} frames/s")
            print(f"  play, from what is kept: {_play(address, look, 192):.1f} frames/s")
