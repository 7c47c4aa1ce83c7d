"""Requests and responses about kept states of a look."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import LookDocument, LookInput


class SnapshotIn(BaseModel):
    """A state of a look that is to be kept."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=120)
    look: LookInput


class Snapshot(SnapshotIn):
    """A state of a look, kept to compare with and to go back to."""

    id: str
    look: LookDocument
