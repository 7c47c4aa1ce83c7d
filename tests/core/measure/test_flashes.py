"""Flashes just under and just over each limit of WCAG 2.2 SC 2.3.1 and ITU-R BT.1702-3."""

import colour
import numpy as np
import pytest

from yearning.core.measure.flashes import COLUMNS, GLARE, ROWS, Flashes, seconds_at_fault

SIZE = (180, 320)


def code(light):
    """The sRGB value of relative light (IEC 61966-2-1)."""
    light = np.asarray(light, np.float64)
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)


def check_lights(lights, rate=24.0, part=1.0, rest=(0.2, 0.2, 0.2)):
    """What is found where the left `part` of the picture has those linear R, G, B by turns."""
    flashes = Flashes(rate)
    for light in lights:
        picture = np.empty((3, *SIZE), np.float32)
        picture[:] = code(rest).reshape(3, 1, 1)
        picture[:, :, : round(part * SIZE[1])] = code(light).reshape(3, 1, 1)
        flashes.add(picture)
    return flashes.faults()


def grey(light):
    return (light,) * 3


def strobe(low, high, period, count, rest=30):
    """`count` flashes from `low` to `high`, one every `period` frames, and a while of rest."""
    on = period // 2
    flash = [high] * on + [low] * (period - on)
    return [low] * rest + flash * count + [low] * rest


BLACK, WHITE = grey(0.02), grey(0.7)


def test_three_flashes_in_a_second_pass_and_four_fail():
    assert check_lights(strobe(BLACK, WHITE, 8, 3)) == []
    (fault,) = check_lights(strobe(BLACK, WHITE, 6, 4))
    assert fault.kind == "general"
    assert fault.area == 1
    assert fault.flashes == 4
    assert (fault.first, fault.last) == (30, 30 + 6 * 3 + 3)


def test_three_a_second_pass_for_however_long():
    assert check_lights(strobe(BLACK, WHITE, 8, 12)) == []
    (fault,) = check_lights(strobe(BLACK, WHITE, 6, 12))
    assert seconds_at_fault([fault], 24.0) == pytest.approx(12 * 6 / 24, abs=0.2)


@pytest.mark.parametrize("rate", [23.976, 25.0, 50.0, 60.0])
def test_a_second_is_a_second_at_any_rate(rate):
    period = round(rate / 4)
    assert check_lights(strobe(BLACK, WHITE, period, 8), rate)
    assert check_lights(strobe(BLACK, WHITE, round(rate / 2), 8), rate) == []


@pytest.mark.parametrize(("change", "fails"), [(0.095, False), (0.105, True)])
def test_a_change_of_a_tenth_of_white_is_a_flash(change, fails):
    assert bool(check_lights(strobe(grey(0.3), grey(0.3 + change), 4, 8))) is fails


@pytest.mark.parametrize(("darker", "fails"), [(0.79, True), (0.81, False)])
def test_it_is_one_only_where_the_darker_state_is_below_four_fifths(darker, fails):
    assert bool(check_lights(strobe(grey(darker), grey(darker + 0.15), 4, 8))) is fails


@pytest.mark.parametrize(("part", "fails"), [(0.24, False), (0.26, True)])
def test_it_fails_only_over_more_than_a_quarter_of_the_picture(part, fails):
    found = check_lights(strobe(BLACK, WHITE, 4, 8), part=part)
    assert bool(found) is fails
    if fails:
        assert found[0].area == pytest.approx(part, abs=1 / COLUMNS)


RED, DIM_RED = (0.4, 0.0, 0.0), (0.36, 0.0, 0.0)
NEARLY_RED, NOT_RED = (0.4, 0.045, 0.045), (0.4, 0.06, 0.06)
CYAN = (0.02, 0.2, 0.2)
GREY_AS_BRIGHT = grey(0.2126 * 0.4)


def test_red_flashes_fail_where_the_light_hardly_changes():
    (fault,) = check_lights(strobe(GREY_AS_BRIGHT, RED, 4, 8))
    assert fault.kind == "red"
    assert check_lights(strobe(RED, DIM_RED, 4, 8)) == []


@pytest.mark.parametrize(("red", "fails"), [(NEARLY_RED, True), (NOT_RED, False)])
def test_red_is_from_four_fifths_of_the_light_on(red, fails):
    found = check_lights(strobe(CYAN, red, 4, 8))
    assert any(fault.kind == "red" for fault in found) is fails


@pytest.mark.parametrize(("other", "fails"), [(0.018, True), (0.022, False)])
def test_red_transitions_go_a_fifth_over_the_chromaticity_diagram(other, fails):
    """From grey; the distance by colour-science's CIE 1976 u′v′."""
    red = (0.4, other, other)
    uv = [
        colour.xy_to_Luv_uv(colour.XYZ_to_xy(colour.RGB_to_XYZ(np.array(rgb) + GLARE, "sRGB")))
        for rgb in (red, grey(0.1))
    ]
    assert bool(np.hypot(*(uv[0] - uv[1])) > 0.2) is fails
    assert bool(check_lights(strobe(grey(0.1), red, 4, 8))) is fails


def test_a_slow_swell_is_no_flash():
    swell = [grey(0.4 + 0.35 * np.sin(2 * np.pi * n / 24)) for n in range(240)]
    assert check_lights(swell) == []


def test_a_fade_between_flashes_does_not_hide_them():
    """Steps too small alone, one way after the other, are one transition."""
    ramp = [0.1, 0.16, 0.22, 0.28, 0.22, 0.16]
    assert check_lights([grey(v) for v in ramp * 8])


def test_flashes_by_turns_in_two_halves_fail_although_the_mean_stays():
    flashes = Flashes(24.0)
    for n in range(60):
        picture = np.full((3, *SIZE), code(0.02), np.float32)
        half = slice(None, SIZE[1] // 2) if n // 2 % 2 else slice(SIZE[1] // 2, None)
        picture[:, :, half] = code(0.7)
        flashes.add(picture)
    assert flashes.faults()[0].area == 1


@pytest.mark.parametrize("shape", [(1, 1), (9, 16), (ROWS, COLUMNS), (101, 75)])
def test_pictures_of_any_size_are_looked_at(shape):
    flashes = Flashes(24.0)
    for n in range(48):
        flashes.add(np.full((3, *shape), 0.9 if n // 2 % 2 else 0.1, np.float32))
    assert flashes.faults()[0].area == 1
