"""Contact sheets read back: as a PNG with OpenCV, as a PDF with pypdf."""

import io

import cv2
import numpy as np
import pypdf
import pytest

from yearning.core.picture import Size
from yearning.media.errors import MediaError
from yearning.media.quantizing import quantize
from yearning.media.stills.contact_sheet import (
    GROUND,
    Cell,
    ContactSheet,
    check_sheet_size,
    contact_sheet_file,
    write_contact_sheet,
)


def picture(n, width=160, height=90):
    return np.random.default_rng(n).random((3, height, width), np.float32)


def places_in(sheet, part):
    """Where a picture lies in another, every pixel of it: left and top."""
    _, _, (left, top), _ = cv2.minMaxLoc(cv2.matchTemplate(sheet, part, cv2.TM_SQDIFF))
    lines, columns = part.shape[:2]
    assert np.array_equal(sheet[top : top + lines, left : left + columns], part)
    return left, top


ROWS = [[Cell(picture(3 * row + column)) for column in range(3)] for row in range(2)]
SHEET = ContactSheet("Glow · spread", ROWS, ["12 px", "60 px"], ["Barge", "Tower", "Glasshouse"])


def test_each_picture_keeps_its_pixels_in_its_row_and_column():
    found = cv2.imdecode(np.frombuffer(contact_sheet_file(SHEET, ".png"), np.uint8), 1)
    places = [[places_in(found, quantize(cell.picture, 8)) for cell in row] for row in ROWS]
    lefts, tops = np.moveaxis(np.array(places), -1, 0)
    assert (np.diff(lefts, axis=1) >= 160).all()
    assert (np.diff(tops, axis=0) >= 90).all()
    assert (lefts == lefts[0]).all()
    assert (tops[:, 0] == tops.T).all()
    words = found[: tops[0, 0]]
    assert (words == GROUND).all(axis=-1).mean() > 0.5
    assert (words > 200).all(axis=-1).sum() > 100  # the title, and what the columns are


def test_a_pdf_is_one_a4_page_with_words_and_pictures_without_loss():
    [page] = pypdf.PdfReader(io.BytesIO(contact_sheet_file(SHEET, ".pdf"))).pages
    across, down = page.mediabox.width, page.mediabox.height
    assert (float(across) / 72 * 25.4, float(down) / 72 * 25.4) == pytest.approx((297, 210), abs=1)
    words = page.extract_text()
    for said in (SHEET.title, *SHEET.row_captions, *SHEET.column_captions):
        assert said in words
    kept = [np.asarray(each.image.convert("RGB")) for each in page.images]
    made = [quantize(cell.picture, 8)[..., ::-1] for row in ROWS for cell in row]
    assert len(kept) == 6
    assert all(any(np.array_equal(one, each) for one in kept) for each in made)


def test_pictures_of_several_sizes_do_not_overlap():
    cells = [Cell(picture(1, 160, 90), "wide"), Cell(picture(2, 60, 120), "high")]
    found = cv2.imdecode(
        np.frombuffer(contact_sheet_file(ContactSheet("", [cells]), ".png"), np.uint8), 1
    )
    (left, top), (other, _) = [places_in(found, quantize(cell.picture, 8)) for cell in cells]
    assert other >= left + 160
    assert found.shape[0] >= top + 120


def test_long_words_are_cut_and_unknown_letters_replaced():
    sheet = ContactSheet("", [[Cell(picture(1), "灯 " + "lamps at dusk " * 9)]])
    words = pypdf.PdfReader(io.BytesIO(contact_sheet_file(sheet, ".pdf"))).pages[0].extract_text()
    assert words.startswith("? lamps at dusk")
    assert words.rstrip().endswith("…")
    assert len(words) < 40


def test_what_can_not_be_written_is_told(tmp_path):
    with pytest.raises(MediaError, match="1 to 64 pictures, not 65"):
        contact_sheet_file(ContactSheet("", [[Cell(picture(1, 4, 4))] * 65]), ".png")
    with pytest.raises(MediaError, match="at most 40 million pixels, not 66: make its pictures"):
        check_sheet_size([Size(7680, 4320)] * 2)
    with pytest.raises(MediaError, match=r"sheet\.jpg: a contact sheet ends in \.png or \.pdf"):
        write_contact_sheet(SHEET, tmp_path / "sheet.jpg")
    with pytest.raises(MediaError, match="no such folder"):
        write_contact_sheet(SHEET, tmp_path / "gone" / "sheet.png")
