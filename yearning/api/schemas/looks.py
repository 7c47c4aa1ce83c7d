"""Looks and fittings as requests and responses have them."""

import re
from typing import Annotated, Any

from fastapi import Query
from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import (
    FittingDocument,
    FittingInput,
    LookDocument,
    LookInput,
)
from yearning.core.errors import InvalidLookError
from yearning.core.look import changes
from yearning.core.look.document import Look, steps_digest
from yearning.core.look.fitting import ClipOverrides, parse_fitting, upgrade_fitting
from yearning.core.validation import Whole, plain_text
from yearning.store.looks import CurrentRevision

OnClip = Annotated[
    int | None, Query(description="The clip on which it stands so; left out, what all share.")
]


class LookChangeOut(BaseModel):
    """A change of a look: its name, and the step it is seen at."""

    words: str
    step: str | None

    @staticmethod
    def of(change: changes.LookChange | None) -> "LookChangeOut | None":
        """From the core's."""
        return LookChangeOut(**change._asdict()) if change else None


class LookOut(BaseModel):
    """A look as it is now; `look` is a document of the format `yearning-look/3`."""

    id: int
    revision: int
    name: str
    look: LookDocument
    digest: str = Field(description="Equal for the same steps.")
    fittings: dict[str, FittingDocument] = Field(
        description="What of it holds for one clip alone, by the clips' numbers."
    )
    digests: dict[str, str] = Field(description="As it stands on those clips.")
    undoes: LookChangeOut | None = Field(description="What Undo takes back.")
    redoes: LookChangeOut | None = Field(description="What Redo makes again.")

    @staticmethod
    def of(current: CurrentRevision) -> "LookOut":
        """From the store's."""
        return LookOut(
            id=current.id,
            revision=current.revision,
            name=current.look.name,
            look=current.look.model_dump(mode="json"),
            digest=steps_digest(current.look),
            fittings={str(c): own.model_dump(mode="json") for c, own in current.fittings.items()},
            digests={str(c): steps_digest(current.look_on(c)) for c in current.fittings},
            undoes=LookChangeOut.of(current.undoes),
            redoes=LookChangeOut.of(current.redoes),
        )


class CheckedLook(BaseModel):
    """A look file as it is understood: in the newest format, with every setting in it."""

    look: LookDocument
    notes: list[str] = Field(description="What of the picture changes, of an older format.")


class LookChange(BaseModel):
    """An edit of a look, and the revision it was made from."""

    revision: Whole
    look: LookInput
    fittings: dict[str, FittingInput] | None = Field(
        None,
        max_length=10_000,
        description="What of it holds for one clip alone, by the clips' numbers; left out, as it "
        "is.",
    )

    def parsed_fittings(self, look: Look) -> dict[int, ClipOverrides] | None:
        """The fittings, by clip, in the newest format.

        Args:
            look: that they belong to.

        Raises:
            InvalidLookError: one is none, or of no clip; it names the place.
        """
        if self.fittings is None:
            return None
        parsed = {_clip_number(clip): _parse_own(clip, own) for clip, own in self.fittings.items()}
        return {clip: upgrade_fitting(look, own) for clip, own in parsed.items()}


def _clip_number(clip: str) -> int:
    if re.fullmatch("[0-9]{1,18}", clip) is None:
        raise InvalidLookError(f"fittings: '{plain_text(clip)[:40]}' is no clip's number")
    return int(clip)


def _parse_own(clip: str, own: dict[str, Any]) -> ClipOverrides:
    try:
        return parse_fitting(own)
    except InvalidLookError as error:
        raise InvalidLookError(f"fittings.{clip}.{error}") from None


class CheckedFitting(BaseModel):
    """A fitting as it is understood, and what of it does not go with the look."""

    fitting: FittingDocument
    notes: list[str] = Field(description="A line each, that begins with the place.")
