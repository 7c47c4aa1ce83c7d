"""Look-up table files by what they are, each read once while it stays as it is."""

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

from yearning.core.colour.tables import Prepared, Table
from yearning.core.look import Look, files_of
from yearning.media.clf import read_clf
from yearning.media.cube import read_cube
from yearning.media.errors import MediaError

READERS = {".cube": read_cube, ".clf": read_clf}
"""What reads files of each ending."""

KEPT = 8


def read_table(path: Path) -> Table:
    """The table in a file.

    Raises:
        MediaError: it is not there, or can't be used; the message says where and why.
    """
    reader = READERS.get(path.suffix.lower())
    if reader is None:
        raise MediaError(f"{path.name}: look-up tables end in {' or '.join(READERS)}")
    try:
        return reader(path)
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None


def prepared_table(path: Path) -> Prepared:
    """The table in a file, ready for pictures; kept while the file stays as it is.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    try:
        found = path.stat()
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    return _prepared(path, found.st_size, found.st_mtime_ns)


def table_place(folder: Path, name: str) -> Path:
    """Where the table that a look names is: in the folder, or one within.

    Raises:
        MediaError: the name leads out of the folder.
    """
    place = (folder / name).resolve()
    if not place.is_relative_to(folder.resolve()):
        raise MediaError(f"{name}: leads out of {folder}; put the table beside the look")
    return place


def tables_in(folder: Path) -> Callable[[str], Prepared]:
    """What finds tables by the names that looks have them under, in a folder."""
    return lambda name: prepared_table(table_place(folder, name))


def check_tables(look: Look, folder: Path) -> None:
    """Make sure that the tables of a look can be read.

    Raises:
        MediaError: one can't; the message names the step.
    """
    for here, name in files_of(look):
        try:
            prepared_table(table_place(folder, name))
        except MediaError as error:
            raise MediaError(f"{here}: {error}") from None


@lru_cache(maxsize=KEPT)
def _prepared(path: Path, size: int, changed: int) -> Prepared:
    return Prepared(read_table(path))
