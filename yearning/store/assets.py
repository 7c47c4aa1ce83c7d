"""Tables and plates in a project's folder, by names that contain a digest of their content."""

import hashlib
from pathlib import Path

from yearning.store.content_store import sync
from yearning.store.errors import NotThere

MARK = 12
"""Letters of a file's digest in its name."""

TITLE_BYTES = 120
"""Of a file's title in its name, in UTF-8."""


def kept_name(title: str, data: Path) -> str:
    """Return the name a file is kept under: its title, a part of its digest, and its ending.

    Args:
        title: what it is called.
        data: the file.
    """
    with data.open("rb") as file:
        mark = hashlib.file_digest(file, "sha256").hexdigest()[:MARK]
    plain = "".join(c if c.isalnum() else "-" for c in title)
    stem = plain.encode()[:TITLE_BYTES].decode(errors="ignore")
    return f"{stem}.{mark}{data.suffix.lower()}"


def title_of(name: str) -> str:
    """What a file that is kept is called."""
    return name.rsplit(".", 2)[0].replace("-", " ").strip()


def keep(data: Path, folder: Path, title: str) -> Path:
    """Move a file into a folder and return where it is; the same one again is kept once.

    Args:
        data: the file.
        folder: of the project.
        title: what it is called.
    """
    sync(data)
    kept = data.replace(folder / kept_name(title, data))
    sync(folder)
    return kept


DELETED = ".deleted"
"""The folder, in that of the files, where those lie that were deleted."""


def delete(folder: Path, name: str) -> None:
    """Take a file out of the folder; `restore` brings it back.

    Args:
        folder: of the project.
        name: of the file.

    Raises:
        NotThere: there is no such file.
    """
    (folder / DELETED).mkdir(exist_ok=True)
    _move(folder / name, folder / DELETED / name)


def restore(folder: Path, name: str) -> Path:
    """Bring a deleted file back and return where it is; one that is there stays.

    Args:
        folder: of the project.
        name: of the file.

    Raises:
        NotThere: there never was such a file.
    """
    kept = folder / name
    if not kept.is_file():
        _move(folder / DELETED / name, kept)
    return kept


def _move(source: Path, target: Path) -> None:
    try:
        source.replace(target)
    except OSError as error:
        if source.exists():
            raise
        raise NotThere(f"the project has no file {target.name[:80]}") from error
    sync(target.parent)
