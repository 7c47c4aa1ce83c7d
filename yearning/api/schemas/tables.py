"""Requests and responses about look-up tables and grades."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.validation import Number


class TableOut(BaseModel):
    """A look-up table of the project: the name that looks have it under, and its title."""

    file: str
    title: str


class BakedOut(BaseModel):
    """How well a lattice holds a look, or why it can't."""

    side: int
    error: float | None = Field(
        None, description="The largest of a channel, in parts of full scale."
    )
    reason: str | None = Field(None, description="Why the look is no table, where it is none.")


class Grade(BaseModel):
    """An ASC CDL grade."""

    model_config = ConfigDict(extra="forbid")

    id: str = "yearning"
    slope: tuple[Number, Number, Number] = (1, 1, 1)
    offset: tuple[Number, Number, Number] = (0, 0, 0)
    power: tuple[Number, Number, Number] = (1, 1, 1)
    saturation: Number = 1
