"""A project's clips, looks, tables and plates, read from outside: also while a server has it."""

from pathlib import Path
from typing import NamedTuple

from yearning.core.errors import InvalidLookError
from yearning.core.look import document as documents
from yearning.core.look.fitting import ClipOverrides
from yearning.library.look import Look, starter_names
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError
from yearning.store.errors import ClipLost, ProjectError
from yearning.store.project import DATABASE, Project


class ProjectClip(NamedTuple):
    """A clip of a project: what it is called, its file, and how the project reads it."""

    name: str
    path: Path
    reading: InputOverrides
    id: int | None = None
    """Its number in the project; None of a file that is not of it."""

    def fits(self, own: ClipOverrides | None) -> int | None:
        """The clip whose fitting the project's looks have: none where another is given."""
        return self.id if own is None else None


class OpenProject:
    """A project that is read, never written.

    Args:
        folder: the project's.

    Raises:
        ProjectError: it is none, or can't be read.
    """

    def __init__(self, folder: Path) -> None:
        if not (folder / DATABASE).is_file():
            raise ProjectError(f"{folder}: is no project; it has no {DATABASE}")
        self._project = Project(folder, read_only=True)
        self.assets = self._project.assets
        """Where its tables, plates and tracks are."""

    @property
    def looks(self) -> list[documents.Look]:
        """The documents of its looks, the last changed first."""
        return [each.look for each in self._project.looks.all()]

    def look(self, name: str, clip: int | None = None) -> Look | None:
        """Return the look of a name, however it is capitalized; of several the last changed.

        Args:
            name: the look's.
            clip: number of the clip whose fitting is applied; None for the look shared by all.

        Raises:
            InvalidLookError: a step is of a package that is not installed, and not switched off.
        """
        wanted = name.strip().casefold()
        for each in self._project.looks.all():
            if each.look.name.casefold() == wanted:
                look = each.look if clip is None else each.look_on(clip)
                return Look.of_document(look, self.assets)
        return None

    def clip(self, name: str) -> ProjectClip | None:
        """The clip of that name, however it is capitalized; of several the first.

        Raises:
            MediaError: its file is gone or holds something else.
        """
        wanted = name.strip().casefold()
        for clip in self._project.clips.all():
            if clip.name.casefold() == wanted:
                try:
                    self._project.clips.check(clip)
                except ClipLost as error:
                    raise MediaError(str(error)) from None
                return ProjectClip(clip.name, clip.path, InputOverrides.of(clip.reading), clip.id)
        return None

    def missing_look(self, name: str) -> InvalidLookError:
        """What is said where neither the project nor the starters have a look of that name."""
        known = ", ".join(look.name for look in self.looks) or "none"
        starters = ", ".join(starter_names())
        return InvalidLookError(
            f"no look is called '{name}'; the project has {known}; starters are {starters}"
        )

    def missing_clip(self, name: str) -> MediaError:
        """What is said where there is neither a file nor a clip of that name."""
        known = ", ".join(clip.name for clip in self._project.clips.all()) or "none"
        return MediaError(f"{name}: no such file, and no clip of the project; it has {known}")

    def check_outside(self, path: Path) -> None:
        """Make sure that a result does not lie in the project's own folder.

        Raises:
            ProjectError: it does.
        """
        if path.resolve().is_relative_to(self._project.folder):
            raise ProjectError(
                f"{path}: lies in the project's own folder; write the result elsewhere"
            )
