"""What a treatment of another package may rely on; `docs/adding-a-treatment.md` says how.

Names listed here keep their meaning within a version, and a version is served for as long as
looks of its time are read. Whatever else is in this program may change without a word.
"""

from yearning.core.colour.hues import Colour
from yearning.core.picture import Box, Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Reach, Treatment
from yearning.core.treatment.capabilities import (
    AddsLight,
    AddsTexture,
    AppliesLayer,
    ColourOnly,
    Coverage,
    CoversPart,
    FillsFinalFrame,
    FixedPattern,
    Lively,
    PaintsOver,
    ReadsWholePictures,
    UsesClipStatistics,
    UsesFrameStatistics,
)
from yearning.core.treatment.settings import Place, setting
from yearning.core.treatment.statistics import StatisticsSpec
from yearning.core.treatment.tone_values import ToneValue, tone_number, tone_setting

VERSION = 1
"""Of what is listed here."""

__all__ = [
    "VERSION",
    "AddsLight",
    "AddsTexture",
    "AppliesLayer",
    "Band",
    "Box",
    "Colour",
    "ColourOnly",
    "Coverage",
    "CoversPart",
    "FillsFinalFrame",
    "FixedPattern",
    "FrameContext",
    "Lively",
    "PaintsOver",
    "Picture",
    "Place",
    "Plane",
    "Reach",
    "ReadsWholePictures",
    "Size",
    "StatisticsSpec",
    "ToneValue",
    "Treatment",
    "UsesClipStatistics",
    "UsesFrameStatistics",
    "setting",
    "tone_number",
    "tone_setting",
]
