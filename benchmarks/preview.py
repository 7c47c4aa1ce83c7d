"""The server's answers at 960x540, under a look of three steps."""

import json
import struct
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from typing import Literal

from websockets.sync.client import connect

from benchmarks.masks import SHAPES
from benchmarks.report import Effort, Row, Target
from benchmarks.timing import late, seconds
from tests.ui.serving import serving
from yearning.demo.seed import LOOKS

CHANGES = 40
F: Literal["found"] = "found"

SIX_STEPS = {
    "format": "yearning-look/3",
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
            "keys": {"clumping": [{"frame": 0, "value": 0.1}, {"frame": 96, "value": 0.5}]},
        },
    ],
}


def _look() -> dict:
    return json.loads((LOOKS / "lamps-at-dusk.json").read_text())


def _picture(address: str, look: dict, frame: int = 30) -> None:
    body = json.dumps({"clip": 1, "frame": frame, "look": look, "height": 540}).encode()
    headers = {"Content-Type": "application/json"}
    urllib.request.urlopen(
        urllib.request.Request(f"{address}/api/v1/pictures", body, headers)
    ).read()


def _changes(address: str, step: int, setting: str, values: list[float]) -> list[float]:
    look, times = _look(), []
    for value in values:
        look["steps"][step]["settings"][setting] = value
        times.append(1e3 * seconds(lambda: _picture(address, look)))
    return times[3:]


def _moves(address: str, places: list[float]) -> list[float]:
    """Milliseconds for each place of one of the shapes that the look's glow shows in."""
    look, times = _look(), []
    for place in places:
        moved = SHAPES[0] | {"centre": [place, 0.5]}
        look["steps"][0]["mix"] = {**look["steps"][0].get("mix", {}), "mask": [moved, *SHAPES[1:]]}
        times.append(1e3 * seconds(lambda: _picture(address, look)))
    return times[3:]


def _play(address: str, look: dict, frames: int) -> float:
    times, begun = [], min(11, frames // 2)
    with connect(address.replace("http", "ws") + "/api/v1/play", max_size=None) as socket:
        ask = {"type": "start", "clip": 1, "look": look, "frame": 0, "height": 540}
        socket.send(json.dumps(ask))
        while len(times) < frames:
            message = socket.recv()
            if isinstance(message, bytes):
                struct.unpack_from("<I", message)
                times.append(time.perf_counter())
                socket.send('{"type": "shown"}')
    return (len(times) - 1 - begun) / (times[-1] - times[begun])


def run(effort: Effort) -> Iterator[Row]:
    """Start, first picture, changes, play."""
    frames, changes = max(4, effort.rounds(192)), max(5, effort.rounds(CHANGES))
    with tempfile.TemporaryDirectory() as folder:
        project = Path(folder) / "Bench"
        with serving(project, "--demo"):
            pass  # seed it, so that the start below is a usual one
        began = time.perf_counter()
        with serving(project, "--demo") as address:
            up = time.perf_counter() - began
            first = seconds(lambda: _picture(address, _look(), 96))
            yield Row("start and first picture", up + first, "s", target=Target("at most", 3, F))
            _picture(address, _look())
            for name, step, setting in (
                ("glow's spread", 0, "spread"),
                ("grain's clumping", 2, "clumping"),
            ):
                scale = 40 if setting == "spread" else 0.2
                values = [scale * (1 + n / changes) for n in range(changes)]
                times = _changes(address, step, setting, values)
                yield Row(f"{name} changed", median(times), target=Target("at most", 60, F))
                yield Row(f"{name} changed, 95 %", late(times), target=Target("at most", 120, F))
            times = _moves(address, [0.3 + 0.4 * n / changes for n in range(changes)])
            yield Row("a shape of four moved", median(times), target=Target("at most", 60, F))
            yield Row("a shape of four moved, 95 %", late(times), target=Target("at most", 120, F))
            for what, look in (
                ("play of six steps with keys, first pass", SIX_STEPS),
                ("play, first pass", _look()),
                ("play of what is kept", _look()),
            ):
                rate = _play(address, look, frames)
                yield Row(what, rate, "frames/s", target=Target("at least", 24, F))
