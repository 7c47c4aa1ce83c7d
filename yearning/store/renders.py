"""The renders of a project: what was asked, how far they are, and how they ended."""

import hashlib
import json
import time
from collections.abc import Collection
from pathlib import Path
from typing import Any, NamedTuple

from peewee import fn

from yearning.core.look.document import Look, look_from_json
from yearning.store.clips import Clip, Clips
from yearning.store.errors import NotThere
from yearning.store.readable_rows import readable
from yearning.store.slices import ALL, Slice
from yearning.store.tables import Tables


class Render(NamedTuple):
    """A render of the project."""

    id: int
    clip: Clip
    look: Look
    path: Path
    request: dict[str, Any]
    state: str
    done: int
    total: int
    message: str
    rank: float
    seconds: float
    asked: float
    ended: float | None
    put_away: float | None


class Renders:
    """The renders of a project, whose files are in its folder."""

    def __init__(self, tables: Tables, folder: Path, clips: Clips) -> None:
        self._tables = tables
        self._folder = folder
        self._clips = clips

    def new(
        self,
        clip: Clip,
        look: Look,
        total: int,
        ending: str = ".mp4",
        request: dict[str, Any] | None = None,
        numbered: bool = False,
        name: str | None = None,
    ) -> Render:
        """Add a render that waits, with a name of its own in `renders`.

        Args:
            clip: that is rendered.
            look: as it is on the clip.
            total: its frames.
            ending: of the file.
            request: what was asked of the result, to be given back as it is.
            numbered: a folder of numbered files, not one file.
            name: of the file; the clip's and the look's where it is left out.
        """
        with self._tables.writing():
            row = self._tables.Render.create(
                clip=clip.id,
                look=look.model_dump_json(),
                file="",
                request=json.dumps(request or {}),
                state="waiting",
                total=total,
                asked=time.time(),
            )
            named = [clip.name, look.name] if name is None else [name]
            stem = "-".join([*map(_file_name, named), str(row.id)])
            row.file = f"renders/{stem}/%05d{ending}" if numbered else f"renders/{stem}{ending}"
            row.rank = row.id
            row.save()
            return self._of(row)

    def note(
        self,
        render_id: int,
        state: str,
        done: int,
        message: str = "",
        *,
        ended: bool = False,
        seconds: float = 0,
    ) -> None:
        """Store how far a render is, and add to the seconds it was worked on.

        Args:
            render_id: the render's number.
            state: as it is now.
            done: frames.
            message: in words; empty for none.
            ended: note the time as that of its end.
            seconds: it was worked on since the last note.
        """
        with self._tables.writing():
            changes = {
                self._tables.Render.state: state,
                self._tables.Render.done: done,
                self._tables.Render.message: message,
                self._tables.Render.seconds: self._tables.Render.seconds + seconds,
                self._tables.Render.ended: time.time() if ended else None,
            }
            self._tables.Render.update(changes).where(self._tables.Render.id == render_id).execute()

    def put_away(self, render_id: int, *, away: bool = True) -> None:
        """Take a render off the list, or put it back; its files stay where they are.

        Args:
            render_id: the render's number.
            away: False puts it back.
        """
        with self._tables.writing():
            self._tables.Render.update(put_away=time.time() if away else None).where(
                self._tables.Render.id == render_id
            ).execute()

    def prioritize(self, render_id: int) -> None:
        """Put a render before all others that are not done."""
        with self._tables.writing():
            first = self._tables.Render.select(fn.MIN(self._tables.Render.rank)).scalar() or 0
            self._tables.Render.update(rank=first - 1).where(
                self._tables.Render.id == render_id
            ).execute()

    def pieces(self, render_id: int) -> Path:
        """Return the folder of a render's pieces while it is made, and of its small pictures."""
        return self._folder / "pieces" / str(render_id)

    def all(self, states: tuple[str, ...] = (), part: Slice = ALL) -> list[Render]:
        """Return renders, the last asked for first.

        Args:
            states: of which; of any where it is empty.
            part: which of them.
        """
        rows = self._tables.Render.select().order_by(self._tables.Render.id.desc())
        if states:
            rows = rows.where(self._tables.Render.state.in_(states))
        with self._tables.connection():
            return list(readable(part.of(rows), self._of))

    def first_of(self, state: str, but: Collection[int] = ()) -> Render | None:
        """Return the render of a state that has the lowest rank; None where there is none.

        Args:
            state: of the render.
            but: numbers of those that do not count.
        """
        table = self._tables.Render
        rows = table.select().where(table.state == state, table.id.not_in(list(but)))
        with self._tables.connection():
            return next(readable(rows.order_by(table.rank), self._of), None)

    def get(self, render_id: int) -> Render:
        """One render.

        Raises:
            NotThere: no render has that number.
        """
        with self._tables.connection():
            row = self._tables.Render.get_or_none(self._tables.Render.id == render_id)
            if row is None:
                raise NotThere(f"no render has the number {render_id}")
            return self._of(row)

    def _of(self, row: Any) -> Render:
        return Render(
            row.id,
            self._clips.of(row.clip),
            look_from_json(row.look, keep_absent=True),
            self._folder / row.file,
            json.loads(row.request),
            row.state,
            row.done,
            row.total,
            row.message,
            row.rank,
            row.seconds,
            row.asked,
            row.ended,
            row.put_away,
        )


NAME_BYTES = 80
"""Of a clip's and of a look's name in a file's, in UTF-8; file systems take 255 in all."""


def _file_name(name: str) -> str:
    """A name as part of a file's name: letters and digits joined by hyphens."""
    words = "".join(c.lower() if c.isalnum() else " " for c in name).split()
    return "-".join(words).encode()[:NAME_BYTES].decode(errors="ignore") or "untitled"


def result_digest(clip: str, look: dict[str, Any], request: dict[str, Any]) -> str:
    """Return a digest of what a result is made of.

    Args:
        clip: the digest of its file.
        look: as it is on the clip, as JSON.
        request: what is asked of the result, without its digest.
    """
    text = json.dumps([clip, look, request], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()
