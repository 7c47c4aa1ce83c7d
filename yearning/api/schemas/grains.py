"""Responses about grain that was measured on scans."""

from pydantic import BaseModel, Field

from yearning.core.noise.scanned_grain import GrainTone


class GrainOut(BaseModel):
    """Grain of the project: the name that looks have it under, its title, and how strong it is."""

    file: str
    title: str
    lines: int = Field(description="Of the scan, in pixels.")
    tones: list[GrainTone]
