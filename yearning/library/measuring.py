"""What is measured of looks on clips, and looks as look-up tables."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from yearning.core.engine.baking import SIDES
from yearning.core.engine.baking import bake as _bake
from yearning.core.measure.flash_check import FlashAnalysis
from yearning.core.measure.steadiness import SteadinessAnalysis
from yearning.library.clips import Clip, RequestError, rate_of
from yearning.library.look import Look
from yearning.library.pictures import check_look
from yearning.media.plates.assets import assets_in
from yearning.media.tables.cube import write_cube

OnFrame = Callable[[int], None]


def steadiness(clip: Clip, look: Look, *, on_frame: OnFrame = lambda done: None) -> dict[str, Any]:
    """Measure how much change from frame to frame a look adds to a clip.

    Args:
        clip: opened, or pictures in memory.
        look: what is laid on it.
        on_frame: called with the number of frames that are done.

    Returns:
        `frames`, a mapping each with `change_footage`, `change_result`, `added` and more, in parts
        of white; `steps`, what each adds; `flags`, frames that are not steady; `summary`; and
        `flashes`. As `yearning steady --json` prints it.

    Raises:
        MediaError: the clip, or a file that the look names, can't be used.

    Source: warping error, Lai et al., Learning Blind Video Temporal Consistency, ECCV 2018.
    """
    check_look(look.document, look.folder, clip)
    found = SteadinessAnalysis(
        look.document, clip, float(rate_of(clip)), assets=assets_in(look.folder)
    )
    for done in found.run():
        on_frame(done)
    return found.report()


def flashes(
    clip: Clip, look: Look | None = None, *, on_frame: OnFrame = lambda done: None
) -> dict[str, Any]:
    """Look for flashes that can harm, in a clip or in what a look makes of it.

    Args:
        clip: opened, or pictures in memory.
        look: what is laid on it; None for the clip as it is.
        on_frame: called with the number of frames that are done.

    Returns:
        `passes`, and `faults`, each with `from`, `to`, `kind`, `area`, `count` and `step`. As
        `yearning flashes --json` prints it.

    Raises:
        MediaError: the clip, or a file that the look names, can't be used.

    Source: WCAG 2.2, SC 2.3.1; ITU-R BT.1702-3.
    """
    look = Look() if look is None else look
    check_look(look.document, look.folder, clip)
    check = FlashAnalysis(look.document, clip, float(rate_of(clip)), assets=assets_in(look.folder))
    for done in check.run():
        on_frame(done)
    return check.report()


def bake(look: Look, path: str | Path, side: int = 33) -> float:
    """Write a look that works on colours alone as a look-up table, a .cube file.

    Args:
        look: of such steps.
        path: of the file.
        side: points a side: 17, 33 or 65.

    Returns:
        By how much a channel is off at most, in parts of full scale.

    Raises:
        InvalidLookError: a step works on more than a pixel's colour.
        RequestError: the name does not end in .cube, or there is no such side.
    """
    path = Path(path)
    if path.suffix.lower() != ".cube":
        raise RequestError(f"{path}: a baked look ends in .cube")
    if side not in SIDES:
        raise RequestError(f"side {side}: it is one of {', '.join(map(str, SIDES))}")
    values, error = _bake(look.document, side, assets_in(look.folder))
    write_cube(path, look.name, values)
    return error
