"""Steps from one version of the database to the next; its version is SQLite's `user_version`.

A project that is made new has all tables at once. One of an earlier version is brought up step by
step with playhouse's migrator. A step finds columns and tables that an earlier program made with
them, and leaves them as they are.
"""

import json
from collections.abc import Callable

from peewee import FloatField, TextField
from playhouse.migrate import SqliteMigrator, migrate

from yearning.core.errors import YearningError
from yearning.core.look.document import look_from_json
from yearning.store.errors import ProjectError
from yearning.store.renamed_fields import rename_fields
from yearning.store.reports import digest_of, steps_digest
from yearning.store.tables import Tables


class NewerProject(YearningError):
    """The project was written by a later version of this program."""


def _create_first_tables(tables: Tables) -> None:
    tables.db.create_tables([tables.Clip, tables.Look, tables.Revision, tables.Render])


def _add_column(tables: Tables, table: str, name: str, column: TextField | FloatField) -> None:
    if name not in {known.name for known in tables.db.get_columns(table)}:
        migrate(SqliteMigrator(tables.db).add_column(table, name, column))


def _add_readings(tables: Tables) -> None:
    _add_column(tables, "clip", "reading", TextField(default="{}"))


def _add_requests(tables: Tables) -> None:
    _add_column(tables, "render", "how", TextField(default="{}"))


def _add_farm(tables: Tables) -> None:
    _add_column(tables, "clip", "stamp", TextField(default=""))
    _add_column(tables, "render", "rank", FloatField(default=0))
    _add_column(tables, "render", "seconds", FloatField(default=0))
    tables.db.create_tables([tables.Setting])


def _add_steadiness(tables: Tables) -> None:
    tables.db.create_tables([tables.Steadiness])


def _add_deletion(tables: Tables) -> None:
    _add_column(tables, "look", "deleted", FloatField(null=True))


def _find_reports_again(tables: Tables) -> None:
    """Reports are found by their look's steps, which a newer format has in other words."""
    table = tables.Clip  # of its columns those that there are by then
    for clip in table.select(table.id, table.reading):
        reading = json.loads(clip.reading)
        for revision in tables.Revision.select(tables.Revision.id, tables.Revision.body):
            steps = {"steps": json.loads(revision.body)["steps"]}
            before = steps_digest(reading, steps)
            found = tables.Steadiness.get_or_none(
                tables.Steadiness.clip == clip, tables.Steadiness.digest == before
            )
            if found is not None:
                after = digest_of(reading, look_from_json(revision.body, keep_absent=True))
                tables.Steadiness.replace(
                    clip=clip, digest=after, report=found.report, made=found.made
                ).execute()


def _add_put_away(tables: Tables) -> None:
    _add_column(tables, "render", "put_away", FloatField(null=True))


def _add_deletion_of_clips(tables: Tables) -> None:
    _add_column(tables, "clip", "deleted", FloatField(null=True))


def _add_fittings(tables: Tables) -> None:
    _add_column(tables, "revision", "fittings", TextField(default="{}"))


def _add_reels(tables: Tables) -> None:
    tables.db.create_tables([tables.Reel, tables.ReelRevision])


MIGRATIONS: tuple[Callable[[Tables], None], ...] = (
    _create_first_tables,
    _add_readings,
    _add_requests,
    _add_farm,
    _add_steadiness,
    _add_deletion,
    _find_reports_again,
    _add_put_away,
    _add_deletion_of_clips,
    _add_fittings,
    _add_reels,
    rename_fields,
)
"""Migration n takes version n to n + 1."""


def _version(tables: Tables) -> int:
    version: int = tables.db.execute_sql("PRAGMA user_version").fetchone()[0]
    if version > len(MIGRATIONS):
        raise NewerProject(
            f"the project is of version {version}, this Yearning knows up to {len(MIGRATIONS)}; "
            "open it with a newer one"
        )
    return version


def check_version(tables: Tables) -> None:
    """Make sure that the database is of this program's version, and leave it as it is.

    Raises:
        NewerProject: it is of a later version than this program knows.
        ProjectError: it is of an earlier one.
    """
    if _version(tables) < len(MIGRATIONS):
        raise ProjectError(
            "the project was last open in an earlier Yearning; open it once without --read-only"
        )


def bring_up_to_date(tables: Tables) -> None:
    """Bring the database up to this program's version, each step whole or not at all.

    Raises:
        NewerProject: it is of a later version than this program knows.
    """
    version = _version(tables)
    # The migrator makes a table anew to add a column that is never null: with foreign keys
    # enforced, dropping the old one would delete the rows that refer to it.
    tables.db.execute_sql("PRAGMA foreign_keys = OFF")
    try:
        for number in range(version, len(MIGRATIONS)):
            with tables.db.atomic():
                MIGRATIONS[number](tables)
                tables.db.execute_sql(f"PRAGMA user_version = {number + 1}")
    finally:
        tables.db.execute_sql("PRAGMA foreign_keys = ON")
