"""Contact sheets: pictures of looks side by side with their captions, as a file."""

from fastapi import APIRouter
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.attachments import answers, attachment, file_stem
from yearning.api.dependencies import Preview
from yearning.api.preview import preview_size
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.contact_sheets import CellRequest, ContactSheetRequest
from yearning.core.look.document import parse_look
from yearning.media.stills.contact_sheet import (
    Cell,
    ContactSheet,
    check_sheet_size,
    contact_sheet_file,
)

MEDIA_TYPES = {"png": "image/png", "pdf": "application/pdf"}

router = APIRouter(prefix=V1, tags=["pictures"], responses=OF_CLIP)


@router.post("/contact-sheets", response_class=Response, responses=answers(*MEDIA_TYPES.values()))
def make_contact_sheet(preview: Preview, ask: ContactSheetRequest) -> Response:
    """Put pictures with their captions on one sheet, a PNG or a PDF page."""

    def make_cell(cell: CellRequest) -> Cell:
        look, footage = (
            parse_look(cell.look, keep_absent=True),
            preview.footage(preview.project.clips.get(cell.clip)),
        )
        with preview.computing:
            evaluator = preview.evaluator(look, footage, ask.height, keep="every step")
            return Cell(evaluator.picture(cell.frame), cell.caption)

    shown = [preview.footage(preview.project.clips.get(cell.clip)) for cell in ask.cells]
    check_sheet_size([preview_size(footage, ask.height) for footage in shown])
    cells = list(map(make_cell, ask.cells))
    rows = [cells[n : n + ask.columns] for n in range(0, len(cells), ask.columns)]
    sheet = ContactSheet(ask.title, rows, ask.row_captions, ask.column_captions)
    name = f"{file_stem(ask.title) or 'sheet'}.{ask.file}"
    return Response(
        contact_sheet_file(sheet, f".{ask.file}"),
        media_type=MEDIA_TYPES[ask.file],
        headers=attachment(name),
    )
