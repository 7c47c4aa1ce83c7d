"""Probes a file in a process of its own with bounds on memory and time; run as a program.

A file from anywhere may be made to crash a decoder, to hang it or to fill the memory. What comes in
is tried here first, so that such a file ends this process and not the server.
"""

import json
import resource
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate

SECONDS = 60
MEMORY = 4 << 30
"""Bytes of address space; Python with its libraries takes about one of the four."""

TRIED = 5
"""Frames decoded, spread over the clip."""

LINES = 108

REFUSED = 3
"""The exit code that says: the reason is on standard output."""


def probe_sandboxed(path: Path, name: str) -> dict[str, Any]:
    """Probe a clip and decode some of its frames.

    Args:
        path: the file.
        name: what it is called where errors name it.

    Returns:
        What it holds, as `Probe.as_json` has it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    found: dict[str, Any] = json.loads(_tried("clip", path, name))
    return found


def check_plate_sandboxed(path: Path, name: str) -> None:
    """Decode a plate, or some of its frames.

    Args:
        path: the file.
        name: what it is called where errors name it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    _tried("plate", path, name)


def _tried(what: str, path: Path, name: str) -> str:
    words = [sys.executable, "-m", "yearning.media.sandbox", what, str(path)]
    try:
        done = subprocess.run(words, capture_output=True, text=True, timeout=SECONDS)  # noqa: S603
    except subprocess.TimeoutExpired:
        raise MediaError(
            f"{name}: reading it took more than {SECONDS} s, so it was given up; it may be broken: "
            "play it elsewhere, or save it anew"
        ) from None
    if done.returncode == 0:
        return done.stdout
    if done.returncode == REFUSED:
        raise MediaError(done.stdout.strip().replace(path.name, name))
    raise MediaError(
        f"{name}: it ended the decoder, or wanted more than {MEMORY >> 30} GB of memory; it may be "
        "broken: play it elsewhere, or save it anew"
    )


def _try(what: str, path: Path) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        if what == "plate":
            plate = OpenPlate(path)
            for frame in _spread(plate.frames):
                plate.picture(frame, _small(plate.size))
            return
        with open_clip(path) as footage:
            for frame in _spread(footage.frames):
                footage.picture(frame, _small(footage.size))
            print(json.dumps(footage.probe.as_json()))
    except MediaError as error:
        print(error)
        raise SystemExit(REFUSED) from None


def _spread(frames: int) -> Iterable[int]:
    return dict.fromkeys(n * (frames - 1) // (TRIED - 1) for n in range(TRIED))


def _small(size: Size) -> Size:
    return size.with_height(min(LINES, size.height))


if __name__ == "__main__":
    _try(sys.argv[1], Path(sys.argv[2]))
