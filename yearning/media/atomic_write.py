"""Files that appear only when they are whole."""

import glob
import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

PART = ".part"


@contextmanager
def atomic_write(path: Path) -> Iterator[Path]:
    """Yield a temporary path beside `path`; it is renamed at the end, or deleted on an error.

    Two that write the same file at once do not meet.
    """
    part = path.with_name(f".{path.name}.{os.getpid()}-{threading.get_ident()}{PART}")
    try:
        yield part
        part.replace(path)
    except BaseException:
        part.unlink(missing_ok=True)
        raise


def discard_parts(path: Path) -> None:
    """Delete what writers of `path` that were killed have left beside it; none may be at work."""
    for part in path.parent.glob(f".{glob.escape(path.name)}.*{PART}"):
        part.unlink(missing_ok=True)
