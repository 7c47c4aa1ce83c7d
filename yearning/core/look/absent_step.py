"""Steps whose treatment is of a package that is not installed: a project keeps them as they are."""

import copy
from typing import Any

from pydantic import Field, model_serializer, model_validator

from yearning.core.look.mix import Mix
from yearning.core.look.step import Step
from yearning.core.treatments import is_foreign
from yearning.core.validation import StrictModel

LEFT_OUT: dict[str, Any] = {
    "settings": {},
    "keys": {},
    "bursts": [],
    "on": True,
    "seed_by_clip": False,
    "note": "",
}
"""Fields of a step where a file leaves them out."""


class Absent(StrictModel):
    """The settings of a treatment that is not here: none is known."""


class AbsentStep(Step):
    """A step that is passed over in pictures, and written back as it came."""

    kind = "absent"

    settings: Absent = Absent()
    written: dict[str, Any] = Field(description="The step as its file has it, with every field.")

    @model_validator(mode="before")
    @classmethod
    def _with_defaults(cls, data: Any) -> Any:
        """Take a step as its file has it; nothing but its mask is seen of it."""
        if not isinstance(data, dict) or "written" in data:
            return data
        mix = Mix.model_validate(data.get("mix", {}))
        written = dict(data)  # in the order that it has, as hashes of looks are of that
        for name, value in LEFT_OUT.items():
            written.setdefault(name, copy.copy(value))
        written["mix"] = mix.model_dump(mode="json")
        named = {name: data.get(name) for name in ("id", "treatment")}
        return {**named, "mix": mix, "on": False, "written": written}

    @model_serializer
    def _as_written(self) -> dict[str, Any]:
        return self.written

    @property
    def is_switched_on(self) -> bool:
        """Whether it would be seen, were its treatment here."""
        return bool(self.written["on"])

    @property
    def package(self) -> str:
        """The name of the package that its treatment is of."""
        return self.treatment.partition(".")[0]


def is_absent(step: Any, known: Any) -> bool:
    """Whether a step, as a file has it, is of a package that is not here.

    Args:
        step: parsed JSON.
        known: the treatments that are here, by name.
    """
    kind = step.get("treatment") if isinstance(step, dict) else None
    return isinstance(kind, str) and kind not in known and is_foreign(kind)
