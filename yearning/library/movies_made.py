"""The movies that were made of a project's reels, in the order they were made in."""

import time
from dataclasses import asdict, dataclass
from pathlib import Path

from yearning.store.project import Project


@dataclass(frozen=True)
class MadeMovie:
    """A movie that was made.

    Attributes:
        file: its name in the project's renders.
        title: the reel's name as it was then.
        frames: how many it has.
        made: when, in seconds since 1970.
    """

    file: str
    title: str
    frames: int
    made: float

    def path(self, project: Project) -> Path:
        """Where it lies."""
        return project.folder / "renders" / Path(self.file).name


def _setting(reel_id: int) -> str:
    return f"movies of reel {reel_id}"


def note_movie(project: Project, reel_id: int, file: str, title: str, frames: int) -> None:
    """Note that a movie was made of a reel.

    Args:
        project: that has the reel.
        reel_id: the reel's number.
        file: the movie's name in the project.
        title: what it is called.
        frames: of the movie.
    """
    movie = MadeMovie(file, title, frames, time.time())
    with project.changing_setting(_setting(reel_id)) as value:
        value["made"] = [*value.get("made", []), asdict(movie)]


def movies_of(project: Project, reel_id: int) -> list[MadeMovie]:
    """Return the movies of a reel whose files are there, the last one first.

    Args:
        project: that has the reel.
        reel_id: the reel's number.
    """
    made = [MadeMovie(**each) for each in project.setting(_setting(reel_id)).get("made", [])]
    return [movie for movie in reversed(made) if movie.path(project).is_file()]
