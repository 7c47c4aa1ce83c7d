"""Looks as requests and responses have them."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import LookDocument, LookInput
from yearning.core.look import changes
from yearning.core.look.document import steps_digest
from yearning.core.validation import Whole
from yearning.store.looks import CurrentRevision


class LookChangeOut(BaseModel):
    """A change of a look: its name, and the step it is seen at."""

    words: str
    step: str | None

    @staticmethod
    def of(change: changes.LookChange | None) -> "LookChangeOut | None":
        """From the core's."""
        return LookChangeOut(**change._asdict()) if change else None


class LookOut(BaseModel):
    """A look as it is now; `look` is a document of the format `yearning-look/2`."""

    id: int
    revision: int
    name: str
    look: LookDocument
    digest: str = Field(description="Equal for the same steps.")
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
            undoes=LookChangeOut.of(current.undoes),
            redoes=LookChangeOut.of(current.redoes),
        )


class CheckedLook(BaseModel):
    """A look file as it is understood: in the newest format, with every setting in it."""

    look: LookDocument
    notes: list[str] = Field(description="What of the picture changes, of an older format.")


class SnapshotIn(BaseModel):
    """A state of a look that is to be kept."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=120)
    look: LookInput


class Snapshot(SnapshotIn):
    """A state of a look, kept to compare with and to go back to."""

    id: str
    look: LookDocument


class LookChange(BaseModel):
    """An edit of a look, and the revision it was made from."""

    revision: Whole
    look: LookInput
