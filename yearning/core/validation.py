"""The base of the Pydantic models that a look file holds, and what text from outside may be."""

import unicodedata
from collections.abc import Callable
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict


class StrictModel(BaseModel):
    """A frozen model that refuses unknown fields, NaN and infinity."""

    model_config = ConfigDict(
        extra="forbid", frozen=True, allow_inf_nan=False, serialize_by_alias=True
    )


def refusal(error: Any, where: str) -> str:
    """Return one of Pydantic's validation errors as `place: what is wrong`.

    Args:
        error: as Pydantic lists it.
        where: the place.

    >>> refusal({"type": "missing", "msg": "Field required"}, "steps[0].id")
    'steps[0].id: missing'
    """
    match error["type"]:
        case "extra_forbidden":
            return f"{where}: unknown field"
        case "missing":
            return f"{where}: missing"
    message = error["msg"].removeprefix("Value error, ")
    return f"{where}: {message[0].lower()}{message[1:]}" if where else message


def plain_text(text: str) -> str:
    r"""Return text without control characters and halves of surrogate pairs: those become spaces.

    >>> plain_text("one\ntwo")
    'one two'
    """
    return "".join(" " if unicodedata.category(c) in ("Cc", "Cs") else c for c in text)


PlainText = Annotated[str, AfterValidator(plain_text)]
"""Text of one line, of which control characters are spaces."""


def _no_truth(value: Any) -> Any:
    if isinstance(value, bool):
        raise ValueError("input should be a number, not true or false")
    return value


Whole = Annotated[int, BeforeValidator(_no_truth)]
"""A whole number as JSON has it, where `true` is none."""

Number = Annotated[float, BeforeValidator(_no_truth)]
"""A number as JSON has it, where `true` is none."""

COUNT_DIGITS = 9


def is_count(text: str) -> bool:
    """Whether a text is a whole number that is not too long to be one.

    >>> is_count("12"), is_count("²"), is_count("-1"), is_count("9" * 5000)
    (True, False, False, False)
    """
    return len(text) <= COUNT_DIGITS and text.isascii() and text.isdigit()


def _farthest(value: Any) -> float:
    if isinstance(value, list | tuple):
        return max(map(_farthest, value), default=0)
    return abs(value) if isinstance(value, int | float) else 0


def refuse_beyond(most: int) -> Callable[[Any], Any]:
    """A validator that refuses a number, or one of many within each other, farther from 0.

    >>> refuse_beyond(3)([[1, -2], [3]])
    [[1, -2], [3]]
    """

    def check(value: Any) -> Any:
        if _farthest(value) > most:
            raise ValueError(f"no number is farther from 0 than {most}")
        return value

    return check
