"""Look-up tables and plates by their files, each read once while it stays as it is."""

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any

from yearning.core.colour.tables import PreparedTable, Table
from yearning.core.look.document import Look, named_files
from yearning.core.treatment.assets import Assets, PlateSource
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate
from yearning.media.tables.clf import read_clf
from yearning.media.tables.cube import read_cube

READERS = {".cube": read_cube, ".clf": read_clf}
"""What reads look-up tables of each ending."""

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


def prepared_table(path: Path) -> PreparedTable:
    """The table in a file, ready for pictures; kept while the file stays as it is.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    return _known(_prepared, path)


def open_plate(path: Path) -> OpenPlate:
    """The plate in a file; kept open while the file stays as it is.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    return _known(_opened, path)


def asset_path(folder: Path, name: str) -> Path:
    """Where the table or plate that a look names is: in the folder, or one within.

    Raises:
        MediaError: the name leads out of the folder.
    """
    place = (folder / name).resolve()
    if not place.is_relative_to(folder.resolve()):
        raise MediaError(f"{name}: leads out of {folder}; put it beside the look")
    return place


def assets_in(folder: Path) -> Assets:
    """What finds tables and plates by the names that looks have them under, in a folder."""
    return Assets(
        lambda name: prepared_table(asset_path(folder, name)),
        lambda name: open_plate(asset_path(folder, name)),
    )


class _Missing:
    """A plate that can't be read: nothing of it is seen."""

    frames = 0

    def __getattr__(self, name: str) -> Any:
        raise AssertionError(f"{name} of a plate without frames")


def forgiving_assets_in(folder: Path) -> Assets:
    """The same to look at a look with: a plate that can't be read leaves the rest to be seen."""
    found = assets_in(folder)

    def plate(name: str) -> PlateSource:
        try:
            return found.plate(name)
        except MediaError:
            return _Missing()

    return Assets(found.table, plate)


def check_assets(look: Look, folder: Path) -> None:
    """Make sure that the tables and plates of a look can be read, and something of them is used.

    Raises:
        MediaError: one can't; the message names the step.
    """
    found = assets_in(folder)
    for named in named_files(look):
        try:
            if not named.plate:
                found.table(named.name)
            elif complaint := named.settings.complaint(found.plate(named.name)):
                raise MediaError(complaint)
        except MediaError as error:
            raise MediaError(f"{named.here}: {error}") from None


def _known(kept: Callable[[Path, int, int], Any], path: Path) -> Any:
    """What is kept of a file, by its size and its time."""
    try:
        found = path.stat()
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    return kept(path, found.st_size, found.st_mtime_ns)


@lru_cache(maxsize=KEPT)
def _prepared(path: Path, size: int, changed: int) -> PreparedTable:
    return PreparedTable(read_table(path))


@lru_cache(maxsize=KEPT)
def _opened(path: Path, size: int, changed: int) -> OpenPlate:
    return OpenPlate(path)
