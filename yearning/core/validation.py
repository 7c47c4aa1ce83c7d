"""The base of what a look file holds."""

from pydantic import BaseModel, ConfigDict


class Strict(BaseModel):
    """Only what is known, no numbers that are none, and never changed once made."""

    model_config = ConfigDict(
        extra="forbid", frozen=True, allow_inf_nan=False, serialize_by_alias=True
    )
