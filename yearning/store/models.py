"""Tables of a project's database, and how they are written."""

from collections.abc import Iterator
from contextlib import contextmanager

from peewee import (
    AutoField,
    CharField,
    CompositeKey,
    DatabaseProxy,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    SqliteDatabase,
    TextField,
)

database = DatabaseProxy()


@contextmanager
def writing(db: SqliteDatabase) -> Iterator[None]:
    """A connection in which all that is written is kept, or none; others wait to write."""
    with db.connection_context(), db.atomic("immediate"):
        yield


class Row(Model):
    """Base of all tables."""

    class Meta:
        """Which database."""

        database = database


class ClipRow(Row):
    """A clip: a file in the project folder, known by what it holds."""

    id = AutoField()
    digest = CharField(unique=True)
    """SHA-256 of the file."""
    name = CharField()
    file = CharField()
    """Path below the project folder."""
    probe = TextField()
    """What the file holds, as JSON."""
    reading = TextField(default="{}")
    """What the user says of it where its tags are wrong, as JSON."""
    stamp = TextField(default="")
    """The file's bytes and time when it was last known to hold what it should, as JSON."""
    added = FloatField()

    class Meta:
        """Where."""

        table_name = "clip"


class LookRow(Row):
    """A look: a line of revisions, and which of them stands."""

    id = AutoField()
    head = IntegerField(null=True)
    """The revision that stands."""
    changed = FloatField()

    class Meta:
        """Where."""

        table_name = "look"


class RevisionRow(Row):
    """One state of a look; never changed once written."""

    id = AutoField()
    look = ForeignKeyField(LookRow, backref="revisions", on_delete="CASCADE")
    parent = ForeignKeyField("self", null=True)
    digest = CharField()
    """SHA-256 of `body`."""
    body = TextField()
    """The look as JSON."""
    made = FloatField()

    class Meta:
        """Where."""

        table_name = "revision"


class RenderRow(Row):
    """A render: what of, and how it ended."""

    id = AutoField()
    clip = ForeignKeyField(ClipRow, on_delete="CASCADE")
    look = TextField()
    """The look as it was, as JSON."""
    file = CharField()
    """Path of the result below the project folder."""
    how = TextField(default="{}")
    """What was asked of the result, as JSON."""
    state = CharField()
    done = IntegerField(default=0)
    total = IntegerField()
    message = TextField(default="")
    rank = FloatField(default=0)
    """Of those that wait, the lowest is next."""
    seconds = FloatField(default=0)
    """Time it was worked on."""
    asked = FloatField()
    ended = FloatField(null=True)

    class Meta:
        """Where."""

        table_name = "render"


class SettingRow(Row):
    """A setting of the project, by its name."""

    name = CharField(primary_key=True)
    value = TextField()
    """As JSON."""

    class Meta:
        """Where."""

        table_name = "setting"


class SteadinessRow(Row):
    """How steady a look is on a clip."""

    clip = ForeignKeyField(ClipRow, on_delete="CASCADE")
    digest = CharField()
    """SHA-256 of how the clip is read, and of the look's steps."""
    report = TextField()
    """What was found, as JSON."""
    made = FloatField()

    class Meta:
        """Where, and one for each look on each clip."""

        table_name = "steadiness"
        primary_key = CompositeKey("clip", "digest")


TABLES = (ClipRow, LookRow, RevisionRow, RenderRow, SettingRow, SteadinessRow)
