"""The base of the Pydantic models that a look file holds."""

from pydantic import BaseModel, ConfigDict


class StrictModel(BaseModel):
    """A frozen model that refuses unknown fields, NaN and infinity."""

    model_config = ConfigDict(
        extra="forbid", frozen=True, allow_inf_nan=False, serialize_by_alias=True
    )
