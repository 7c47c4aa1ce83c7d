"""What every treatment is shown with, in the sheet for adding and in the docs."""

import numpy as np
import pytest

from tests.conftest import a_look
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.treatments import TREATMENTS
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage

WITHOUT_FILES = [kind for kind in TREATMENTS if kind not in ("plate", "table")]

PLAIN, PART = 0.03, 99.5
"""A change, in display-coded values, that is seen; specks are in one of 200 places at the least."""


@pytest.fixture(scope="module")
def footage():
    with Footage(MEDIA / "glasshouse.mp4") as opened:
        yield opened


@pytest.mark.parametrize("kind", WITHOUT_FILES)
def test_the_effect_is_plain_in_a_small_picture(kind, footage):
    step = {"id": "a", "treatment": kind, "settings": dict(TREATMENTS[kind].shown)}
    size = footage.size.with_height(180)
    evaluator = Evaluator(a_look(step), footage, size, Cache(1 << 26))
    before, after = evaluator.picture(60, "footage"), evaluator.picture(60)
    assert np.percentile(np.abs(after - before), PART) > PLAIN
