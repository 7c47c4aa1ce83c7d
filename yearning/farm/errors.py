"""Why a render did not come to its end. What is finished of it stays, whatever the reason."""

import shutil
from pathlib import Path

from yearning.core.errors import YearningError

MIN_FREE_BYTES = 2_000_000
"""Bytes a disk should have beside what is known to be needed."""


class FarmError(YearningError):
    """The workers can't be had, or can't do the work; the message says why."""


class Halted(YearningError):
    """The render was halted; the same job goes on from there."""


class DiskFull(YearningError):
    """The disk is full; with room again, the same job goes on from there."""

    def __init__(self, folder: Path, needed: int) -> None:
        free = shutil.disk_usage(folder).free
        self.folder = folder
        self.needed = max(needed, free + MIN_FREE_BYTES)
        """Bytes that should be free before it is tried again."""
        super().__init__(
            f"the disk of {folder} is full: {free / 1e6:.0f} MB are free, at least "
            f"{self.needed / 1e6:.0f} MB are needed; make room, and it goes on from where it was"
        )

    def has_room(self) -> bool:
        """Whether there is room again."""
        return shutil.disk_usage(self.folder).free >= self.needed
