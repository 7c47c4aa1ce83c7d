"""Reels of a project, as revisions."""

import time
from typing import Any, NamedTuple

from yearning.core.look.document import look_from_json
from yearning.core.look.fitting import upgrade_fitting
from yearning.store.errors import NotThere, Stale
from yearning.store.readable_rows import readable
from yearning.store.reel_body import ReelBody, ReelShot
from yearning.store.slices import ALL, Slice
from yearning.store.tables import Tables


class CurrentReel(NamedTuple):
    """A reel as it is now: its current revision."""

    id: int
    revision: int
    body: ReelBody


class Reels:
    """The reels of a project; each is a line of revisions, one of which is current."""

    def __init__(self, tables: Tables) -> None:
        self._tables = tables

    def new(self, body: ReelBody) -> CurrentReel:
        """A new reel, with its first revision."""
        with self._tables.writing():
            row = self._tables.Reel.create(changed=time.time())
            return self._revise(row, body)

    def all(self, part: Slice = ALL) -> list[CurrentReel]:
        """All reels but those deleted, the last changed first; or a part of them."""
        table = self._tables.Reel
        with self._tables.connection():
            kept = table.select().where(table.deleted.is_null())
            rows = part.of(kept.order_by(table.changed.desc(), table.id.desc()))
            return list(readable(rows, self._current))

    def get(self, reel_id: int) -> CurrentReel:
        """A reel as it is now.

        Raises:
            NotThere: no reel has that number.
        """
        with self._tables.connection():
            return self._current(self._row(reel_id))

    def change(self, reel_id: int, made_from: int, body: ReelBody) -> CurrentReel:
        """A new revision of a reel.

        Args:
            reel_id: the reel's number.
            made_from: the revision that the change was made from.
            body: the reel from now on.

        Raises:
            NotThere: no reel has that number.
            Stale: `made_from` is not the current revision.
        """
        with self._tables.writing():
            row = self._fresh_row(reel_id, made_from)
            current = self._current(row)
            return current if current.body == body else self._revise(row, body)

    def go_to(self, reel_id: int, shown: int, revision: int) -> CurrentReel:
        """Make another revision of a reel current: Undo and Redo.

        Args:
            reel_id: the reel's number.
            shown: the revision that it is asked from.
            revision: the one that is to be current.

        Raises:
            NotThere: no reel has that number, or no revision of it.
            Stale: another revision is current than the one it is asked from.
        """
        with self._tables.writing():
            row = self._fresh_row(reel_id, shown)
            table = self._tables.ReelRevision
            if table.get_or_none(table.id == revision, table.reel == row) is None:
                raise NotThere(f"the reel has no revision {revision}")
            row.head, row.changed = revision, time.time()
            row.save()
            return self._current(row)

    def delete(self, reel_id: int) -> None:
        """Delete a reel; its revisions stay, so that `restore` brings it back.

        Raises:
            NotThere: no reel has that number.
        """
        with self._tables.writing():
            row = self._row(reel_id)
            row.deleted = time.time()
            row.save()

    def restore(self, reel_id: int) -> CurrentReel:
        """Bring a deleted reel back as it was; one that is there stays.

        Raises:
            NotThere: no reel ever had that number.
        """
        with self._tables.writing():
            row = self._tables.Reel.get_or_none(self._tables.Reel.id == reel_id)
            if row is None:
                raise NotThere(f"no reel has the number {reel_id}")
            row.deleted = None
            row.save()
            return self._current(row)

    def _row(self, reel_id: int) -> Any:
        table = self._tables.Reel
        row = table.get_or_none(table.id == reel_id, table.deleted.is_null())
        if row is None:
            raise NotThere(f"no reel has the number {reel_id}")
        return row

    def _fresh_row(self, reel_id: int, shown: int) -> Any:
        row = self._row(reel_id)
        if row.head != shown:
            raise Stale(
                f"the reel has changed since (revision {row.head} is current, the edit was made "
                f"from {shown}); load it again and repeat the edit"
            )
        return row

    def _revise(self, row: Any, body: ReelBody) -> CurrentReel:
        body = self._with_upgraded_fittings(body)
        made = self._tables.ReelRevision.create(
            reel=row, body=body.model_dump_json(), made=time.time()
        )
        row.head, row.changed = made.id, made.made
        row.save()
        return CurrentReel(row.id, made.id, body)

    def _with_upgraded_fittings(self, body: ReelBody) -> ReelBody:
        items = list(body.items)
        for i, item in enumerate(items):
            if not isinstance(item, ReelShot) or item.fitting is None or item.look is None:
                continue
            row = self._tables.Look.get_or_none(self._tables.Look.id == item.look)
            if row is not None:
                head: Any = self._tables.Revision.get_by_id(row.head)
                look = look_from_json(head.body, keep_absent=True)
                fitting = upgrade_fitting(look, item.fitting)
                items[i] = item.model_copy(update={"fitting": fitting})
        return body.model_copy(update={"items": tuple(items)})

    def _current(self, row: Any) -> CurrentReel:
        revision: Any = self._tables.ReelRevision.get_by_id(row.head)
        return CurrentReel(row.id, revision.id, ReelBody.model_validate_json(revision.body))
