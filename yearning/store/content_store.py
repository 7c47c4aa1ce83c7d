"""Digests and stamps of a clip's file or stills, to see whether their content has changed."""

import hashlib
import json
import os
from pathlib import Path

from yearning.core.frame_pattern import is_frame_pattern


def files(path: Path) -> list[Path]:
    """The files of a clip: its one, or the stills of its folder by their names."""
    if not is_frame_pattern(path.name):
        return [path] if path.exists() else []
    if not path.parent.is_dir():
        return []
    return sorted(file for file in path.parent.iterdir() if file.suffix == path.suffix)


def file_digest(path: Path) -> str:
    """SHA-256 of a clip's bytes; of stills, of their names and what each holds."""
    if not is_frame_pattern(path.name):
        return _bytes_digest(path)
    listing = "".join(f"{file.name} {_bytes_digest(file)}\n" for file in files(path))
    return hashlib.sha256(listing.encode()).hexdigest()


def _bytes_digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def stamp(path: Path) -> str:
    """Bytes and times of a clip's files: while both stay, it is taken as unchanged."""
    found = [file.stat() for file in files(path)]
    if not is_frame_pattern(path.name):
        return json.dumps([found[0].st_size, found[0].st_mtime_ns])
    latest = max((stat.st_mtime_ns for stat in found), default=0)
    return json.dumps([len(found), sum(stat.st_size for stat in found), latest])


def intact(path: Path, digest: str, stamped: str) -> bool:
    """Tell whether a clip holds what it held; its bytes are read only if its stamp has changed.

    Args:
        path: of its file.
        digest: its SHA-256.
        stamped: its size and time as they were.
    """
    if not files(path):
        return False
    return stamp(path) == stamped or file_digest(path) == digest


def sync(path: Path) -> None:
    """Have what was written of a file, or of the names in a folder, on the disk (fsync(2))."""
    opened = os.open(path, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)
