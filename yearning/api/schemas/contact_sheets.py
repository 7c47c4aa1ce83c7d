"""Requests for contact sheets."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field, model_validator

from yearning.api.schemas.pictures import FrameRequest, Height
from yearning.core.validation import Whole
from yearning.media.stills.contact_sheet import MAX_CELLS

Caption = Annotated[str, Field(max_length=200)]


class CellRequest(FrameRequest):
    """One picture of a sheet: a look at a frame of a clip."""

    caption: Caption = Field("", description="Below the picture.")


class ContactSheetRequest(BaseModel):
    """Pictures that are put on one sheet, line by line."""

    title: Caption = ""
    cells: list[CellRequest] = Field(min_length=1, max_length=MAX_CELLS)
    columns: Whole = Field(ge=1, le=MAX_CELLS, description="Pictures in a row.")
    row_captions: list[Caption] = Field(
        [], max_length=MAX_CELLS, description="Before each row; none: nothing stands there."
    )
    column_captions: list[Caption] = Field(
        [], max_length=MAX_CELLS, description="Over each column; none: nothing stands there."
    )
    height: Height = 270
    file: Literal["png", "pdf"] = Field("png", description="A picture, or an A4 page.")

    @model_validator(mode="after")
    def _captions_for_all(self) -> "ContactSheetRequest":
        rows = -(-len(self.cells) // self.columns)
        for name, said, needed in (
            ("row_captions", self.row_captions, rows),
            ("column_captions", self.column_captions, self.columns),
        ):
            if said and len(said) != needed:
                raise ValueError(f"{name}: {needed} are needed, not {len(said)}")
        return self
