"""JSON from outside: depth, numbers, and a time that is linear in its length."""

import json
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yearning.core.json_text import JsonError, check_json, nesting

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**20), 10**20) | st.floats(-1e90, 1e90) | st.text(),
    lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
    max_leaves=20,
)


def depth(value):
    """As a parser would count it."""
    if not isinstance(value, dict | list):
        return 0
    inner = value.values() if isinstance(value, dict) else value
    return 1 + max(map(depth, inner), default=0)


@given(VALUES, st.booleans())
def test_its_depth_is_that_of_what_is_parsed(value, plain):
    text = json.dumps(value, ensure_ascii=plain).encode(errors="surrogatepass")
    check_json(text, depth(value))
    if depth(value):
        with pytest.raises(JsonError, match=r"more than \d+ deep"):
            check_json(text, depth(value) - 1)


@pytest.mark.parametrize(
    "text",
    ["NaN", "[-Infinity]", '{"a": Infinity}', "1e999", "[1E+400]", "9" * 400, "-1e100", "1e0999"],
)
def test_numbers_that_none_can_mean_are_refused(text):
    with pytest.raises(JsonError, match=r"is no number|too large"):
        check_json(text.encode(), 9)


@pytest.mark.parametrize(
    "text",
    ['"NaN 1e999"', "1e-999", "1e99", "-1.5E+12", "[true, false, null]", '"\\\\"', "0" * 300],
)
def test_others_are_left_to_the_parser(text):
    check_json(text.encode(), 9)


WORST = {
    "escaped quotes": b'\\"',
    "quotes": b'"',
    "brackets": b"[",
    "backslashes": b"\\\\",
    "digits": b"1",
    "exponents": b"1e1",
    "letters": b"Na",
    "strings": b'"",',
    "strings that do not close": b'"[\\"',
}
"""What is repeated."""


@pytest.mark.timeout(60)
@pytest.mark.parametrize("name", list(WORST))
def test_a_megabyte_of_the_worst_is_checked_in_linear_time(name):
    """In milliseconds; where the time goes with the square of the length, in an hour: the runner's
    own limit tells."""
    text = WORST[name] * ((1 << 20) // len(WORST[name]))
    with suppress(JsonError):
        check_json(text, 1 << 30)


def test_nothing_is_no_deeper_than_nothing():
    assert nesting(b"") == 0


@pytest.mark.parametrize(
    ("text", "values"), [('[1, "a,b", [2]]', 4), ("[]", 1), ('{"a": "[,"}', 0)]
)
def test_its_values_are_bounded_in_number(text, values):
    check_json(text.encode(), 9, values)
    if values:
        with pytest.raises(JsonError, match="more than"):
            check_json(text.encode(), 9, values - 1)
