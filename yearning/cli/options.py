"""What commands are asked with: looks, clips, projects, and how clips are read."""

import json
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Annotated, Any

import typer

from yearning.core.errors import YearningError
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.look.document import beyond_end
from yearning.core.look.fitting import ClipOverrides
from yearning.core.look.upgrades import changed_pictures
from yearning.library.look import Look, read_fitting, read_look, starter, starter_names
from yearning.library.projects import OpenProject, ProjectClip
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.input_overrides import InputOverrides

app = typer.Typer(no_args_is_help=True, pretty_exceptions_enable=False)


class CommandError(YearningError):
    """A request that can't be met; the message is the one line for standard error."""


def chosen_look(
    given: str,
    clip: OpenClip | None = None,
    project: OpenProject | None = None,
    fits: int | None = None,
) -> Look:
    """The look that is asked for: a file, one of the project's, or a starter, by its name.

    Args:
        given: a path, or a name.
        clip: that a starter's bursts are made for.
        project: whose tables, plates and tracks the look names, if one is given.
        fits: the project's clip whose fitting a look of the project has; None for none.
    """
    path = Path(given)
    if path.exists():
        look = read_look(path)
        for note in changed_pictures(json.loads(path.read_bytes())):
            typer.echo(f"{path.name}: {note}", err=True)
        return look if project is None else Look.of_document(look.document, project.assets)
    found = None if project is None else project.look(given, fits)
    if found is None and (path.suffix or len(path.parts) > 1):
        raise CommandError(f"{given}: no such file")
    if project is None:
        return starter(given, clip)
    if found is None and given.casefold() not in map(str.casefold, starter_names()):
        raise project.missing_look(given)
    return found or starter(given, clip)


def look_for(
    given: str, read: Look, clip: OpenClip, project: OpenProject | None, fits: int | None
) -> Look:
    """Return the look for one of several clips: a file's as read, one by name made for the clip.

    Args:
        given: as the command has it.
        read: the look of that.
        clip: opened.
        project: that may have the look; None for none.
        fits: number of the clip in the project; None where it is a file.
    """
    return read if Path(given).exists() else chosen_look(given, clip, project, fits)


def fitted_look(look: Look, clip: OpenClip, fitting: ClipOverrides | None, name: str) -> Look:
    """Return the look as it stands on a clip; print what of it does not hold there.

    Args:
        look: as it was read.
        clip: opened.
        fitting: of the clip; None for none.
        name: what is printed begins with.
    """
    if fitting is not None:
        look = look.with_fitting(
            fitting, lambda note: typer.echo(f"{name}: fitting: {note}", err=True)
        )
    for note in beyond_end(look.document, clip.frames):
        typer.echo(f"{name}: {note}", err=True)
    return look


def own_reading(fitting: ClipOverrides | None) -> InputOverrides | None:
    """How a fitting says that its clip is read; None where it says nothing."""
    return InputOverrides.of(fitting.input) if fitting is not None and fitting.input else None


def fitting_in(file: Path | None) -> ClipOverrides | None:
    """The fitting that `--fitting` names."""
    return None if file is None else read_fitting(file)


def fitting_for(clip: ProjectClip, given: Path | None) -> ClipOverrides | None:
    """Return a clip's fitting: in a folder of them the file of its name; None where it has none.

    Args:
        clip: of the project, or a file.
        given: a file or a folder; None for none.
    """
    if given is not None and given.is_dir():
        given = given / f"{short_name(clip)}.fitting.json"
        return fitting_in(given) if given.exists() else None
    return fitting_in(given)


def check_fittings(fitting: Path | None, fittings: Path | None, *, one: bool) -> None:
    """Make sure that there is one fitting for one clip, or a folder of them.

    Args:
        fitting: of the option; None where it is left out.
        fittings: of the other.
        one: there is one clip.
    """
    if fitting is not None and (fittings is not None or not one):
        raise CommandError("--fitting is of one clip; give those of several as --fittings DIR")
    if fittings is not None and not fittings.is_dir():
        raise CommandError(f"{fittings}: is no folder of fittings")
    if fitting is not None and fitting.is_dir():
        raise CommandError(f"{fitting}: is a folder; give it as --fittings")


def short_name(clip: ProjectClip) -> str:
    """A clip's own name; of stills, what stands before their number, or their folder's."""
    if clip.name != clip.path.name:
        return clip.name.replace("/", "-")  # what a project calls it
    if not is_frame_pattern(clip.path.name):
        return clip.path.stem
    before = clip.path.stem.partition("%")[0].rstrip("._- ")
    return before or clip.path.resolve().parent.name


def chosen_clip(
    given: Path, reading: InputOverrides | None, project: OpenProject | None = None
) -> ProjectClip:
    """The clip that is asked for: a file, or one of the project's by its name.

    Args:
        given: a path, or a name.
        reading: how it is read; None as the project reads it, or else as tagged.
        project: in which the name is looked for.
    """
    found = None
    if project is not None and not given.exists():
        found = project.clip(str(given))
        if found is None:
            raise project.missing_clip(str(given))
    if found is None:
        return ProjectClip(given.name, given, reading or InputOverrides())
    return found if reading is None else found._replace(reading=reading)


def project_in(folder: Path | None) -> OpenProject | None:
    """The project that `--project` names, opened for reading; None where it names none."""
    return None if folder is None else OpenProject(folder)


def completing(known: Iterable[str]) -> Callable[[str], list[str]]:
    """What a shell completes a word to, out of known ones."""

    def beginning(incomplete: str) -> list[str]:
        return [name for name in known if name.startswith(incomplete)]

    return beginning


LookOption = Annotated[
    str,
    typer.Option(
        "--look",
        metavar="FILE|NAME",
        help="A look file, or a starter look by its name, or with --project one of the project's: "
        "`yearning looks` lists them.",
        show_default=False,
    ),
]
ProjectOption = Annotated[
    Path | None,
    typer.Option(
        "--project",
        metavar="DIR",
        help="A project whose looks, clips, plates and tables are used; it is only read, also "
        "while a server has it open.",
        show_default=False,
    ),
]
ReadOption = Annotated[
    list[str] | None,
    typer.Option(
        "--read",
        metavar="NAME=VALUE",
        help="What the clip's tags have wrong: matrix=bt709, range=full, light=HLG, "
        "fields='top first', rate=30000/1001; deflicker=12 evens exposure that pumps; speed=0.3 "
        "with between=hold, dissolve or motion, and sound=stretched.",
    ),
]
FittingOption = Annotated[
    Path | None,
    typer.Option(
        "--fitting",
        metavar="FILE",
        help="What of the look holds for this clip alone: a file of yearning-fitting/2.",
        show_default=False,
    ),
]
FittingsOption = Annotated[
    Path | None,
    typer.Option(
        "--fittings",
        metavar="DIR",
        help="A folder with fittings of the clips, NAME.fitting.json each; a clip without one "
        "has the look as it is.",
        show_default=False,
    ),
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print JSON.")]


def print_json(value: Any) -> None:
    """What a command found, as JSON on standard output."""
    print(json.dumps(value, indent=2))


def parse_reading(read: list[str] | None) -> InputOverrides | None:
    """How a clip is read, as `--read` says; None where it says nothing."""
    if not read:
        return None
    pairs = [item.partition("=") for item in read]
    if any(not mark for _, mark, _ in pairs):
        raise CommandError("--read: write NAME=VALUE, like --read matrix=bt601")
    return InputOverrides.of({name.strip(): value.strip() for name, _, value in pairs})


Clip = Annotated[
    Path,
    typer.Argument(
        metavar="FILE",
        help="A clip: a movie, or stills like DIR/%05d.png; with --project, a clip's name.",
        show_default=False,
    ),
]
