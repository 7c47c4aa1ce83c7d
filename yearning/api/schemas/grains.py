"""Responses about grain that was measured on scans."""

from pydantic import BaseModel, Field


class ToneOut(BaseModel):
    """How strong grain is in one tone."""

    luma: float = Field(description="The tone, 0..1, display-coded.")
    rms: list[float] = Field(description="Of R, G and B, display-coded.")


class GrainOut(BaseModel):
    """Grain of the project: the name that looks have it under, its title, and how strong it is."""

    file: str
    title: str
    lines: int = Field(description="Of the scan, in pixels.")
    tones: list[ToneOut]
