"""Contact sheets: pictures in rows and columns with their captions, as a PNG or a PDF page.

What draws words and pages is imported where it is used: it takes a third of a second.
"""

from collections.abc import Callable, Iterator, Sequence
from functools import cache
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Picture, Size, size_of
from yearning.media.atomic_write import atomic_write
from yearning.media.errors import MediaError
from yearning.media.quantizing import quantize

if TYPE_CHECKING:
    from PIL.Image import Image
    from PIL.ImageFont import FreeTypeFont

FONT = Path(__file__).parent / "fonts" / "captions.ttf"

MAX_CELLS = 64
MAX_PIXELS = 40_000_000
"""Of all pictures of a sheet: half a gigabyte while it is put together."""

GROUND, INK = (88, 88, 88), (238, 238, 236)
"""R, G, B of a PNG's ground and words: grey, for colours are judged on it."""

A4 = 297.0, 210.0
"""Millimetres (ISO 216); it lies so that the sheet is largest."""

MARGIN = 10.0
"""Millimetres of a PDF page."""


class Cell(NamedTuple):
    """One picture of a sheet."""

    picture: Picture
    caption: str = ""


class ContactSheet(NamedTuple):
    """Pictures in rows, of as many columns as the longest row has."""

    title: str
    rows: Sequence[Sequence[Cell]]
    row_captions: Sequence[str] = ()
    """Before each row; none where they are left out."""
    column_captions: Sequence[str] = ()
    """Over each column; none where they are left out."""


class _Words(NamedTuple):
    """A line of words, with its left end and the middle of its height, in pixels."""

    text: str
    left: float
    middle: float
    height: float


class _Placed(NamedTuple):
    """A picture with its left upper corner, in pixels."""

    picture: Picture
    left: int
    top: int
    caption: str


class _Layout(NamedTuple):
    """Where everything of a sheet stands, in pixels."""

    width: int
    height: int
    pictures: list[_Placed]
    words: list[_Words]


def check_sheet_size(sizes: Sequence[Size]) -> None:
    """Make sure that pictures of these sizes may stand on one sheet, before they are made.

    Raises:
        MediaError: they are too many, none, or too large together.
    """
    if not 1 <= len(sizes) <= MAX_CELLS:
        raise MediaError(f"a contact sheet has 1 to {MAX_CELLS} pictures, not {len(sizes)}")
    pixels = sum(size.width * size.height for size in sizes)
    if pixels > MAX_PIXELS:
        raise MediaError(
            f"a contact sheet has at most {MAX_PIXELS / 1e6:.0f} million pixels, not "
            f"{pixels / 1e6:.0f}: make its pictures smaller, or fewer"
        )


def contact_sheet_file(sheet: ContactSheet, ending: str) -> bytes:
    """A sheet as a file's bytes.

    Args:
        sheet: of at most 64 pictures, and 40 million pixels; each picture keeps its own.
        ending: `.png`: 8 bits a channel on grey; `.pdf`: an A4 page with the pictures without loss
            and words that can be searched for.

    Raises:
        MediaError: it can't be written so.
    """
    check_sheet_size([size_of(cell.picture) for row in sheet.rows for cell in row])
    if ending not in WRITERS:
        raise MediaError(f"a contact sheet ends in {' or '.join(WRITERS)}, not '{ending}'")
    return WRITERS[ending](_laid_out(sheet), sheet.title)


def write_contact_sheet(sheet: ContactSheet, path: Path) -> None:
    """Write a sheet by the name's ending; it appears only when whole.

    Args:
        sheet: with its pictures.
        path: its ending says of what kind it is.

    Raises:
        MediaError: it can't be written so.
    """
    check_sheet_name(path)
    data = contact_sheet_file(sheet, path.suffix.lower())
    with atomic_write(path) as part:
        part.write_bytes(data)


def check_sheet_name(path: Path) -> None:
    """Raise `MediaError` unless a sheet can be written under that name."""
    if path.suffix.lower() not in WRITERS:
        raise MediaError(f"{path.name}: a contact sheet ends in {' or '.join(WRITERS)}")
    if not path.parent.is_dir():
        raise MediaError(f"{path.parent}: no such folder to write {path.name} in")


def _laid_out(sheet: ContactSheet) -> _Layout:
    """Columns as wide as their widest picture, rows as high as their highest, words for all."""
    columns = max(map(len, sheet.rows))
    widths = [
        max(row[n].picture.shape[2] for row in sheet.rows if n < len(row)) for n in range(columns)
    ]
    text = float(np.clip(np.median(widths) / 20, 12, 32))
    gap, line = round(0.8 * text), round(1.8 * text)
    head = 0
    if any(sheet.row_captions):
        longest = max(
            _font(text).getlength(_replace_unknown(caption)) for caption in sheet.row_captions
        )
        head = gap + round(min(longest, 12 * text))
    lefts = [gap + head + sum(widths[:n]) + n * gap for n in range(columns)]
    pictures, words = [], []
    top = gap

    def say(caption: str, left: float, middle: float, room: float) -> None:
        if caption:
            words.append(_Words(_fitting_words(caption, text, room), left, middle, text))

    if sheet.title:
        room = sum(widths) + head + (columns - 1) * gap
        title = _fitting_words(sheet.title, 1.4 * text, room)
        words.append(_Words(title, gap, top + line / 2, 1.4 * text))
        top += line + gap // 2
    if any(sheet.column_captions):
        for caption, left, width in zip(sheet.column_captions, lefts, widths, strict=False):
            say(caption, left, top + line / 2, width)
        top += line
    for n, row in enumerate(sheet.rows):
        height = max((cell.picture.shape[1] for cell in row), default=0)
        if n < len(sheet.row_captions):
            say(sheet.row_captions[n], gap, top + height / 2, head - gap)
        for cell, left in zip(row, lefts, strict=False):
            pictures.append(_Placed(cell.picture, left, top, cell.caption))
            say(cell.caption, left, top + height + line / 2, cell.picture.shape[2])
        top += height + (line if any(cell.caption for cell in row) else 0) + gap
    return _Layout(lefts[-1] + widths[-1] + gap, top, pictures, words)


def _png(layout: _Layout, title: str) -> bytes:
    from PIL import Image, ImageDraw

    page = Image.new("RGB", (layout.width, layout.height), GROUND)
    draw = ImageDraw.Draw(page)
    for placed in layout.pictures:
        page.paste(_image(placed.picture), (placed.left, placed.top))
    for words in layout.words:
        place = (words.left, words.middle)
        draw.text(place, words.text, INK, _font(words.height), anchor="lm")
    out = BytesIO()
    page.save(out, "PNG")
    return out.getvalue()


def _pdf(layout: _Layout, title: str) -> bytes:
    from fpdf import FPDF

    def scale_on(page: tuple[float, float]) -> float:
        across, down = page
        return min((across - 2 * MARGIN) / layout.width, (down - 2 * MARGIN) / layout.height)

    across, down = page = max(A4, A4[::-1], key=scale_on)
    scale = scale_on(page)
    left, top = (across - scale * layout.width) / 2, MARGIN
    pdf = FPDF("landscape" if across > down else "portrait", "mm", "A4")
    pdf.set_auto_page_break(False)
    pdf.set_title(title)
    pdf.add_font("Captions", fname=FONT)
    pdf.add_page()
    for placed in layout.pictures:
        height, width = placed.picture.shape[1:]
        pdf.image(
            _image(placed.picture),
            left + scale * placed.left,
            top + scale * placed.top,
            scale * width,
            scale * height,
            alt_text=placed.caption or None,
        )
    for words in layout.words:
        size = scale * words.height
        pdf.set_font("Captions", size=size * POINTS_A_MM)
        pdf.text(left + scale * words.left, top + scale * words.middle + 0.35 * size, words.text)
    return bytes(pdf.output())


POINTS_A_MM = 72 / 25.4

WRITERS: dict[str, Callable[[_Layout, str], bytes]] = {".png": _png, ".pdf": _pdf}
"""By ending: how a sheet is written."""


def _image(picture: Picture) -> "Image":
    from PIL.Image import fromarray

    codes: NDArray[np.uint8] = np.asarray(quantize(picture, 8), np.uint8)
    return fromarray(np.ascontiguousarray(codes[..., ::-1]))  # from B, G, R


@cache
def _font(height: float) -> "FreeTypeFont":
    from PIL import ImageFont

    return ImageFont.truetype(FONT, height)


@cache
def _letters() -> frozenset[int]:
    """The characters that the font has."""
    from fontTools.ttLib import TTFont

    with TTFont(FONT, lazy=True) as font:
        return frozenset(font.getBestCmap())


def _replace_unknown(text: str) -> str:
    """Words with a question mark for what the font has not."""
    return "".join(letter if ord(letter) in _letters() else "?" for letter in text)


def _fitting_words(text: str, height: float, room: float) -> str:
    """Words cut where they have no room, with an ellipsis then."""
    text, font = _replace_unknown(text), _font(height)
    if font.getlength(text) <= room:
        return text
    return next((cut for cut in _shorter(text) if font.getlength(cut) <= room), "")


def _shorter(text: str) -> Iterator[str]:
    for length in range(len(text) - 1, 0, -1):
        yield f"{text[:length].rstrip()}…"
