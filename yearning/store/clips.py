"""The clips of a project, identified by the SHA-256 of their content."""

import json
import shutil
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, NamedTuple

from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.validation import plain_text
from yearning.store import content_store
from yearning.store.errors import ClipLost, NotThere
from yearning.store.slices import ALL, Slice
from yearning.store.tables import Tables

NAME_LENGTH = 200
"""Characters of a clip's name."""


class Clip(NamedTuple):
    """A clip of the project."""

    id: int
    name: str
    path: Path
    digest: str
    probe: dict[str, Any]
    reading: dict[str, Any]
    stamp: str


class Clips:
    """The clips of a project, whose files are in its folder."""

    def __init__(self, tables: Tables, folder: Path) -> None:
        self._tables = tables
        self._folder = folder
        self._elsewhere = TemporaryDirectory(prefix="yearning-") if tables.read_only else None

    def add(self, source: Path, name: str, digest: str, probe: dict[str, Any]) -> Clip:
        """Take a file into the project, by its digest; one that is there already is that clip.

        Where the project's own copy is gone or was changed, the new one takes its place.

        Args:
            source: the file; moved from the project's `incoming`, copied from elsewhere.
            name: what the clip is called.
            digest: its SHA-256.
            probe: what it was found to be.
        """
        with self._tables.connection():
            known = self._tables.Clip.get_or_none(self._tables.Clip.digest == digest)
        if known is None:
            file = (
                f"media/{digest}/{source.name}"
                if is_frame_pattern(source.name)
                else (f"media/{digest}{source.suffix.lower()}")
            )
        else:
            file = known.file
        target = self._folder / file
        if known is None or not self._intact(self.of(known)):
            self._take(source, target)
        with self._tables.writing():
            row = self._tables.Clip.get_or_none(
                self._tables.Clip.digest == digest
            ) or self._tables.Clip(
                digest=digest,
                name=plain_text(name)[:NAME_LENGTH],
                file=file,
                probe=json.dumps(probe),
                added=time.time(),
            )
            row.stamp, row.deleted = content_store.stamp(target), None
            row.save()
            return self.of(row)

    def delete(self, clip_id: int) -> None:
        """Take a clip out of the project; its file and renders stay, and `restore` brings it back.

        Raises:
            NotThere: no clip has that number.
        """
        self._set_deleted(self.get(clip_id).id, time.time())

    def restore(self, clip_id: int) -> Clip:
        """Bring a deleted clip back as it was; one that is there stays.

        Raises:
            NotThere: no clip ever had that number.
        """
        self._set_deleted(clip_id, None)
        return self.get(clip_id)

    def _set_deleted(self, clip_id: int, when: float | None) -> None:
        with self._tables.writing():
            table = self._tables.Clip
            table.update(deleted=when).where(table.id == clip_id).execute()

    def _take(self, source: Path, target: Path) -> None:
        """Move a clip's file, or its folder of stills, into place, whole or not at all.

        It is on the disk before a row says so.
        """
        if is_frame_pattern(source.name):
            source, target = source.parent, target.parent
            shutil.rmtree(target, ignore_errors=True)
        if source.parent != self._folder / "incoming":
            part = target.with_name(target.name + ".part")
            shutil.copytree(source, part) if source.is_dir() else shutil.copyfile(source, part)
            source = part
        for file in (*source.iterdir(), source) if source.is_dir() else (source,):
            content_store.sync(file)
        source.replace(target)
        content_store.sync(target.parent)

    def check(self, clip: Clip) -> None:
        """Make sure that a clip's file holds what it held when it was brought in.

        Its bytes are read again only if its size or time has changed.

        Raises:
            ClipLost: it is gone, or holds something else.
        """
        if not self._intact(clip):
            what = (
                "has changed since it was brought in"
                if content_store.files(clip.path)
                else "is gone"
            )
            raise ClipLost(
                f"{clip.name}: its file {what} ({clip.path}); drop the clip as it was on the page "
                "to put it back"
            )
        if content_store.stamp(clip.path) != clip.stamp and not self._tables.read_only:
            with self._tables.writing():
                changed = self._tables.Clip.update(stamp=content_store.stamp(clip.path)).where(
                    self._tables.Clip.id == clip.id
                )
                changed.execute()

    def derived_path(self, clip: Clip, ending: str) -> Path:
        """Return the path of a file that is derived from a clip.

        It lies beside the clip; of a project that is open for looking, which gains no files, in a
        temporary folder.

        Args:
            clip: of the project.
            ending: of the file.
        """
        return self.derived_place(clip.path.with_suffix(ending), f"{clip.digest}{ending}")

    def derived_place(self, place: Path, name: str) -> Path:
        """Return where a file is that is derived from another.

        It is `place`; of a project that is open for looking, a file of that name in a temporary
        folder.

        Args:
            place: where it is kept.
            name: of the file, where the project gains none.
        """
        if self._elsewhere is None or place.exists():
            return place
        return Path(self._elsewhere.name) / name

    @staticmethod
    def _intact(clip: Clip) -> bool:
        return content_store.intact(clip.path, clip.digest, clip.stamp)

    def read(self, clip_id: int, reading: dict[str, Any], probe: dict[str, Any]) -> Clip:
        """Keep how a clip is read, and what it is when read so; return it.

        Args:
            clip_id: the clip's number.
            reading: what the user says of it.
            probe: what it is found to be.

        Raises:
            NotThere: no clip has that number.
        """
        self.get(clip_id)
        with self._tables.writing():
            row = self._tables.Clip.get_by_id(clip_id)
            row.reading, row.probe = json.dumps(reading), json.dumps(probe)
            row.save()
            return self.of(row)

    def all(self, part: Slice = ALL) -> list[Clip]:
        """All clips but those deleted, in the order they came; or a part of them."""
        table = self._tables.Clip
        rows = part.of(table.select().where(table.deleted.is_null()).order_by(table.id))
        with self._tables.connection():
            return [self.of(row) for row in rows]

    def get(self, clip_id: int) -> Clip:
        """One clip.

        Raises:
            NotThere: no clip has that number.
        """
        with self._tables.connection():
            table = self._tables.Clip
            row = table.get_or_none(table.id == clip_id, table.deleted.is_null())
        if row is None:
            raise NotThere(f"no clip has the number {clip_id}")
        return self.of(row)

    def of(self, row: Any) -> Clip:
        """The clip of a row."""
        return Clip(
            row.id,
            row.name,
            self._folder / row.file,
            row.digest,
            json.loads(row.probe),
            json.loads(row.reading),
            row.stamp,
        )
