"""Proof sheets: one thing of a look changed many ways, side by side, on one shot or several."""

import math
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, Literal, NamedTuple

from yearning.core.cache import Cache
from yearning.core.look.variants import Place, choices_of, value_caption, with_value
from yearning.core.picture import Size
from yearning.library.clips import Clip, RequestError, size_at
from yearning.library.look import Look
from yearning.library.pictures import frame_picture
from yearning.media.stills.contact_sheet import (
    Cell,
    ContactSheet,
    check_sheet_name,
    check_sheet_size,
    write_contact_sheet,
)

LINES = 270
"""Lines of a picture, if nothing is said; of a smaller clip its own."""

CAPTIONED = 1.15
"""Height of a picture with its caption, by that of the picture."""

CACHE_BYTES = 1 << 28

Vary = Mapping[str, Sequence[Any] | Literal["all"]]


class Shot(NamedTuple):
    """A frame of a clip, under a look.

    Args:
        clip: opened, or pictures in memory.
        frame: number, from 0.
        look: as it stands on that clip.
        name: the caption.
    """

    clip: Clip
    frame: int
    look: Look
    name: str = ""


class _Variant(NamedTuple):
    """One way of what is tried."""

    place: Place
    value: Any


def proof_sheet(
    shots: Sequence[Shot], vary: Vary, path: str | Path, *, height: int | None = None
) -> None:
    """Write a sheet of one thing changed many ways, to be chosen from by eye.

    With one thing varied each shot is a column, and each value a row; values of a single shot fill
    the sheet line by line. Of two things varied the first one's values are rows, the second's
    columns, on one shot. With nothing varied the shots are beside each other as they are.

    Args:
        shots: one or several.
        vary: values by what they are of, `STEP.SETTING` or `STEP.mix.FIELD`; of a choice, a switch
            or a blend mode `"all"`. One or two, or none.
        path: a `.png`, or a `.pdf` page; it appears only when it is whole.
        height: lines of each picture; 270, if left out.

    Raises:
        InvalidLookError: a look has no such step or setting, or it can't have a value.
        RequestError: more than two things varied, or two on several shots.
        MediaError: more than 64 pictures, or too large ones; or it can't be written there, or a
            file that is needed can't be used.

    >>> from tempfile import TemporaryDirectory
    >>> import numpy as np
    >>> import yearning as yn
    >>> clip = yn.ArrayClip(np.full((1, 3, 90, 160), 0.5, np.float32))
    >>> look = yn.Look([yn.Step(yn.Exposure(), "light")])
    >>> with TemporaryDirectory() as folder:
    ...     stops = {"light.stops": [-1, 0, 1]}
    ...     yn.proof_sheet([yn.Shot(clip, 0, look)], stops, f"{folder}/stops.png")
    """
    path = Path(path)
    check_sheet_name(path)
    if not shots:
        raise RequestError("a proof sheet has one shot at least")
    look = shots[0].look
    tried = [_variants(look, Place.parse(place), values) for place, values in vary.items()]
    check_sheet_size([_size(shot.clip, height) for shot in shots] * math.prod(map(len, tried)))
    if len(tried) > 2 or (len(tried) == 2 and len(shots) > 1):
        raise RequestError(
            "a proof sheet varies one thing on several shots, or two on one; "
            f"not {len(tried)} on {len(shots)}"
        )
    write_contact_sheet(_sheet(shots, tried, height, " · ".join([look.name, *vary])), path)


def _sheet(
    shots: Sequence[Shot], tried: list[list[_Variant]], height: int | None, title: str
) -> ContactSheet:
    """The pictures, in rows and columns; steps before what is varied are computed once a shot."""
    first = shots[0]
    cache = Cache[Any](CACHE_BYTES)

    def cell(shot: Shot, *variants: _Variant, caption: str = "") -> Cell:
        look = shot.look.document
        for place, value in variants:
            look = with_value(look, place, value)
        lines = _size(shot.clip, height).height
        made = frame_picture(look, shot.look.folder, shot.clip, shot.frame, lines, cache=cache)
        return Cell(made, caption)

    def say(variant: _Variant) -> str:
        return value_caption(first.look.document, *variant)

    if len(tried) == 2:
        rows, columns = tried
        cells = [[cell(first, row, column) for column in columns] for row in rows]
        return ContactSheet(title, cells, list(map(say, rows)), list(map(say, columns)))
    if tried and len(shots) > 1:
        cells = [[cell(shot, variant) for shot in shots] for variant in tried[0]]
        return ContactSheet(title, cells, list(map(say, tried[0])), [shot.name for shot in shots])
    if tried:
        line = [cell(first, variant, caption=say(variant)) for variant in tried[0]]
    else:
        line = [cell(shot, caption=shot.name) for shot in shots]
    width = columns_for(len(line), _size(first.clip, height))
    return ContactSheet(title, [line[n : n + width] for n in range(0, len(line), width)])


def columns_for(count: int, size: Size) -> int:
    """Return the columns in which pictures with captions come nearest to the shape of A4.

    Args:
        count: of the pictures.
        size: of each, in pixels.

    >>> columns_for(21, Size(480, 270))
    5
    """

    def distance_from_square(columns: int) -> float:
        lines = math.ceil(count / columns) * CAPTIONED * size.height
        return abs(math.log(columns * size.width / lines / math.sqrt(2)))

    return min(range(1, count + 1), key=distance_from_square)


def _variants(look: Look, place: Place, values: Sequence[Any] | Literal["all"]) -> list[_Variant]:
    chosen = choices_of(look.document, place) if values == "all" else values
    return [_Variant(place, value) for value in chosen]


def _size(clip: Clip, height: int | None) -> Size:
    return size_at(clip, min(LINES, clip.size.height) if height is None else height)
