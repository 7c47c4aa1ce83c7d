"""Several files as one download, made while it is sent."""

import io
from collections.abc import Iterator
from pathlib import Path
from zipfile import ZIP_STORED, ZipFile, ZipInfo

PART = 1 << 20


class _Written(io.RawIOBase):
    """What was written since it was last taken."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, data: object) -> int:
        self._parts.append(bytes(data))  # type: ignore[call-overload]
        return len(self._parts[-1])

    def take(self) -> bytes:
        taken, self._parts = b"".join(self._parts), []
        return taken


def zip_stream(files: list[Path]) -> Iterator[bytes]:
    """A ZIP archive (ISO/IEC 21320-1) of the files, stored as they are, part by part."""
    out = _Written()
    with ZipFile(out, "w", ZIP_STORED) as archive:
        for path in files:
            entry = ZipInfo.from_file(path, path.name)
            with archive.open(entry, "w") as into, path.open("rb") as file:
                while part := file.read(PART):
                    into.write(part)
                    yield out.take()
    yield out.take()
