"""Tables, plates, tracks and grain by their files, each read once while it stays as it is."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from yearning.core.cache import Cache
from yearning.core.colour.tables import Lut, PreparedTable
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.look.document import Look, named_files
from yearning.core.motion.tracks import Track, TrackError, parse_track
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scanned_grain import GrainError, ScannedGrain, parse_grain
from yearning.core.treatment.assets import Assets, PlateSource
from yearning.core.treatment.capabilities import NamesPlate
from yearning.core.validation import plain_text
from yearning.media.decode.sequence import found_stills
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate
from yearning.media.tables.clf import read_clf
from yearning.media.tables.cube import read_cube

TRACK_SUFFIX = ".json"

GRAIN_SUFFIX = ".grain"

MAX_GRAIN_BYTES = 4 << 20
"""No grain's file is larger."""

TABLE_READERS: dict[str, Callable[[Path], Lut]] = {".cube": read_cube, ".clf": read_clf}
"""What reads look-up tables, by suffix."""

DEFAULT_CACHE = Cache[Any](104 << 20)
"""Tables, and pictures of plates, where no other cache is given: one of 2160 lines fits.

More would not be found again in a clip that is played once, and fresh memory costs time."""


DEFAULT_PLATES = Cache[Any](768 << 20)
"""Open plates, where no other cache is given: the largest still that can be used fits."""


def read_table(path: Path) -> Lut:
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
    """Return the table in a file, ready for pictures; kept while the file stays as it is.

    Args:
        path: of the file.
        cache: that keeps it.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    table: PreparedTable = cache.region("tables").get_or_make(
        _file_key(path), lambda: PreparedTable(read_table(path))
    )
    return table


def open_plate(path: Path, cache: Cache[Any] = DEFAULT_CACHE) -> OpenPlate:
    """Return the plate in a file; kept open while the file stays as it is.

    Args:
        path: of the file.
        cache: that keeps it.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    key = _file_key(path)
    plates = DEFAULT_PLATES if cache is DEFAULT_CACHE else cache.region("plates")
    plate: OpenPlate = plates.get_or_make(
        key, lambda: OpenPlate(path, cache.region(f"pictures of plate {key}"))
    )
    return plate


def read_track(path: Path, cache: Cache[Any] = DEFAULT_CACHE) -> Track:
    """Return the track in a file; kept while the file stays as it is.

    Args:
        path: of the file.
        cache: that keeps it.

    Raises:
        MediaError: it is not there, or can't be used.
    """

    def read() -> Track:
        try:
            return parse_track(path.read_bytes())
        except TrackError as error:
            raise MediaError(f"{path.name}: {error}") from None

    track: Track = cache.region("tracks").get_or_make(_file_key(path), read)
    return track


def read_grain(path: Path) -> ScannedGrain:
    """The grain in a file.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    try:
        if path.stat().st_size > MAX_GRAIN_BYTES:
            raise MediaError(f"{path.name}: not measured grain: it is too large")
        return parse_grain(path.read_bytes())
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    except GrainError as error:
        raise MediaError(f"{path.name}: {error}") from None


def prepared_grain(path: Path, cache: Cache[Any] = DEFAULT_CACHE) -> PreparedGrain:
    """Return the grain in a file, ready for pictures; kept while the file stays as it is.

    Args:
        path: of the file.
        cache: that keeps it.

    Raises:
        MediaError: it is not there, or can't be used.
    """
    grain: PreparedGrain = cache.region("grain").get_or_make(
        _file_key(path), lambda: PreparedGrain(read_grain(path))
    )
    return grain


def asset_path(folder: Path, name: str) -> Path:
    """Return the path of a file that a look names, within the folder.

    Args:
        folder: of the look or project.
        name: as the look has it.

    Raises:
        MediaError: the name leads out of the folder.
    """
    try:
        path = (folder / name).resolve()
    except (ValueError, OSError):
        raise MediaError(f"{plain_text(name)[:80]}: is no name of a file") from None
    if not path.is_relative_to(folder.resolve()):
        raise MediaError(f"{name}: leads out of {folder}; put it beside the look")
    return path


def assets_in(folder: Path, cache: Cache[Any] = DEFAULT_CACHE) -> Assets:
    """Return what finds files in a folder, by the names that looks have for them.

    Args:
        folder: of the look or project.
        cache: keeps what was read.
    """
    return Assets(
        lambda name: prepared_table(asset_path(folder, name), cache),
        lambda name: open_plate(asset_path(folder, name), cache),
        lambda name: read_track(asset_path(folder, name), cache),
        lambda name: prepared_grain(asset_path(folder, name), cache),
    )


class _MissingPlate:
    """A plate that can't be read: nothing of it is seen."""

    frames = 0

    def __getattr__(self, name: str) -> Any:
        raise AssertionError(f"{name} of a plate without frames")


def forgiving_assets_in(folder: Path, cache: Cache[Any] = DEFAULT_CACHE) -> Assets:
    """Return what finds files for previews, where some may be unreadable.

    Such plates are left out, and what rides on such a track stays where it is.

    Args:
        folder: of the project.
        cache: keeps what was read.
    """
    found = assets_in(folder, cache)

    def plate(name: str) -> PlateSource:
        try:
            return found.plate(name)
        except MediaError:
            return _MissingPlate()

    def track(name: str) -> Track | None:
        try:
            return found.track(name)
        except MediaError:
            return None

    return found._replace(plate=plate, track=track)


def check_assets(look: Look, folder: Path, digest: Callable[[], str] | None = None) -> None:
    """Make sure that a look's files can be read and used.

    Something of its plates is seen, and its tracks are of the clip.

    Args:
        look: the look.
        folder: that its files are named from.
        digest: gives the SHA-256 of the clip, where there is one.

    Raises:
        MediaError: one can't; the message names the step.
    """
    found = assets_in(folder)
    for named in named_files(look):
        try:
            if named.kind == "table":
                found.table(named.name)
                continue
            if named.kind == "grain":
                found.grain(named.name)
                continue
            if named.kind == "track":
                track = found.track(named.name)
                if digest is not None and track is not None and track.clip != digest():
                    raise MediaError(
                        f"{named.name} follows a part of another clip; "
                        "track it on this one, or take it out"
                    )
                continue
            plate = found.plate(named.name)
            if isinstance(named.treatment, NamesPlate):
                problem = named.treatment.validate_plate(plate)
                if problem is not None:
                    raise MediaError(problem)
        except MediaError as error:
            raise MediaError(f"{named.path}: {error}") from None


def _file_key(path: Path) -> tuple[str, int, int]:
    """Return a cache key of a file, or of the first of numbered stills: path, size and time."""
    try:
        found = (found_stills(path)[0] if is_frame_pattern(path.name) else path).stat()
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    return str(path), found.st_size, found.st_mtime_ns
