"""A project folder: clips by what they hold, looks as revisions, renders."""

import hashlib
import json
import shutil
import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

from peewee import DatabaseError, SqliteDatabase, fn

from yearning.core.look import Look, look_from_json
from yearning.store import kept
from yearning.store.migrations import migrate
from yearning.store.models import (
    ClipRow,
    LookRow,
    RenderRow,
    RevisionRow,
    SettingRow,
    SteadinessRow,
    database,
)

DATABASE = "project.sqlite"


class ProjectError(Exception):
    """The folder can't be used as a project; the message says why."""


class NotThere(Exception):
    """No clip, look or render has that number."""


class Stale(Exception):
    """The edit was made from a revision that no longer stands."""


class NothingLeft(Exception):
    """There is nothing to undo, or to redo."""


class ClipLost(Exception):
    """The clip's file is gone or holds something else now; the message says what to do."""


class Clip(NamedTuple):
    """A clip of the project."""

    id: int
    name: str
    path: Path
    digest: str
    probe: dict[str, Any]
    reading: dict[str, Any]
    stamp: str


def _digest_of(clip: Clip, look: Look) -> str:
    """Tells a look's steps on a clip, as it is read, from all others."""
    said = [clip.reading, look.model_dump(mode="json", include={"steps"})]
    return hashlib.sha256(json.dumps(said, sort_keys=True).encode()).hexdigest()


class Standing(NamedTuple):
    """A look as it stands."""

    id: int
    revision: int
    look: Look
    can_undo: bool
    can_redo: bool


class Render(NamedTuple):
    """A render of the project."""

    id: int
    clip: Clip
    look: Look
    path: Path
    how: dict[str, Any]
    state: str
    done: int
    total: int
    message: str
    rank: float
    seconds: float
    asked: float
    ended: float | None


class Project:
    """A project folder, made when it is not there.

    Raises:
        ProjectError: it can't be made or opened.
        NewerProject: a later Yearning wrote it.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder.resolve()
        try:
            (self.folder / "media").mkdir(parents=True, exist_ok=True)
            (self.folder / "renders").mkdir(exist_ok=True)
            (self.folder / "pieces").mkdir(exist_ok=True)
            (self.folder / "incoming").mkdir(exist_ok=True)
            if (before := self.folder / "tables").is_dir() and not self.materials.exists():
                before.rename(self.materials)
            self.materials.mkdir(exist_ok=True)
            self._db = SqliteDatabase(
                self.folder / DATABASE,
                pragmas={"journal_mode": "wal", "foreign_keys": 1, "busy_timeout": 5000},
            )
            database.initialize(self._db)
            with self._db.connection_context():
                migrate(self._db)
            # While one connection stays open, SQLite's own files beside the database stay too: a
            # full disk, which has no room to make them anew, can still be read.
            self._open = sqlite3.connect(self.folder / DATABASE, check_same_thread=False)
            self._open.execute("SELECT count(*) FROM sqlite_schema").fetchone()
        except (OSError, DatabaseError, sqlite3.DatabaseError) as error:
            raise ProjectError(f"{folder}: can't be used as a project: {error}") from None
        for left in (self.folder / "incoming").iterdir():
            shutil.rmtree(left) if left.is_dir() else left.unlink()

    @property
    def name(self) -> str:
        """The folder's name."""
        return self.folder.name

    @property
    def materials(self) -> Path:
        """Where look-up tables and plates are, by names that tell what they hold."""
        return self.folder / "materials"

    def incoming(self, name: str) -> Path:
        """A new place in the project for a file that is still arriving."""
        suffix = "".join(c for c in Path(name).suffix if c.isalnum() or c == ".")[:10]
        return self.folder / "incoming" / f"{time.time_ns()}{suffix.lower() or '.file'}"

    @contextmanager
    def _writing(self) -> Iterator[None]:
        with self._db.connection_context(), self._db.atomic("immediate"):
            yield

    # Clips

    def add_clip(self, source: Path, name: str, digest: str, probe: dict[str, Any]) -> Clip:
        """Take a file into the project, by its digest; one that is there already is that clip.

        A `source` in the project's `incoming` is moved, another is copied. Where the project's own
        copy is gone or was changed, the new one takes its place.
        """
        with self._db.connection_context():
            known = ClipRow.get_or_none(ClipRow.digest == digest)
        if known is None:
            file = (
                f"media/{digest}/{source.name}"
                if kept.numbered(source)
                else (f"media/{digest}{source.suffix.lower()}")
            )
        else:
            file = known.file
        target = self.folder / file
        if known is None or not self._intact(self._clip(known)):
            self._take(source, target)
        with self._writing():
            row = ClipRow.get_or_none(ClipRow.digest == digest) or ClipRow(
                digest=digest, name=name, file=file, probe=json.dumps(probe), added=time.time()
            )
            row.stamp = kept.stamp(target)
            row.save()
            return self._clip(row)

    def _take(self, source: Path, target: Path) -> None:
        """Have a clip's file, or its folder of stills, in its place, whole or not at all."""
        if kept.numbered(source):
            source, target = source.parent, target.parent
            shutil.rmtree(target, ignore_errors=True)
        if source.parent == self.folder / "incoming":
            source.replace(target)
            return
        part = target.with_name(target.name + ".part")
        shutil.copytree(source, part) if source.is_dir() else shutil.copyfile(source, part)
        part.replace(target)

    def check_clip(self, clip: Clip) -> None:
        """Make sure that a clip's file holds what it held when it was brought in.

        Its bytes are read again only if its size or time has changed.

        Raises:
            ClipLost: it is gone, or holds something else.
        """
        if not self._intact(clip):
            what = "has changed since it was brought in" if kept.files(clip.path) else "is gone"
            raise ClipLost(
                f"{clip.name}: its file {what} ({clip.path}); drop the clip as it was on the page "
                "to put it back"
            )
        if kept.stamp(clip.path) != clip.stamp:
            with self._writing():
                changed = ClipRow.update(stamp=kept.stamp(clip.path)).where(ClipRow.id == clip.id)
                changed.execute()

    @staticmethod
    def _intact(clip: Clip) -> bool:
        return kept.intact(clip.path, clip.digest, clip.stamp)

    def read_clip(self, clip_id: int, reading: dict[str, Any], probe: dict[str, Any]) -> Clip:
        """Keep what the user says of a clip, and what it is when read so.

        Raises:
            NotThere: no clip has that number.
        """
        self.clip(clip_id)
        with self._writing():
            row = ClipRow.get_by_id(clip_id)
            row.reading, row.probe = json.dumps(reading), json.dumps(probe)
            row.save()
            return self._clip(row)

    def clips(self) -> list[Clip]:
        """All clips, in the order they came."""
        with self._db.connection_context():
            return [self._clip(row) for row in ClipRow.select().order_by(ClipRow.id)]

    def clip(self, clip_id: int) -> Clip:
        """One clip.

        Raises:
            NotThere: no clip has that number.
        """
        with self._db.connection_context():
            row = ClipRow.get_or_none(ClipRow.id == clip_id)
        if row is None:
            raise NotThere(f"no clip has the number {clip_id}")
        return self._clip(row)

    def _clip(self, row: ClipRow) -> Clip:
        return Clip(
            row.id,
            row.name,
            self.folder / row.file,
            row.digest,
            json.loads(row.probe),
            json.loads(row.reading),
            row.stamp,
        )

    # Looks

    def new_look(self, look: Look) -> Standing:
        """A new look, with its first revision."""
        with self._writing():
            row = LookRow.create(changed=time.time())
            return self._revise(row, look)

    def looks(self) -> list[Standing]:
        """All looks, the last changed first."""
        with self._db.connection_context():
            rows = LookRow.select().order_by(LookRow.changed.desc(), LookRow.id.desc())
            return [self._standing(row) for row in rows]

    def look(self, look_id: int) -> Standing:
        """A look as it stands.

        Raises:
            NotThere: no look has that number.
        """
        with self._db.connection_context():
            return self._standing(self._look_row(look_id))

    def change_look(self, look_id: int, made_from: int, look: Look) -> Standing:
        """A new revision of a look.

        Raises:
            NotThere: no look has that number.
            Stale: `made_from` is not the revision that stands.
        """
        with self._writing():
            row = self._look_row(look_id)
            if row.head != made_from:
                raise Stale(
                    f"the look has changed since (revision {row.head} stands, the edit was made "
                    f"from {made_from}); load it again and repeat the edit"
                )
            if self._standing(row).look == look:
                return self._standing(row)
            return self._revise(row, look)

    def undo(self, look_id: int) -> Standing:
        """Go back to the revision before.

        Raises:
            NotThere: no look has that number.
            NothingLeft: the first revision stands.
        """
        with self._writing():
            row = self._look_row(look_id)
            parent = RevisionRow.get_by_id(row.head).parent_id
            if parent is None:
                raise NothingLeft("there is nothing to undo")
            return self._stand(row, parent)

    def redo(self, look_id: int) -> Standing:
        """Go on to the revision that was made last from the one that stands.

        Raises:
            NotThere: no look has that number.
            NothingLeft: none was.
        """
        with self._writing():
            row = self._look_row(look_id)
            following = self._following(row.head)
            if following is None:
                raise NothingLeft("there is nothing to redo")
            return self._stand(row, following.id)

    # Steadiness

    def steadiness(self, clip: Clip, look: Look) -> dict[str, Any] | None:
        """What is known of how steady a look is on a clip as it is read; None if nothing is."""
        with self._writing():
            row = SteadinessRow.get_or_none(
                SteadinessRow.clip == clip.id, SteadinessRow.digest == _digest_of(clip, look)
            )
        return None if row is None else dict(json.loads(row.report))

    def keep_steadiness(self, clip: Clip, look: Look, report: dict[str, Any]) -> None:
        """Keep how steady a look is on a clip as it is read."""
        with self._writing():
            SteadinessRow.replace(
                clip=clip.id,
                digest=_digest_of(clip, look),
                report=json.dumps(report),
                made=time.time(),
            ).execute()

    def _look_row(self, look_id: int) -> LookRow:
        row = LookRow.get_or_none(LookRow.id == look_id)
        if row is None:
            raise NotThere(f"no look has the number {look_id}")
        return row

    def _revise(self, row: LookRow, look: Look) -> Standing:
        body = look.model_dump_json()
        revision = RevisionRow.create(
            look=row,
            parent=row.head,
            digest=hashlib.sha256(body.encode()).hexdigest(),
            body=body,
            made=time.time(),
        )
        return self._stand(row, revision.id)

    def _stand(self, row: LookRow, revision: int) -> Standing:
        row.head, row.changed = revision, time.time()
        row.save()
        return self._standing(row)

    def _following(self, revision: int) -> RevisionRow | None:
        children = RevisionRow.select().where(RevisionRow.parent == revision)
        return children.order_by(RevisionRow.id.desc()).first()

    def _standing(self, row: LookRow) -> Standing:
        head = RevisionRow.get_by_id(row.head)
        return Standing(
            row.id,
            row.head,
            look_from_json(head.body),
            head.parent_id is not None,
            self._following(row.head) is not None,
        )

    # Renders

    def new_render(
        self,
        clip: Clip,
        look: Look,
        total: int,
        ending: str = ".mp4",
        how: dict[str, Any] | None = None,
        numbered: bool = False,
    ) -> Render:
        """Note a render that waits; its file, or its folder of numbered ones, gets a name of its
        own in `renders`.

        `how` is what was asked of the result, to be given back as it is.
        """
        with self._writing():
            row = RenderRow.create(
                clip=clip.id,
                look=look.model_dump_json(),
                file="",
                how=json.dumps(how or {}),
                state="waiting",
                total=total,
                asked=time.time(),
            )
            stem = f"{_file_name(clip.name)}-{_file_name(look.name)}-{row.id}"
            row.file = f"renders/{stem}/%05d{ending}" if numbered else f"renders/{stem}{ending}"
            row.rank = row.id
            row.save()
            return self._render(row)

    def note_render(
        self,
        render_id: int,
        state: str,
        done: int,
        message: str = "",
        *,
        ended: bool = False,
        seconds: float = 0,
    ) -> None:
        """Note how far a render is, and that it was worked on for so many more seconds."""
        with self._writing():
            changes = {
                RenderRow.state: state,
                RenderRow.done: done,
                RenderRow.message: message,
                RenderRow.seconds: RenderRow.seconds + seconds,
                RenderRow.ended: time.time() if ended else None,
            }
            RenderRow.update(changes).where(RenderRow.id == render_id).execute()

    def sooner(self, render_id: int) -> None:
        """Put a render before all others that are not done."""
        with self._writing():
            first = RenderRow.select(fn.MIN(RenderRow.rank)).scalar() or 0
            RenderRow.update(rank=first - 1).where(RenderRow.id == render_id).execute()

    def pieces(self, render_id: int) -> Path:
        """Where a render's pieces are while it is made, and small pictures of it stay."""
        return self.folder / "pieces" / str(render_id)

    def renders(self, states: tuple[str, ...] = ()) -> list[Render]:
        """All renders, or those in one of `states`, the last asked for first."""
        rows = RenderRow.select().order_by(RenderRow.id.desc())
        if states:
            rows = rows.where(RenderRow.state.in_(states))
        with self._db.connection_context():
            return [self._render(row) for row in rows]

    def render(self, render_id: int) -> Render:
        """One render.

        Raises:
            NotThere: no render has that number.
        """
        with self._db.connection_context():
            row = RenderRow.get_or_none(RenderRow.id == render_id)
            if row is None:
                raise NotThere(f"no render has the number {render_id}")
            return self._render(row)

    def _render(self, row: RenderRow) -> Render:
        return Render(
            row.id,
            self._clip(row.clip),
            look_from_json(row.look),
            self.folder / row.file,
            json.loads(row.how),
            row.state,
            row.done,
            row.total,
            row.message,
            row.rank,
            row.seconds,
            row.asked,
            row.ended,
        )

    # Settings

    def setting(self, name: str) -> dict[str, Any]:
        """A setting of the project; empty if it was never set."""
        with self._db.connection_context():
            row = SettingRow.get_or_none(SettingRow.name == name)
            return {} if row is None else json.loads(row.value)

    def set_setting(self, name: str, value: dict[str, Any]) -> None:
        """Keep a setting of the project."""
        with self._writing():
            SettingRow.replace(name=name, value=json.dumps(value)).execute()


def _file_name(name: str) -> str:
    """A name as part of a file's name: letters and digits joined by hyphens."""
    words = "".join(c.lower() if c.isalnum() else " " for c in name).split()
    return "-".join(words)[:60] or "untitled"
