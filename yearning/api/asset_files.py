"""Files that looks and reels name: taken out of the project, and brought back."""

from collections.abc import Callable
from pathlib import Path

from yearning.api.problem_kinds import IN_USE
from yearning.api.problems import Refused
from yearning.api.uploads import file_name
from yearning.core.look.document import named_files
from yearning.store import assets
from yearning.store.errors import NotThere
from yearning.store.looks import CurrentRevision
from yearning.store.project import Project


def delete_asset(project: Project, path: Path) -> None:
    """Take a table, plate, track or sound out of the project; it can be restored.

    Raises:
        Refused: a look or a reel needs it.
    """
    users = [each.look.name for each in project.looks.all() if path.name in _named_by(each)]
    for reel in project.reels.all():
        if any(sound.file == path.name for sound in reel.body.sounds):
            users.append(reel.body.name)
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


def _named_by(current: CurrentRevision) -> set[str]:
    """The files that a look names, on whatever clip."""
    looks = [current.look, *map(current.on, current.fittings)]
    return {named.name for look in looks for named in named_files(look)}
