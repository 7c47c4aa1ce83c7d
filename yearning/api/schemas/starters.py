"""Starter looks as responses."""

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import LookDocument


class StarterBursts(BaseModel):
    """Frames of each burst of a step, and of its coming and going; and what counts as a beat."""

    length: int
    ramp: int
    threshold: float


class StarterOut(BaseModel):
    """A starter look, and what it is for."""

    name: str
    summary: str
    look: LookDocument
    bursts: dict[str, StarterBursts] = Field(
        description="Steps that are to be active in bursts, made for the clip."
    )
