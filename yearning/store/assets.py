"""Tables and plates in a project's folder, by names that contain a digest of their content."""

import hashlib
from pathlib import Path

from yearning.store.content_store import sync

MARK = 12
"""Letters of a file's digest in its name."""

TITLE_BYTES = 120
"""Of a file's title in its name, in UTF-8."""


def kept_name(title: str, data: Path) -> str:
    """The name a file is kept under: its title, a part of its digest, and its ending."""
    with data.open("rb") as file:
        mark = hashlib.file_digest(file, "sha256").hexdigest()[:MARK]
    plain = "".join(c if c.isalnum() else "-" for c in title)
    stem = plain.encode()[:TITLE_BYTES].decode(errors="ignore")
    return f"{stem}.{mark}{data.suffix.lower()}"


def title_of(name: str) -> str:
    """What a file that is kept is called."""
    return name.rsplit(".", 2)[0].replace("-", " ").strip()


def keep(data: Path, folder: Path, title: str) -> Path:
    """Move a file into the folder; the same one again is kept once."""
    sync(data)
    kept = data.replace(folder / kept_name(title, data))
    sync(folder)
    return kept
