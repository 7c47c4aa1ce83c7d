"""Focus: sharp inside, discs of light outside, and nothing sharp in the blur."""

import numpy as np
import pytest
from scipy.ndimage import convolve

from tests.conftest import RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.measure.parts import is_lively_step
from yearning.core.picture import Size

SIZE = Size(640, 360)
GAMMA = 2.4


def run(settings, picture, frame=0):
    path = Evaluator(
        a_look(step("focus", settings)), RecordingClip([picture] * 3), SIZE, Cache(1 << 28)
    )
    return path.picture(frame)


def out_by(size, centre=(0.5, 0.5)):
    """How far each pixel is from the centre, 1 at the ellipse's rim."""
    y, x = np.mgrid[0:360, 0:640] + 0.5
    return np.hypot(
        (x - 640 * centre[0]) / (640 * size[0]), (y - 360 * centre[1]) / (360 * size[1])
    )


def test_within_the_ellipse_the_picture_is_as_it_was():
    picture = lamps(SIZE, 1)[0]
    result = run({"size": [0.2, 0.3], "blur": 40, "regrain": 1}, picture)
    inside = out_by((0.2, 0.3)) < 0.999
    np.testing.assert_array_equal(result[:, inside], picture[:, inside])
    assert np.abs(result - picture)[:, ~inside].max() > 0.1


@pytest.mark.parametrize("blur", [24, 60])
def test_far_out_light_is_spread_by_the_exact_disc(blur):
    """Against scipy's convolution in float64, in light: within 1/100 of what there is."""
    picture = np.clip(lamps(SIZE, 1)[0], 0, 1)
    settings = {"centre": [0.1, 0.5], "size": [0.02, 0.02], "fall": 2, "blur": blur}
    found = run(settings, picture).astype(np.float64) ** GAMMA
    radius = blur * SIZE.scale
    reach = int(np.ceil(radius))
    fine = (np.arange((2 * reach + 1) * 16) + 0.5) / 16 - reach - 0.5
    inside = (fine[:, None] ** 2 + fine**2 <= radius**2).astype(float)
    disc = inside.reshape(2 * reach + 1, 16, -1, 16).mean(axis=(1, 3))
    light = picture[1].astype(np.float64) ** GAMMA
    exact = convolve(light, disc / disc.sum(), mode="reflect")
    far = np.s_[40:-40, 300:-40]
    assert np.abs(found[1][far] - exact[far]).max() < 0.02 * exact.max() + 0.003


def test_what_is_sharp_does_not_bleed_into_the_blur():
    picture = np.full((3, 360, 640), 0.1, np.float32)
    inside = out_by((0.15, 0.25)) < 1
    picture[:, inside] = 1.0
    result = run({"size": [0.16, 0.27], "fall": 0.3, "blur": 60}, picture)
    blurred = out_by((0.16, 0.27)) > 1.25
    assert result[:, blurred].max() < 0.2


def test_a_lamp_opens_into_a_disc():
    picture = np.zeros((3, 360, 640), np.float32)
    picture[:, 178:182, 518:522] = 1.0
    settings = {"centre": [0.1, 0.5], "size": [0.05, 0.05], "fall": 1, "blur": 45}
    light = run(settings, picture)[1].astype(np.float64) ** GAMMA
    radius = 45 * SIZE.scale
    across = light[180, 520 - 30 : 520 + 30]
    within = across > 0.5 * across.max()
    assert within.sum() == pytest.approx(2 * radius, abs=3)
    assert across[within].std() < 0.2 * across[within].mean()  # flat, not a bell
    assert light.sum() == pytest.approx(16, rel=0.1)


def test_grain_put_back_is_new_in_every_frame_and_only_where_the_blur_is():
    flat = np.full((3, 360, 640), 0.5, np.float32)
    settings = {"size": [0.2, 0.3], "blur": 20, "regrain": 1}
    first, second = run(settings, flat, 0), run(settings, flat, 1)
    far = out_by((0.2, 0.3)) > 2.2
    assert 0.02 < (first - 0.5)[0][far].std() < 0.06
    correlation = np.corrcoef((first - 0.5)[0][far], (second - 0.5)[0][far])[0, 1]
    assert abs(correlation) < 0.02
    lively, calm = (a_look(step("focus", s)).steps[0] for s in (settings, {}))
    assert is_lively_step(lively)
    assert not is_lively_step(calm)
