"""JSON from outside, checked in one linear pass before a parser sees it (RFC 8259)."""

import re

import numpy as np

from yearning.core.errors import YearningError

_STRINGS = re.compile(rb'"(?:[^"\\]++|\\.)*+"?', re.DOTALL)
"""Strings; one without its end goes on to the text's. Possessive: nothing is tried twice."""

_NO_NUMBER = re.compile(rb"NaN|Infinity|[eE]\+?[0-9]{3}|[0-9]{310}")
"""What Python's parser takes beyond RFC 8259, and numbers from 1e100 on, or of 310 digits: the
largest double has 309. Each alternative is of one length, so that the search is linear."""


class JsonError(YearningError, ValueError):
    """A JSON text that is refused before it is parsed; its message says why."""


def check_json(text: bytes, max_depth: int, max_values: int | None = None) -> None:
    """Refuse a JSON text that is nested too deeply, or has numbers that no setting can have.

    The time is linear in the text's length, whatever stands in it. That it is JSON at all is left
    to the parser.

    Args:
        text: in UTF-8.
        max_depth: of arrays and objects within each other.
        max_values: of numbers, texts, arrays and objects in all, about; None for any number.

    Raises:
        JsonError: it is nested more deeply, has more values, or has NaN, an infinity, or a number
            from 1e100 on.

    >>> check_json(b'{"a": [[1, "[[["]]}', max_depth=3)
    >>> check_json(b'[NaN]', max_depth=3)
    Traceback (most recent call last):
    yearning.core.json_text.JsonError: NaN is no number; leave it out
    """
    bare = _STRINGS.sub(b"", text)
    if nesting(bare) > max_depth:
        raise JsonError(f"it is nested more than {max_depth} deep")
    if max_values is not None and bare.count(b",") + bare.count(b"[") > max_values:
        raise JsonError(f"it holds more than {max_values} values")
    found = _NO_NUMBER.search(bare)
    if found is None:
        return
    if found[0].isalpha():
        raise JsonError(f"{found[0].decode()} is no number; leave it out")
    raise JsonError("a number is too large, from 1e100 on; write one that can be meant")


def nesting(bare: bytes) -> int:
    """How deep arrays and objects stand within each other, of a JSON text without its strings."""
    read = np.frombuffer(bare, np.uint8)
    steps = np.zeros(len(read), np.int8)
    steps[(read == ord("[")) | (read == ord("{"))] = 1
    steps[(read == ord("]")) | (read == ord("}"))] = -1
    return int(np.cumsum(steps, dtype=np.int32).max(initial=0))
