"""Whether a worker makes the pictures that are asked of it, and sees the files that it needs.

Two versions of the program, of a library or of a package of treatments make two pictures of one
look. What each has is told in words, to be compared where the render is asked for.
"""

import hashlib
import os
import sys
from collections.abc import Iterable
from functools import cache
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path
from typing import NamedTuple

import yearning
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.look.document import Look, named_files, walk_steps
from yearning.core.treatments import TREATMENTS, is_foreign
from yearning.farm.job import Job
from yearning.media.errors import MediaError
from yearning.media.plates.assets import asset_path

LIBRARIES = ("numba", "numpy", "opencv-python-headless", "av")
"""What pictures are computed, decoded and encoded by."""

CODE = ("core", "media", "farm")
"""Folders of the program that results are made by."""


class Needs(NamedTuple):
    """What a worker must have for a render."""

    versions: tuple[tuple[str, str], ...]
    """The names of the program, libraries and packages, and their versions."""
    packages: tuple[str, ...]
    """Of which the look has treatments."""
    mark: str
    """The name of a file in the render's folder."""


class Unfit(Exception):
    """A worker that can't do a chunk as it is asked; its arguments are its address, and why."""


def packages_of(look: Look) -> tuple[str, ...]:
    """Return the names of packages of others that a look's treatments are of, in order."""
    kinds = {placed.step.treatment for placed in walk_steps(look.steps)}
    return tuple(sorted({kind.partition(".")[0] for kind in kinds if is_foreign(kind)}))


@cache
def versions(packages: tuple[str, ...] = ()) -> dict[str, str]:
    """Return the versions of all that pictures are made by in this process.

    Args:
        packages: names of packages with treatments, too; one that is not installed is left out.
    """
    own = Path(yearning.__file__).parent
    files = sorted(path for folder in CODE for path in (own / folder).rglob("*.py"))
    found = {"Yearning": f"{yearning.__version__} ({_digest(files, own)})"}
    found |= {name: version(name) for name in LIBRARIES}
    for name in packages:
        try:
            found[name] = f"{version(name)} ({_digest(*_package_files(name))})"
        except PackageNotFoundError:
            continue
    return found


def _package_files(package: str) -> tuple[list[Path], Path]:
    """The files that a package's treatments are of, and the folder they are named from."""
    modules = {
        treatment.__module__.partition(".")[0]
        for kind, treatment in TREATMENTS.items()
        if kind.startswith(f"{package}.")
    }
    files: list[Path] = []
    folder = Path()
    for name in sorted(modules):
        file = Path(sys.modules[name].__file__ or "")
        folder = file.parent.parent if file.name == "__init__.py" else file.parent
        files += sorted(file.parent.rglob("*.py")) if file.name == "__init__.py" else [file]
    return files, folder


def _digest(files: Iterable[Path], folder: Path) -> str:
    whole = hashlib.sha256()
    for path in files:
        whole.update(f"{path.relative_to(folder)}\0".encode())
        whole.update(path.read_bytes())
    return whole.hexdigest()[:12]


def needs_of(look: Look, mark: str) -> Needs:
    """Return what a worker must have for a render of a look: what this process has.

    Args:
        look: whose packages are needed.
        mark: what the file in the render's folder says.
    """
    packages = packages_of(look)
    return Needs(tuple(versions(packages).items()), packages, mark)


def difference(wanted: Iterable[tuple[str, str]], packages: tuple[str, ...]) -> str | None:
    """Say what of the wanted versions this process has not; None where it has all.

    Args:
        wanted: names and versions.
        packages: names of those that the look needs.
    """
    own = versions(packages)
    for name, asked in wanted:
        if name not in own:
            return f"it has no package '{name}'; install {name} {asked.partition(' ')[0]} there"
        if own[name] != asked:
            return f"it has {name} {own[name]}, where the render is of {asked}"
    return None


def blindness(folder: Path, mark: str) -> str | None:
    """Say why a render's folder can't be worked in from here; None where it can.

    Args:
        folder: of the render.
        mark: what the file in it says.
    """
    if not folder.is_dir():
        return f"it does not see {folder}"
    if not (folder / mark).exists():
        return f"what it sees as {folder} is another folder"
    if not os.access(folder, os.W_OK):
        return f"it can't write to {folder}"
    return None


def missing_file(job: Job) -> str | None:
    """Say which file of a job can't be seen from here as it is; None where all can."""
    try:
        job.check_source()
        for named in named_files(job.look):
            path = asset_path(job.assets, named.name)
            if not (path.parent if is_frame_pattern(path.name) else path).exists():
                return f"it does not see {path}"
    except MediaError as error:
        return str(error)
    return None
