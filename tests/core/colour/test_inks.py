"""Inks: what they ask for, and what they make of it on paper."""

import numpy as np
import pytest

from yearning.core.colour.inks import PROCESS, separate_four, separate_two
from yearning.core.halftone.spot_functions import DOTS, TONES, spot_thresholds

RNG = np.random.default_rng(8)
COLOURS = RNG.random((3, 400), dtype=np.float32)


def print_inks(amounts, absorbs):
    """Demichel: inks laid over each other independently let through the product."""
    return np.prod(1 - amounts[:, None] * absorbs[:, :, None], axis=0)


def separate_colours(colours, under, black=(0.9, 0.9, 0.88)):
    out = np.empty((4, colours.shape[1]), np.float32)
    absorbs = np.concatenate([PROCESS, [black]]).astype(np.float32)
    separate_four(np.ascontiguousarray(colours), absorbs[3], np.float32(under), out)
    return out, absorbs


@pytest.mark.parametrize("under", [0.0, 0.5, 1.0])
def test_four_inks_make_every_colour_they_can(under):
    """Of colours made with the inks: the amounts found make them again."""
    amounts = RNG.random((3, 400))
    made = print_inks(amounts, PROCESS.astype(float)).astype(np.float32)
    found, absorbs = separate_colours(made, 0.0)
    np.testing.assert_allclose(print_inks(found, absorbs), made, atol=2e-3)
    found, absorbs = separate_colours(COLOURS, under)
    assert found.min() >= 0
    assert found.max() <= 1


@pytest.mark.parametrize("under", [0.25, 1.0])
def test_black_takes_its_part_of_what_is_common(under):
    found, _ = separate_colours(COLOURS, under)
    np.testing.assert_allclose(found[3], under * (1 - COLOURS.max(axis=0)), atol=1e-6)
    assert found[:3].sum() < separate_colours(COLOURS, 0.0)[0][:3].sum()


def test_white_asks_for_no_ink_and_grey_for_more_the_darker_it_is():
    grey = np.repeat(np.linspace(1, 0, 20, dtype=np.float32)[None], 3, axis=0)
    found, _ = separate_colours(grey, 0.6)
    np.testing.assert_allclose(found[:, 0], 0, atol=1e-6)
    assert np.all(np.diff(found[3]) > 0)


def test_two_inks_are_the_least_squares_of_scipy():
    from scipy.optimize import lsq_linear

    inks = np.array([[0.9, 0.88, 0.85], [0.1, 0.7, 0.8]], np.float32)
    found = np.empty((2, COLOURS.shape[1]), np.float32)
    separate_two(COLOURS, inks, found)
    root = np.sqrt([0.2126, 0.7152, 0.0722])
    for n in range(0, 400, 10):
        exact = lsq_linear((inks * root).T, (1 - COLOURS[:, n]) * root, (0, 1)).x
        lost = [
            np.sum((root * (1 - COLOURS[:, n] - inks.T @ a)) ** 2) for a in (found[:, n], exact)
        ]
        assert lost[0] == pytest.approx(lost[1], abs=2e-3)


@pytest.mark.parametrize("dot", DOTS)
@pytest.mark.parametrize("soft", [0.03, 0.2, 0.8])
def test_thresholds_rise_with_the_tone(dot, soft):
    table = spot_thresholds(dot, soft)
    assert len(table) == TONES
    assert np.all(np.diff(table) >= 0)
