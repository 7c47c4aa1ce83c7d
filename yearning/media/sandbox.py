"""Probes a file in a process of its own with bounds on memory and time.

A file from anywhere may be made to crash a decoder, to hang it or to fill the memory. What comes in
is tried here first, so that such a file ends this process and not the server. Each is forked off
one that has imported what decodes, so that it need not import it again.
"""

import json
import multiprocessing
import os
import resource
import tempfile
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from yearning.core.picture import Size
from yearning.core.processes import main_left_out
from yearning.media.decode.clip import open_clip
from yearning.media.decode.sound_file import probe_sound
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate

SECONDS = 60
TIMELINE_SECONDS = 20
"""Of the processor's time: the server itself reads again what was read in that."""

MEMORY = 4 << 30
"""Bytes of address space; Python with its libraries takes about one of the four."""

TRIED = 5
"""Frames decoded, spread over the clip."""

LINES = 108

_processes = multiprocessing.get_context("forkserver")
_processes.set_forkserver_preload([__name__])


def probe_in_sandbox(path: Path, name: str) -> dict[str, Any]:
    """Probe a clip and decode some of its frames.

    Args:
        path: the file.
        name: what it is called where errors name it.

    Returns:
        What it holds, as `Probe.as_json` has it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    found: dict[str, Any] = json.loads(run_in_sandbox(_probe, path, name))
    return found


def check_plate_in_sandbox(path: Path, name: str) -> None:
    """Decode a plate, or some of its frames.

    Args:
        path: the file.
        name: what it is called where errors name it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    run_in_sandbox(_decode_plate, path, name)


def check_sound_in_sandbox(path: Path, name: str) -> None:
    """Look at a file of sound, and decode its beginning.

    Args:
        path: the file.
        name: what it is called where errors name it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    run_in_sandbox(_decode_sound, path, name)


def check_timeline_in_sandbox(path: Path, name: str) -> None:
    """Read a timeline, without its media, and write it again.

    Args:
        path: the file, .otio or .edl.
        name: what it is called where errors name it.

    Raises:
        MediaError: it can't be used, or ended the process, took too long or too much memory.
    """
    run_in_sandbox(_read_timeline, path, name, TIMELINE_SECONDS)


def run_in_sandbox(
    work: Callable[[Path], str], path: Path, name: str, cpu_seconds: int = SECONDS
) -> str:
    """Do something with a file where it can do no harm.

    Args:
        work: the function, of a module.
        path: the file.
        name: what it is called where errors name it.
        cpu_seconds: of the processor's time it may take.

    Returns:
        What the function returns.

    Raises:
        MediaError: as the function raised it, or it ended the process, took too long or too much
            memory.
    """
    answers, answering = _processes.Pipe(duplex=False)
    process = _processes.Process(
        target=_answer, args=(work, path, answering, cpu_seconds), daemon=True
    )
    with main_left_out(), answering:
        process.start()
    with answers:
        try:
            in_time = answers.poll(SECONDS)
            said = json.loads(answers.recv_bytes()) if in_time else None
        except EOFError:
            said = None
    if not in_time:
        process.kill()
    process.join()
    if not in_time:
        raise MediaError(
            f"{name}: reading it took more than {SECONDS} s, so it was given up; it may be broken: "
            "open it elsewhere, or save it anew"
        )
    if said is None or process.exitcode != 0:
        raise MediaError(
            f"{name}: it ended what reads it, or wanted more than {MEMORY >> 30} GB of memory or "
            f"{cpu_seconds} s; it may be broken: open it elsewhere, or save it anew"
        )
    if "refused" in said:
        raise MediaError(said["refused"].replace(path.name, name))
    return str(said["taken"])


def _answer(work: Callable[[Path], str], path: Path, answering: Connection, seconds: int) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    nowhere = os.open(os.devnull, os.O_WRONLY)
    for printed in (1, 2):  # decoders complain of what is broken
        os.dup2(nowhere, printed)
    try:
        said = {"taken": work(path)}
    except MediaError as error:
        said = {"refused": str(error)}
    answering.send_bytes(json.dumps(said).encode())


def _probe(path: Path) -> str:
    with open_clip(path) as footage:
        for frame in _spread(footage.frames):
            footage.picture(frame, _small(footage.size))
        return json.dumps(footage.probe.as_json())


def _decode_plate(path: Path) -> str:
    plate = OpenPlate(path)
    for frame in _spread(plate.frames):
        plate.picture(frame, _small(plate.size))
    return ""


def _decode_sound(path: Path) -> str:
    probe_sound(path)
    return ""


def _read_timeline(path: Path) -> str:
    from yearning.media.timeline.reading import SUFFIXES, read_timeline  # few bring one in
    from yearning.media.timeline.writing import write_timeline

    found = read_timeline(path, _NoMedia())
    nothing = [None] * len(found.row)
    with tempfile.TemporaryDirectory(dir=path.parent) as folder:
        for suffix in SUFFIXES:
            place = Path(folder, f"written{suffix}")
            with suppress(MediaError):  # an edit list can't have all that a timeline has
                write_timeline(place, found.reel, nothing, row=found.row, timeline=found.timeline)
    return ""


class _NoMedia:
    """Finds no media."""

    def find_at(self, url: str) -> Path | None:
        return None

    def find_by_name(self, name: str) -> Sequence[Path]:
        return ()


def _spread(frames: int) -> Iterable[int]:
    return dict.fromkeys(n * (frames - 1) // (TRIED - 1) for n in range(TRIED))


def _small(size: Size) -> Size:
    return size.with_height(min(LINES, size.height))
