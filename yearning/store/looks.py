"""Looks of a project, and their fittings to clips, as revisions."""

import hashlib
import json
import time
from collections.abc import Mapping
from typing import Any, NamedTuple

from yearning.core.look.changes import LookChange, describe_change
from yearning.core.look.document import Look, look_from_json
from yearning.core.look.fitting import ClipOverrides, apply_fitting, check_fitting, prune_fitting
from yearning.core.look.renderable import check_absent
from yearning.store.errors import NothingLeft, NotThere, Stale
from yearning.store.readable_rows import readable
from yearning.store.slices import ALL, Slice
from yearning.store.tables import Tables


class CurrentRevision(NamedTuple):
    """A look as it is now: its current revision."""

    id: int
    revision: int
    look: Look
    undoes: LookChange | None
    """What Undo takes back; None at the first revision."""
    redoes: LookChange | None
    """What Redo makes again; None at the last."""
    fittings: Mapping[int, ClipOverrides]
    """What of it holds for one clip alone, by the clips' numbers."""

    def look_on(self, clip: int) -> Look:
        """The look as it stands on a clip."""
        own = self.fittings.get(clip)
        return self.look if own is None else apply_fitting(self.look, own).look


class Looks:
    """The looks of a project; each is a line of revisions, one of which is current."""

    def __init__(self, tables: Tables) -> None:
        self._tables = tables

    def new(self, look: Look) -> CurrentRevision:
        """A new look, with its first revision."""
        with self._tables.writing():
            row = self._tables.Look.create(changed=time.time())
            return self._revise(row, look, {})

    def all(self, part: Slice = ALL) -> list[CurrentRevision]:
        """All looks but those deleted, the last changed first; or a part of them."""
        table = self._tables.Look
        with self._tables.connection():
            kept = table.select().where(table.deleted.is_null())
            rows = part.of(kept.order_by(table.changed.desc(), table.id.desc()))
            return list(readable(rows, self._current))

    def get(self, look_id: int) -> CurrentRevision:
        """A look as it is now.

        Raises:
            NotThere: no look has that number.
        """
        with self._tables.connection():
            return self._current(self._row(look_id))

    def change(
        self,
        look_id: int,
        made_from: int,
        look: Look,
        fittings: Mapping[int, ClipOverrides] | None = None,
    ) -> CurrentRevision:
        """A new revision of a look.

        What fittings say of steps that are gone goes with these.

        Args:
            look_id: the look's number.
            made_from: the revision that the change was made from.
            look: what all clips share from now on.
            fittings: what holds for one clip alone, by the clips' numbers; None as it is.

        Raises:
            NotThere: no look has that number, or no clip.
            Stale: `made_from` is not the current revision.
            InvalidLookError: a fitting that is new does not go with the look, or a step that is new
                is of a package that is not installed.
        """
        with self._tables.writing():
            row = self._row(look_id)
            if row.head != made_from:
                raise Stale(
                    f"the look has changed since (revision {row.head} is current, the edit "
                    f"was made from {made_from}); load it again and repeat the edit"
                )
            before = self._current(row)
            check_absent(look, before.look)
            own = (
                before.fittings
                if fittings is None
                else self._validate_fittings(look, fittings, before)
            )
            own = {clip: prune_fitting(look, fitting) for clip, fitting in own.items()}
            own = {clip: fitting for clip, fitting in own.items() if fitting.steps}
            if before.look == look and before.fittings == own:
                return before
            return self._revise(row, look, own)

    def undo(self, look_id: int, shown: int | None = None) -> CurrentRevision:
        """Go back to the revision before.

        Args:
            look_id: the look's number.
            shown: the revision that it is asked from; None for whichever is current.

        Raises:
            NotThere: no look has that number.
            Stale: another revision is current than the one it is asked from.
            NothingLeft: the first revision is current.
        """
        with self._tables.writing():
            row = self._shown_row(look_id, shown)
            head: Any = self._tables.Revision.get_by_id(row.head)
            parent = head.parent_id
            if parent is None:
                raise NothingLeft("there is nothing to undo")
            return self._make_current(row, parent)

    def redo(self, look_id: int, shown: int | None = None) -> CurrentRevision:
        """Go on to the revision that was made last from the current one.

        Args:
            look_id: the look's number.
            shown: the revision that it is asked from; None for whichever is current.

        Raises:
            NotThere: no look has that number.
            Stale: another revision is current than the one it is asked from.
            NothingLeft: none was.
        """
        with self._tables.writing():
            row = self._shown_row(look_id, shown)
            following = self._following(row.head)
            if following is None:
                raise NothingLeft("there is nothing to redo")
            return self._make_current(row, following.id)

    def delete(self, look_id: int) -> None:
        """Delete a look; its revisions stay, so that `restore` brings it back.

        Raises:
            NotThere: no look has that number.
        """
        with self._tables.writing():
            row = self._row(look_id)
            row.deleted = time.time()
            row.save()

    def restore(self, look_id: int) -> CurrentRevision:
        """Bring a deleted look back as it was; one that is there stays.

        Raises:
            NotThere: no look ever had that number.
        """
        with self._tables.writing():
            row = self._tables.Look.get_or_none(self._tables.Look.id == look_id)
            if row is None:
                raise NotThere(f"no look has the number {look_id}")
            row.deleted = None
            row.save()
            return self._current(row)

    def _row(self, look_id: int) -> Any:
        table = self._tables.Look
        row = table.get_or_none(table.id == look_id, table.deleted.is_null())
        if row is None:
            raise NotThere(f"no look has the number {look_id}")
        return row

    def _shown_row(self, look_id: int, shown: int | None) -> Any:
        row = self._row(look_id)
        if shown is not None and row.head != shown:
            raise Stale(
                f"the look has changed elsewhere (revision {row.head} is current, {shown} is "
                "shown); look at it first"
            )
        return row

    def _validate_fittings(
        self, look: Look, fittings: Mapping[int, ClipOverrides], before: CurrentRevision
    ) -> Mapping[int, ClipOverrides]:
        """Return fittings, of which the new ones are checked against the look and the clips.

        Raises:
            NotThere: no clip has that number.
            InvalidLookError: one does not go with the look.
        """
        for clip, fitting in fittings.items():
            if fitting != before.fittings.get(clip):
                if self._tables.Clip.get_or_none(self._tables.Clip.id == clip) is None:
                    raise NotThere(f"fittings.{clip}: no clip has that number")
                check_fitting(look, prune_fitting(look, fitting), f"fittings.{clip}")
        return fittings

    def _revise(
        self, row: Any, look: Look, fittings: Mapping[int, ClipOverrides]
    ) -> CurrentRevision:
        body = look.model_dump_json()
        revision = self._tables.Revision.create(
            look=row,
            parent=row.head,
            digest=hashlib.sha256(body.encode()).hexdigest(),
            body=body,
            fittings=_fittings_json(fittings),
            made=time.time(),
        )
        return self._make_current(row, revision.id)

    def _make_current(self, row: Any, revision: int) -> CurrentRevision:
        row.head, row.changed = revision, time.time()
        row.save()
        return self._current(row)

    def _following(self, revision: int) -> Any:
        children = self._tables.Revision.select().where(self._tables.Revision.parent == revision)
        return children.order_by(self._tables.Revision.id.desc()).first()

    def _current(self, row: Any) -> CurrentRevision:
        head: Any = self._tables.Revision.get_by_id(row.head)
        here = self._state(head)
        following = self._following(row.head)
        undoes = redoes = None
        if head.parent_id is not None:
            undoes = self._describe_change(self._state(head.parent), here)
        if following is not None:
            redoes = self._describe_change(here, self._state(following))
        return here._replace(id=row.id, undoes=undoes, redoes=redoes)

    @staticmethod
    def _state(revision: Any) -> CurrentRevision:
        """What a revision says, by itself."""
        fittings = _fittings_of(revision.fittings)
        look = look_from_json(revision.body, keep_absent=True)
        return CurrentRevision(0, revision.id, look, None, None, fittings)

    def _describe_change(self, before: CurrentRevision, after: CurrentRevision) -> LookChange:
        """What makes one revision of another, in words: of one clip alone, its name with it."""
        clips = before.fittings.keys() | after.fittings.keys()
        other = [c for c in sorted(clips) if before.fittings.get(c) != after.fittings.get(c)]
        if before.look != after.look or not other:
            return describe_change(before.look, after.look)
        if len(other) > 1:
            return LookChange(f"what {len(other)} clips have of their own", None)
        (clip,) = other
        name = self._tables.Clip.get_by_id(clip).name
        was, now = before.look_on(clip), after.look_on(clip)
        if was == now:
            return LookChange(f"what {name} has of its own", None)
        found = describe_change(was, now)
        return found._replace(words=f"{found.words}, on {name} alone")


def _fittings_of(text: str) -> dict[int, ClipOverrides]:
    return {int(clip): ClipOverrides.model_validate(own) for clip, own in json.loads(text).items()}


def _fittings_json(fittings: Mapping[int, ClipOverrides]) -> str:
    return json.dumps(
        {clip: own.model_dump(mode="json", exclude_defaults=True) for clip, own in fittings.items()}
    )
