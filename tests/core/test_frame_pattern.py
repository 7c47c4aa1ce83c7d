"""Names of numbered stills."""

import pytest

from yearning.core.frame_pattern import frame_number, has_one_number, is_frame_pattern

NAMES = [
    ("shot.%04d.png", "shot.0012.png", 12),
    ("shot.%04d.png", "shot.12345.png", 12345),
    ("shot.%04d.png", "shot.12.png", None),
    ("shot.%d.png", "shot.12.png", 12),
    ("shot.%d.png", "shot.012.png", None),
    ("shot.%04d.png", "shot.0012.exr", None),
    ("shot.%04d.png", "other.0012.png", None),
    ("shot.%04d.png", "shot..png", None),
    ("shot.%04d.png", "shot.-001.png", None),
    ("shot.%04d.png", "shot.٠٠١٢.png", None),
    ("%d", "7", 7),
    ("%d", "9" * 19, None),
]


@pytest.mark.parametrize(("pattern", "name", "number"), NAMES)
def test_a_still_s_number_is_what_the_pattern_would_print(pattern, name, number):
    assert frame_number(pattern, name) == number
    if number is not None:
        assert pattern % number == name


@pytest.mark.parametrize(
    ("name", "pattern", "one"),
    [
        ("a.%04d.png", True, True),
        ("a%d.png", True, True),
        ("a.png", False, False),
        ("100%.png", False, False),
        ("a.%d.%d.png", True, False),
        ("100% %d.png", True, False),
        ("a.%s.png", False, False),
    ],
)
def test_a_pattern_has_one_number_and_no_other_per_cent_sign(name, pattern, one):
    assert is_frame_pattern(name) is pattern
    assert has_one_number(name) is one
