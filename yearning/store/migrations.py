"""Steps from one version of the database to the next; the version stands in `user_version`."""

from collections.abc import Callable

from peewee import SqliteDatabase

from yearning.store.models import TABLES


def _first_tables(db: SqliteDatabase) -> None:
    db.create_tables(TABLES)


MIGRATIONS: tuple[Callable[[SqliteDatabase], None], ...] = (_first_tables,)
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
