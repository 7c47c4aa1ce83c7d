"""Responses about files of sound."""

from pathlib import Path

from pydantic import BaseModel

from yearning.media.decode.sound_file import SoundFile
from yearning.store.assets import title_of


class LevelsOut(BaseModel):
    """How loud a sound is: its peaks, so many a second, in 255ths of full scale."""

    per_second: float
    peaks: list[int]


class SoundFileOut(BaseModel):
    """A file of sound of the project: the name that reels have it under, and what it holds."""

    file: str
    title: str
    seconds: float
    rate: int
    channels: int

    @staticmethod
    def of(path: Path, found: SoundFile) -> "SoundFileOut":
        """Return a file of sound as the API has it.

        Args:
            path: of the file.
            found: what it holds.
        """
        return SoundFileOut(
            file=path.name,
            title=title_of(path.name),
            seconds=found.seconds,
            rate=found.sound.rate,
            channels=found.sound.channels,
        )
