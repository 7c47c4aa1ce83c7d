"""Files that looks and reels name: taken out of the project, and brought back."""

from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path

from yearning.api.problem_kinds import IN_USE
from yearning.api.problems import Refused
from yearning.api.uploads import file_name
from yearning.core.look.document import named_files
from yearning.library.reel_renders import look_of
from yearning.media.errors import MediaError
from yearning.store import assets
from yearning.store.errors import NotThere
from yearning.store.looks import CurrentRevision
from yearning.store.project import Project
from yearning.store.reel_body import ReelShot
from yearning.store.reels import CurrentReel


def delete_asset(project: Project, path: Path) -> None:
    """Take a table, plate, track or sound out of the project; it can be restored.

    Args:
        project: that has the file.
        path: of the file.

    Raises:
        Refused: a look or a reel needs it.
    """
    users = [each.look.name for each in project.looks.all() if path.name in _named_by(each)]
    users += [
        each.body.name for each in project.reels.all() if path.name in _named_in(project, each)
    ]
    if users:
        named = ", ".join(users[:3]) + (f" and {len(users) - 3} more" if len(users) > 3 else "")
        raise Refused(IN_USE, f"{path.name} is used by {named}; take it out there first")
    assets.delete(project.assets, path.name)


def restore_asset(project: Project, file: str, is_of_kind: Callable[[Path], bool]) -> Path:
    """Bring a table, plate, track or sound back that was deleted.

    Args:
        project: whose it is.
        file: its name.
        is_of_kind: whether a file of such a name is what is asked for.

    Raises:
        NotThere: there never was such a file, or it is of another kind.
    """
    name = file_name(file)
    if not is_of_kind(Path(name)):
        raise NotThere(f"{name} is of another kind")
    return assets.restore(project.assets, name)


def _named_in(project: Project, reel: CurrentReel) -> Iterator[str]:
    """The files that a reel has under its shots, and those that its shots' own fittings name."""
    yield from (sound.file for sound in reel.body.sounds if sound.file)
    for shot in reel.body.items:
        if isinstance(shot, ReelShot) and shot.fitting is not None:
            with suppress(MediaError):  # its look is gone
                yield from (named.name for named in named_files(look_of(project, shot)))


def _named_by(current: CurrentRevision) -> set[str]:
    """The files that a look names, on whatever clip."""
    looks = [current.look, *map(current.look_on, current.fittings)]
    return {named.name for look in looks for named in named_files(look)}
