"""Steps from one version of the database to the next; the version stands in `user_version`."""

from collections.abc import Callable

from peewee import SqliteDatabase

from yearning.store.models import TABLES, SettingRow, SteadinessRow


def _first_tables(db: SqliteDatabase) -> None:
    db.create_tables(TABLES)


def _with(db: SqliteDatabase, table: str, column: str, kind: str) -> None:
    """Add a column, if the table was not made with it."""
    if column not in {known.name for known in db.get_columns(table)}:
        db.execute_sql(f"ALTER TABLE {table} ADD COLUMN {column} {kind}")


def _readings(db: SqliteDatabase) -> None:
    _with(db, "clip", "reading", "TEXT NOT NULL DEFAULT '{}'")


def _results(db: SqliteDatabase) -> None:
    _with(db, "render", "how", "TEXT NOT NULL DEFAULT '{}'")


def _farm(db: SqliteDatabase) -> None:
    _with(db, "clip", "stamp", "TEXT NOT NULL DEFAULT ''")
    _with(db, "render", "rank", "REAL NOT NULL DEFAULT 0")
    _with(db, "render", "seconds", "REAL NOT NULL DEFAULT 0")
    db.create_tables([SettingRow])


def _steadiness(db: SqliteDatabase) -> None:
    db.create_tables([SteadinessRow])


MIGRATIONS: tuple[Callable[[SqliteDatabase], None], ...] = (
    _first_tables,
    _readings,
    _results,
    _farm,
    _steadiness,
)
"""Migration n takes version n to n + 1."""


class NewerProject(Exception):
    """The project was written by a later Yearning."""


def migrate(db: SqliteDatabase) -> None:
    """Bring the database up to this version, each step whole or not at all.

    Raises:
        NewerProject: it is of a later version than this program knows.
    """
    version = db.execute_sql("PRAGMA user_version").fetchone()[0]
    if version > len(MIGRATIONS):
        raise NewerProject(
            f"the project is of version {version}, this Yearning knows up to {len(MIGRATIONS)}; "
            "open it with a newer one"
        )
    for number in range(version, len(MIGRATIONS)):
        with db.atomic():
            MIGRATIONS[number](db)
            db.execute_sql(f"PRAGMA user_version = {number + 1}")
