"""A project is served by one process at a time."""

import fcntl
import json
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from yearning.store.errors import ProjectError

NAME = "served.lock"


@contextmanager
def served_by(folder: Path, address: str) -> Iterator[None]:
    """Hold a project for this process alone; one that is killed gives it back by itself.

    It is an advisory lock of the operating system (flock(2)) on a file in the folder, which says
    who holds it.

    Args:
        folder: the project's; made where it is not there.
        address: that it is served at.

    Raises:
        ProjectError: another process holds it; the message says which, and where.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        file = (folder / NAME).open("a+")
    except OSError as error:
        raise ProjectError(f"{folder}: can't be used as a project: {error}") from None
    with file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            raise ProjectError(f"{folder}: {_holder(file.name)}") from None
        file.truncate(0)
        json.dump({"process": os.getpid(), "address": address}, file)
        file.flush()
        yield


def _holder(path: str) -> str:
    try:
        held = json.loads(Path(path).read_text())
        who = f"process {held['process']} serves it at {held['address']}"
    except (OSError, ValueError, KeyError, TypeError):
        who = "another process serves it"
    return f"{who}; open that, or end it first"
