"""The folder a render is made in: its plan, the pieces that are done, and the manifest of them.

Whatever ends a render, what the manifest names is whole; the rest is made again.
"""

import hashlib
import json
import os
import secrets
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from yearning.core.look.upgrades import upgrade_look
from yearning.farm.job import Job
from yearning.media.atomic_write import PART, atomic_write

PLAN = "plan.json"
WITHDRAWN = "plan.withdrawn.json"
MANIFEST = "manifest.jsonl"
MARK = ".mark"


class Line(NamedTuple):
    """A line of the manifest: a chunk that is done."""

    chunk: int
    file: str
    digest: str
    """SHA-256 of the file, or of the stills' digests."""
    bytes: int
    worker: str = ""
    """Which made it: its name and address."""
    version: str = ""
    """Of the program there."""
    peak: int = 0
    """Bytes of memory that the worker took at the most, till then."""


def write_plan(folder: Path, job: Job) -> None:
    """Write the job's plan into `folder`; pieces of another job there are deleted.

    Args:
        folder: of the job.
        job: what is rendered.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for left in folder.glob(f"*{PART}"):
        remove(left)
    if (folder / WITHDRAWN).exists():
        (folder / WITHDRAWN).replace(folder / PLAN)
    text = job.model_dump_json(indent=1)
    known = (folder / PLAN).read_text() if (folder / PLAN).exists() else None
    if known == text:
        return
    if known is None or not _is_of(known, job):
        for entry in folder.iterdir():
            remove(entry)
    with atomic_write(folder / PLAN) as part:
        part.write_text(text)


def _is_of(plan: str, job: Job) -> bool:
    """Whether a plan that an earlier version of the program wrote is of a job."""
    try:
        written = json.loads(plan)
        written["look"] = upgrade_look(written["look"])
    except (ValueError, TypeError, KeyError):
        return False
    return bool(written == job.model_dump(mode="json"))


def read_plan(folder: Path) -> Job:
    """The job whose plan stands in `folder`.

    Raises:
        FileNotFoundError: none does.
    """
    return Job.model_validate_json((folder / PLAN).read_text())


def write_mark(folder: Path) -> str:
    """Write a file by which workers tell that they see this folder; returns its name."""
    for left in folder.glob(f"*{MARK}"):
        left.unlink(missing_ok=True)
    mark = f"{secrets.token_hex(8)}{MARK}"
    (folder / mark).touch()
    return mark


def is_planned(folder: Path) -> bool:
    """Whether the plan stands: who works on it asks now and then, and gives up if not."""
    return (folder / PLAN).exists()


def withdraw(folder: Path) -> None:
    """Delete the plan, so that workers give up soon; needs no room on the disk."""
    if is_planned(folder):
        (folder / PLAN).replace(folder / WITHDRAWN)


def append_line(folder: Path, line: Line) -> None:
    """Add a line to the manifest, to stay also after a power cut.

    Args:
        folder: of the job.
        line: of a finished chunk.
    """
    with (folder / MANIFEST).open("a") as file:
        file.write(json.dumps(line._asdict()) + "\n")
        file.flush()
        os.fsync(file.fileno())


def read_manifest(folder: Path) -> Iterator[Line]:
    """The manifest's lines; one that was cut off while it was written is left out."""
    try:
        written = (folder / MANIFEST).read_text()
    except FileNotFoundError:  # nothing is finished yet, or the render has just been cleared away
        return
    for text in written.splitlines():
        try:
            yield Line(**json.loads(text))
        except (ValueError, TypeError):
            continue


def digest_of(piece: Path) -> tuple[str, int]:
    """SHA-256 and bytes of a piece: a segment, or a folder of stills.

    Raises:
        FileNotFoundError: it is not there.
    """
    if not piece.is_dir():
        with piece.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest(), piece.stat().st_size
    whole, size = hashlib.sha256(), 0
    for still in sorted(piece.iterdir()):
        digest, count = digest_of(still)
        whole.update(f"{still.name} {digest}\n".encode())
        size += count
    return whole.hexdigest(), size


def finished_lines(folder: Path) -> dict[int, Line]:
    """The lines of the manifest whose pieces are as they were written, by chunk."""
    found = {}
    for line in read_manifest(folder):
        try:
            if digest_of(folder / line.file) == (line.digest, line.bytes):
                found[line.chunk] = line
        except OSError:
            continue
    return found


def picture_path(folder: Path, frame: int) -> Path:
    """Return the path of a small picture of a rendered frame.

    Args:
        folder: of the job.
        frame: of the clip.
    """
    return folder / f"{frame}.jpg"


def clear(folder: Path) -> None:
    """Delete the plan, the manifest and the pieces; the small pictures stay."""
    for entry in folder.iterdir():
        if entry.suffix != ".jpg":
            remove(entry)


def remove(path: Path) -> None:
    """Delete a file, or a folder with all that is in it."""
    if path.is_dir():
        shutil.rmtree(path, ignore_errors=True)
    else:
        path.unlink(missing_ok=True)


def pictures(folder: Path) -> list[int]:
    """The frames that there is a small picture of, ascending."""
    return sorted(int(path.stem) for path in folder.glob("*.jpg") if path.stem.isdigit())
