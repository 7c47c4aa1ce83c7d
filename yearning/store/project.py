"""A project folder: its database, its files, and what is kept of clips, looks and renders."""

import json
import shutil
import sqlite3
import time
from pathlib import Path
from typing import Any

from peewee import DatabaseError, SqliteDatabase

from yearning.store.clips import Clips
from yearning.store.errors import ProjectError
from yearning.store.looks import Looks
from yearning.store.migrations import migrate
from yearning.store.models import SettingRow, database, writing
from yearning.store.renders import Renders
from yearning.store.reports import Reports

DATABASE = "project.sqlite"


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
        self.clips = Clips(self._db, self.folder)
        self.looks = Looks(self._db)
        self.renders = Renders(self._db, self.folder, self.clips)
        self.steadiness = Reports(self._db)

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

    def setting(self, name: str) -> dict[str, Any]:
        """A setting of the project; empty if it was never set."""
        with self._db.connection_context():
            row = SettingRow.get_or_none(SettingRow.name == name)
            return {} if row is None else json.loads(row.value)

    def set_setting(self, name: str, value: dict[str, Any]) -> None:
        """Keep a setting of the project."""
        with writing(self._db):
            SettingRow.replace(name=name, value=json.dumps(value)).execute()
