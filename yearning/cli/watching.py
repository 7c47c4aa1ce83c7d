"""A folder whose files are taken up as they are dropped into it."""

import glob
import re
import time
from collections.abc import Callable, Iterator
from pathlib import Path

EVERY_SECONDS = 1.0
"""Between looks at the folder: it may be on a network, from which no changes are told."""

Stamp = tuple[int, int]
"""A file's size in bytes and its time of change in ns."""


def stamps_in(folder: Path) -> dict[Path, Stamp]:
    """The files in a folder, but those whose names begin with a full stop."""
    found = {}
    for path in sorted(folder.iterdir()):
        try:
            status = path.stat()
        except OSError:  # it went away meanwhile
            continue
        if path.is_file() and not path.name.startswith("."):
            found[path] = status.st_size, status.st_mtime_ns
    return found


def is_made_since(result: Path, file: Path) -> bool:
    """Whether a result is there that is no older than the file that it is made from.

    Args:
        result: a file, or the pattern of numbered ones, `DIR/%05d.png`.
        file: one that is gone needs no result.
    """
    numbered = re.sub(r"%0?\d*d", "*", glob.escape(result.name))
    try:
        changed = file.stat().st_mtime_ns
        return any(made.stat().st_mtime_ns >= changed for made in result.parent.glob(numbered))
    except OSError:
        return not file.exists()


def whole_files(
    folder: Path,
    is_done: Callable[[Path], bool],
    halted: Callable[[], bool],
    every_seconds: float = EVERY_SECONDS,
) -> Iterator[Path | None]:
    """Files of a folder, once they have stopped growing, for as long as it is watched.

    Args:
        folder: in which files are looked for; not in folders within.
        is_done: whether a file needs nothing any more; asked when it is found.
        halted: asked before each look.
        every_seconds: between looks; a file is whole that two in a row found alike.

    Yields:
        Each file once, and again when it has changed; None after a look that found none.

    Raises:
        OSError: the folder can't be read.
    """
    taken: dict[Path, Stamp] = {}
    before: dict[Path, Stamp] = {}
    while not halted():
        now = stamps_in(folder)
        due = [
            path
            for path, stamp in now.items()
            if before.get(path) == stamp and stamp[0] and taken.get(path) != stamp
        ]
        for path in due:
            taken[path] = now[path]
            if not is_done(path) and not halted():
                yield path
        if not due:
            yield None
            time.sleep(every_seconds)
        before = now
