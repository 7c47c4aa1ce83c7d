"""How a step's result is laid back on the picture."""

from typing import Any, Literal

from pydantic import Field, field_validator

from yearning.core.compositing.blend import Blend
from yearning.core.compositing.tone_window import Tones
from yearning.core.masks.shapes import Mask, Shape
from yearning.core.validation import StrictModel

PREVIOUS_INPUT, FOOTAGE_INPUT = "previous", "footage"
"""What a step's input may be besides another step: the picture before it, or the footage."""

KEYABLE_OF_MIX = ("amount", "tones")
"""Fields of a mix that keys can pin."""

MASK = "mix.mask."
"""What names of keys of a mask's shapes begin with: `mix.mask.<id>.<field>`."""


class Mix(StrictModel):
    """How a step's result is laid back on the picture."""

    blend: Blend = Field("normal", description="Blend mode.")
    amount: float = Field(1.0, ge=0, le=1, description="0 leaves the picture as it was.")
    tones: Tones | None = Field(
        None, description="Tone window: [tone, weight] points over the luma of the picture below."
    )
    mask: Mask = Field((), description="Shapes that say where the step shows; none: everywhere.")
    layer: Literal["own", "treated"] = Field(
        "own",
        description="What a blend mode other than the treatment's own lays on the picture: what "
        "the treatment adds, alone, or the whole treated picture.",
    )
    out_of_range: Literal["limit", "keep"] = Field(
        "limit",
        description="'limit' holds both sides of a blend to 0..1 and adds again what lies beyond, "
        "as far as it shows; 'keep' blends with what lies beyond.",
    )
    input: str = Field(
        PREVIOUS_INPUT,
        min_length=1,
        max_length=64,
        description="What the step treats: 'previous' (the picture before it), 'footage', or the "
        "id of an earlier step.",
    )

    @field_validator("tones", mode="before")
    @classmethod
    def _none_if_empty(cls, value: Any) -> Any:
        return value or None

    @field_validator("mask", mode="before")
    @classmethod
    def _no_shapes(cls, value: Any) -> Any:
        return value or ()

    def shape(self, id: str) -> Shape | None:
        """The shape of that id, if there is one."""
        return next((shape for shape in self.mask if shape.id == id), None)

    @property
    def replaces(self) -> bool:
        """Whether the result takes the place of the picture below, as a whole."""
        return self.blend == "normal" and self.amount == 1 and self.is_everywhere

    @property
    def is_everywhere(self) -> bool:
        """Whether it shows alike all over the picture."""
        return self.tones is None and not self.mask
