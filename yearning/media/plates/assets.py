"""Look-up tables and plates by their files, each read once while it stays as it is."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from yearning.core.cache import Cache
from yearning.core.colour.tables import PreparedTable, Table
from yearning.core.look.document import Look, named_files
from yearning.core.treatment.assets import Assets, PlateSource
from yearning.core.treatment.capabilities import NamesPlate
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate
from yearning.media.tables.clf import read_clf
from yearning.media.tables.cube import read_cube

TABLE_READERS: dict[str, Callable[[Path], Table]] = {".cube": read_cube, ".clf": read_clf}
"""What reads look-up tables, by suffix."""

DEFAULT_CACHE = Cache[Any](104 << 20)
"""Tables, open plates and their pictures, where no other cache is given: one of 2160 lines fits.

More would not be found again in a clip that is played once, and fresh memory costs time."""


def read_table(path: Path) -> Table:
    """The table in a file.

    Raises:
        MediaError: it is not there, or can't be used; the message says where and why.
    """
    reader = TABLE_READERS.get(path.suffix.lower())
    if reader is None:
        raise MediaError(f"{path.name}: look-up tables end in {' or '.join(TABLE_READERS)}")
    try:
        return reader(path)
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None


def prepared_table(path: Path, cache: Cache[Any] = DEFAULT_CACHE) -> PreparedTable:
    """The table in a file, ready for pictures; kept while the file stays as it is.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    table: PreparedTable = cache.region("tables").get_or_make(
        _file_key(path), lambda: PreparedTable(read_table(path))
    )
    return table


def open_plate(path: Path, cache: Cache[Any] = DEFAULT_CACHE) -> OpenPlate:
    """The plate in a file; kept open while the file stays as it is.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    key = _file_key(path)
    plate: OpenPlate = cache.region("plates").get_or_make(
        key, lambda: OpenPlate(path, cache.region(f"pictures of plate {key}"))
    )
    return plate


def asset_path(folder: Path, name: str) -> Path:
    """Return the path of a table or plate that a look names, within the folder.

    Raises:
        MediaError: the name leads out of the folder.
    """
    path = (folder / name).resolve()
    if not path.is_relative_to(folder.resolve()):
        raise MediaError(f"{name}: leads out of {folder}; put it beside the look")
    return path


def assets_in(folder: Path, cache: Cache[Any] = DEFAULT_CACHE) -> Assets:
    """Finds tables and plates in a folder, by the names that looks have for them."""
    return Assets(
        lambda name: prepared_table(asset_path(folder, name), cache),
        lambda name: open_plate(asset_path(folder, name), cache),
    )


class _MissingPlate:
    """A plate that can't be read: nothing of it is seen."""

    frames = 0

    def __getattr__(self, name: str) -> Any:
        raise AssertionError(f"{name} of a plate without frames")


def forgiving_assets_in(folder: Path, cache: Cache[Any] = DEFAULT_CACHE) -> Assets:
    """Find tables and plates for previews, where plates that can't be read are left out."""
    found = assets_in(folder, cache)

    def plate(name: str) -> PlateSource:
        try:
            return found.plate(name)
        except MediaError:
            return _MissingPlate()

    return Assets(found.table, plate)


def check_assets(look: Look, folder: Path) -> None:
    """Make sure that a look's tables and plates can be read, and that something of them is seen.

    Raises:
        MediaError: one can't; the message names the step.
    """
    found = assets_in(folder)
    for named in named_files(look):
        try:
            if not named.is_plate:
                found.table(named.name)
                continue
            plate = found.plate(named.name)
            if isinstance(named.treatment, NamesPlate):
                problem = named.treatment.validate_plate(plate)
                if problem is not None:
                    raise MediaError(problem)
        except MediaError as error:
            raise MediaError(f"{named.path}: {error}") from None


def _file_key(path: Path) -> tuple[str, int, int]:
    """Return a cache key of a file: its path, size and time."""
    try:
        found = path.stat()
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    return str(path), found.st_size, found.st_mtime_ns
