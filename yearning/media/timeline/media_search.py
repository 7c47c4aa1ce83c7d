"""Media that a timeline names, found by path and by name under folders."""

import os
from collections.abc import Iterator, Sequence
from pathlib import Path
from urllib.parse import unquote, urlparse

MAX_FILES = 200_000
"""Looked through at the most, so that no search goes over a whole disk."""


class MediaSearch:
    """Finds media by how timelines name them.

    Args:
        beside: the timeline's folder, from which paths count.
        folders: looked through with all that is in them, in their order.
    """

    def __init__(self, beside: Path, folders: Sequence[Path]) -> None:
        self._beside = beside
        self._folders = [folder.resolve() for folder in folders]
        self._by_name: dict[str, list[Path]] | None = None

    def find_at(self, url: str) -> Path | None:
        """The file at a path or `file:` address; None where there is none."""
        parsed = urlparse(url)
        if parsed.scheme not in ("", "file") and len(parsed.scheme) > 1:
            return None
        path = Path(unquote(parsed.path)) if parsed.scheme == "file" else Path(unquote(url))
        try:
            found = (self._beside / path).resolve()
            return found if found.is_file() else None
        except (OSError, ValueError):
            return None

    def find_by_name(self, name: str) -> list[Path]:
        """Files of a name, with its ending or without, whatever its case; those beside first."""
        if self._by_name is None:
            self._by_name = {}
            for path in self._all():
                for key in dict.fromkeys((path.name.casefold(), path.stem.casefold())):
                    self._by_name.setdefault(key, []).append(path)
        key = name.replace("\\", "/").rpartition("/")[2].casefold()
        return self._by_name.get(key, [])

    def _all(self) -> Iterator[Path]:
        count = 0
        for top in dict.fromkeys((self._beside, *self._folders)):
            for folder, inner, names in os.walk(top):
                inner[:] = sorted(each for each in inner if not each.startswith("."))
                for name in sorted(names):
                    count += 1
                    if count > MAX_FILES:
                        return
                    yield Path(folder, name)
                if top == self._beside and top not in self._folders:
                    break  # of the timeline's own folder what lies in it, no more
