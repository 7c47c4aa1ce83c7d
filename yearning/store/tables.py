"""The tables of a project's database, as models bound to that database.

Each open project has models of its own: peewee's usual module-level models hang on one global
database, so that of two open projects one would write into the other's file.
"""

import errno
import os
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from peewee import (
    AutoField,
    CharField,
    CompositeKey,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    OperationalError,
    SqliteDatabase,
    TextField,
)

LARGEST_ID = (1 << 63) - 1
"""Of SQLite's rows."""


def _is_full(error: BaseException | None) -> bool:
    """Whether an error says that the disk is full, or came of one that does.

    SQLite has rolled back by itself then (SQLITE_FULL), so that peewee can't any more.
    """
    return error is not None and (
        "disk is full" in str(error) or _is_full(error.__context__ or error.__cause__)
    )


class RowId(AutoField):
    """The number of a row; one that SQLite can't hold is no row's."""

    def db_value(self, value: Any) -> Any:
        """A number as the database is asked for it."""
        number = super().db_value(value)
        return 0 if isinstance(number, int) and abs(number) > LARGEST_ID else number


class Tables:
    """Models of one database.

    Attributes:
        db: the database.
        read_only: whether nothing may be written.
        Clip: a clip: a file in the project folder, known by its contents.
        Look: a look: a line of revisions, one of which is current.
        Revision: one state of a look; never changed once written.
        Render: a render: what of, and how it ended.
        Setting: a setting of the project, by its name.
        Steadiness: how steady a look is on a clip.
        Reel: a reel: a line of revisions, one of which is current.
        ReelRevision: one state of a reel; never changed once written.
    """

    def __init__(self, db: SqliteDatabase, *, read_only: bool = False) -> None:
        self.db = db
        self.read_only = read_only

        class Row(Model):
            class Meta:
                database = db

        class Clip(Row):
            id = RowId()
            digest = CharField(unique=True)
            """SHA-256 of the file."""
            name = CharField()
            file = CharField()
            """Path below the project folder."""
            probe = TextField()
            """What the file holds, as JSON."""
            reading = TextField(default="{}")
            """How the user says it is read where its tags are wrong, as JSON."""
            stamp = TextField(default="")
            """The file's size and time when it was last known to be intact, as JSON."""
            added = FloatField()
            deleted = FloatField(null=True)
            """When it was taken out of the project; it can be brought back."""

            class Meta:
                table_name = "clip"

        class Look(Row):
            id = RowId()
            head = IntegerField(null=True)
            """The current revision."""
            changed = FloatField()
            deleted = FloatField(null=True)
            """When it was deleted; it can be brought back."""

            class Meta:
                table_name = "look"

        class Revision(Row):
            id = RowId()
            look = ForeignKeyField(Look, backref="revisions", on_delete="CASCADE")
            parent = ForeignKeyField("self", null=True)
            digest = CharField()
            """SHA-256 of `body`."""
            body = TextField()
            """The look as JSON."""
            fittings = TextField(default="{}")
            """What of it holds for one clip alone, by the clips' numbers, as JSON."""
            made = FloatField()

            class Meta:
                table_name = "revision"

        class Render(Row):
            id = RowId()
            clip = ForeignKeyField(Clip, on_delete="CASCADE")
            look = TextField()
            """The look as it was, as JSON."""
            file = CharField()
            """Path of the result below the project folder."""
            request = TextField(default="{}", column_name="how")
            """What was asked of the result, as JSON."""
            state = CharField()
            done = IntegerField(default=0)
            total = IntegerField()
            message = TextField(default="")
            rank = FloatField(default=0)
            """Of those that wait, the lowest is next."""
            seconds = FloatField(default=0)
            """Time that was worked on it."""
            asked = FloatField()
            ended = FloatField(null=True)
            put_away = FloatField(null=True)
            """When it was taken off the list; its files stay."""

            class Meta:
                table_name = "render"

        class Setting(Row):
            name = CharField(primary_key=True)
            value = TextField()
            """As JSON."""

            class Meta:
                table_name = "setting"

        class Steadiness(Row):
            clip = ForeignKeyField(Clip, on_delete="CASCADE")
            digest = CharField()
            """SHA-256 of how the clip is read, and of the look's steps."""
            report = TextField()
            """What was found, as JSON."""
            made = FloatField()

            class Meta:
                table_name = "steadiness"
                primary_key = CompositeKey("clip", "digest")

        class Reel(Row):
            id = RowId()
            head = IntegerField(null=True)
            """The current revision."""
            changed = FloatField()
            deleted = FloatField(null=True)
            """When it was deleted; it can be brought back."""

            class Meta:
                table_name = "reel"

        class ReelRevision(Row):
            id = RowId()
            reel = ForeignKeyField(Reel, backref="revisions", on_delete="CASCADE")
            body = TextField()
            """The reel as JSON."""
            made = FloatField()

            class Meta:
                table_name = "reel_revision"

        self.Clip, self.Look, self.Revision = Clip, Look, Revision
        self.Reel, self.ReelRevision = Reel, ReelRevision
        self.Render, self.Setting, self.Steadiness = Render, Setting, Steadiness

    @contextmanager
    def connection(self) -> Iterator[None]:
        """Open a connection for reading."""
        with self.db.connection_context():
            yield

    @contextmanager
    def writing(self) -> Iterator[None]:
        """Open a transaction for writing; other writers wait.

        Raises:
            OSError: the disk is full (ENOSPC), or the project is open for looking (EROFS); all is
                as it was.
        """
        if self.read_only:
            raise OSError(errno.EROFS, os.strerror(errno.EROFS))
        try:
            with self.db.connection_context(), self.db.atomic("immediate"):
                yield
        except OperationalError as error:
            if not _is_full(error):
                raise
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC)) from None
