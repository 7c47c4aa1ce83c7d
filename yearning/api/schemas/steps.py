"""Steps kept under a name, to be added again."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import StepDocument


class KeptStep(BaseModel):
    """A step kept under a name; `step` is as a look file of `yearning-look/3` holds it."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=120)
    step: StepDocument
