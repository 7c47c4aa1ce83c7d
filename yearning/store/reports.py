"""Reports of steadiness, kept until the look or the clip changes."""

import hashlib
import json
import time
from typing import Any

from yearning.core.look.document import Look, steps_alone
from yearning.store.clips import Clip
from yearning.store.tables import Tables


class Reports:
    """How steady looks are on the clips of a project."""

    def __init__(self, tables: Tables) -> None:
        self._tables = tables

    def of(self, clip: Clip, look: Look) -> dict[str, Any] | None:
        """Return the kept report of a look on a clip as it is read, or None.

        Args:
            clip: of the project, as it is read.
            look: as it is on the clip.
        """
        with self._tables.connection():
            row = self._tables.Steadiness.get_or_none(
                self._tables.Steadiness.clip == clip.id,
                self._tables.Steadiness.digest == digest_of(clip.reading, look),
            )
        return None if row is None else dict(json.loads(row.report))

    def keep(self, clip: Clip, look: Look, report: dict[str, Any]) -> None:
        """Keep the report of a look on a clip as it is read.

        Args:
            clip: of the project, as it is read.
            look: as it is on the clip.
            report: as JSON.
        """
        with self._tables.writing():
            self._tables.Steadiness.replace(
                clip=clip.id,
                digest=digest_of(clip.reading, look),
                report=json.dumps(report),
                made=time.time(),
            ).execute()


def digest_of(reading: dict[str, Any], look: Look) -> str:
    """Return a digest of a look's steps and of how a clip is read.

    Args:
        reading: what the user says of the clip.
        look: as it is on the clip.
    """
    return steps_digest(reading, {"steps": steps_alone(look)})


def steps_digest(reading: dict[str, Any], steps: dict[str, Any]) -> str:
    """Return a digest of how a clip is read and of a look's steps.

    Args:
        reading: what the user says of the clip.
        steps: `{"steps": …}` with every setting in it.
    """
    said = json.dumps([reading, steps], sort_keys=True)
    return hashlib.sha256(said.encode()).hexdigest()
