"""Looks of a project, as revisions."""

import hashlib
import time
from typing import NamedTuple

from peewee import SqliteDatabase

from yearning.core.look.document import Look, look_from_json
from yearning.store.errors import NothingLeft, NotThere, Stale
from yearning.store.models import LookRow, RevisionRow, writing


class Standing(NamedTuple):
    """A look as it stands."""

    id: int
    revision: int
    look: Look
    can_undo: bool
    can_redo: bool


class Looks:
    """The looks of a project; each is a line of revisions, of which one stands."""

    def __init__(self, db: SqliteDatabase) -> None:
        self._db = db

    def new(self, look: Look) -> Standing:
        """A new look, with its first revision."""
        with writing(self._db):
            row = LookRow.create(changed=time.time())
            return self._revise(row, look)

    def all(self) -> list[Standing]:
        """All looks, the last changed first."""
        with self._db.connection_context():
            rows = LookRow.select().order_by(LookRow.changed.desc(), LookRow.id.desc())
            return [self._standing(row) for row in rows]

    def get(self, look_id: int) -> Standing:
        """A look as it stands.

        Raises:
            NotThere: no look has that number.
        """
        with self._db.connection_context():
            return self._standing(self._row(look_id))

    def change(self, look_id: int, made_from: int, look: Look) -> Standing:
        """A new revision of a look.

        Raises:
            NotThere: no look has that number.
            Stale: `made_from` is not the revision that stands.
        """
        with writing(self._db):
            row = self._row(look_id)
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
        with writing(self._db):
            row = self._row(look_id)
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
        with writing(self._db):
            row = self._row(look_id)
            following = self._following(row.head)
            if following is None:
                raise NothingLeft("there is nothing to redo")
            return self._stand(row, following.id)

    def _row(self, look_id: int) -> LookRow:
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
