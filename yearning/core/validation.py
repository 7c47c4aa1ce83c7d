"""The base of the Pydantic models that a look file holds, and what text from outside may be."""

import unicodedata
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict


class StrictModel(BaseModel):
    """A frozen model that refuses unknown fields, NaN and infinity."""

    model_config = ConfigDict(
        extra="forbid", frozen=True, allow_inf_nan=False, serialize_by_alias=True
    )


def plain_text(text: str) -> str:
    """Text without control characters and halves of surrogate pairs: those become spaces.

    >>> plain_text("one\\ntwo")
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


def farthest(value: Any) -> float:
    """How far from 0 a number is, or that of many which is the farthest.

    >>> farthest(-3), farthest([[1, 2], [0, -5]]), farthest("a word")
    (3, 5, 0)
    """
    if isinstance(value, list | tuple):
        return max(map(farthest, value), default=0)
    return abs(value) if isinstance(value, int | float) else 0
