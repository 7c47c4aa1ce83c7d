"""A project: a folder with a database, footage, tables, plates and renders."""

import json
import shutil
import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from peewee import DatabaseError, SqliteDatabase

from yearning.store.clips import Clips
from yearning.store.errors import ProjectError
from yearning.store.looks import Looks
from yearning.store.migrations import bring_up_to_date, check_version
from yearning.store.reels import Reels
from yearning.store.renders import Renders
from yearning.store.reports import Reports
from yearning.store.tables import Tables

DATABASE = "project.sqlite"

UNFINISHED = ".part"
"""What names of results and of copies end in until they are whole."""


class Project:
    """A project folder, made when it is not there.

    Args:
        folder: the project's.
        read_only: open for looking: nothing of it is changed, also beside a server that does.

    Raises:
        ProjectError: it can't be made or opened.
        NewerProject: a later Yearning wrote it.
    """

    def __init__(self, folder: Path, *, read_only: bool = False) -> None:
        self.folder = folder.resolve()
        self.read_only = read_only
        try:
            if not read_only:
                self._make_folders()
            database = self.folder / DATABASE
            address = f"{database.as_uri()}?mode={'ro' if read_only else 'rwc'}"
            pragmas: dict[str, Any] = {"foreign_keys": 1, "busy_timeout": 5000}
            if not read_only:
                pragmas["journal_mode"] = "wal"
            self._tables = Tables(
                SqliteDatabase(address, uri=True, pragmas=pragmas), read_only=read_only
            )
            with self._tables.connection():
                check_version(self._tables) if read_only else bring_up_to_date(self._tables)
            # While one connection stays open, SQLite's own files beside the database stay too: a
            # full disk, which has no room to make them anew, can still be read.
            self._open = sqlite3.connect(address, uri=True, check_same_thread=False)
            self._open.execute("SELECT count(*) FROM sqlite_schema").fetchone()
        except (OSError, DatabaseError, sqlite3.DatabaseError) as error:
            raise ProjectError(f"{folder}: can't be used as a project: {error}") from None
        self.swept = 0 if read_only else self._sweep()
        """How many left-overs of a server that was killed were cleared away."""
        self.clips = Clips(self._tables, self.folder)
        self.looks = Looks(self._tables)
        self.renders = Renders(self._tables, self.folder, self.clips)
        self.steadiness = Reports(self._tables)
        self.reels = Reels(self._tables)

    def _make_folders(self) -> None:
        for name in ("media", "renders", "pieces", "incoming", "timelines"):
            (self.folder / name).mkdir(parents=True, exist_ok=True)
        if (before := self.folder / "tables").is_dir() and not self.assets.exists():
            before.rename(self.assets)
        self.assets.mkdir(exist_ok=True)

    def _sweep(self) -> int:
        """Clear away what was not finished: arriving files, and what had not its name yet."""
        left = [
            *(self.folder / "incoming").iterdir(),
            *self.assets.glob("tmp*/"),
            *(self.folder / "renders").rglob(f".*{UNFINISHED}"),
            *(self.folder / "media").glob(f"*{UNFINISHED}"),
        ]
        for path in left:
            if path.is_dir():
                shutil.rmtree(path, ignore_errors=True)
            else:
                path.unlink(missing_ok=True)
        return len(left)

    @property
    def name(self) -> str:
        """The folder's name."""
        return self.folder.name

    @property
    def assets(self) -> Path:
        """The folder of look-up tables and plates, whose names have their digest in them."""
        return self.folder / "materials"

    def incoming(self, name: str) -> Path:
        """A new place in the project for a file that is still arriving."""
        suffix = "".join(c for c in Path(name).suffix if c.isalnum() or c == ".")[:10]
        return self.folder / "incoming" / f"{time.time_ns()}{suffix.lower() or '.file'}"

    def setting(self, name: str) -> dict[str, Any]:
        """A setting of the project; empty if it was never set."""
        with self._tables.connection():
            row = self._tables.Setting.get_or_none(self._tables.Setting.name == name)
            return {} if row is None else json.loads(row.value)

    def set_setting(self, name: str, value: dict[str, Any]) -> None:
        """Keep a setting of the project.

        Args:
            name: of the setting.
            value: as it is given back.
        """
        with self._tables.writing():
            self._set_setting(name, value)

    @contextmanager
    def changing_setting(self, name: str) -> Iterator[dict[str, Any]]:
        """Change a setting in place, in one transaction with reading it."""
        with self._tables.writing():
            row = self._tables.Setting.get_or_none(self._tables.Setting.name == name)
            value: dict[str, Any] = {} if row is None else json.loads(row.value)
            yield value
            self._set_setting(name, value)

    def _set_setting(self, name: str, value: dict[str, Any]) -> None:
        self._tables.Setting.replace(name=name, value=json.dumps(value)).execute()
