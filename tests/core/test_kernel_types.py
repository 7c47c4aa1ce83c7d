"""Arrays of either kind run one kernel; what a kernel reads stays as it was."""

import numba
import numpy as np
import pytest

from tests.conftest import ASSETS, a_look, lamps, step, with_asset
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS

SIZE = Size(96, 54)


def test_one_that_is_read_only_and_one_that_is_not_are_of_one_type():
    @numba.njit
    def sums(line):
        return line.sum()

    line = np.ones(5, np.float32)
    kept = line.copy()
    kept.flags.writeable = False
    assert sums(line) == sums(kept) == sums(kept[1:]) + 1 == 5
    assert len(sums.signatures) == 1
    assert not kept.flags.writeable


@pytest.mark.parametrize("kind", TREATMENTS)
def test_what_a_treatment_reads_stays_as_it_was(kind):
    pictures = lamps(SIZE, 3)
    before = np.array(pictures)
    look = a_look(step("exposure", {"stops": 0.5}), step(kind, with_asset(kind)) | {"id": "k"})
    evaluator = Evaluator(
        look, ArrayClip(pictures), SIZE, Cache(1 << 28), keep="every step", assets=ASSETS
    )
    read = evaluator.picture(1, 1)
    as_it_was = read.copy()
    evaluator.picture(1)
    np.testing.assert_array_equal(read, as_it_was)
    np.testing.assert_array_equal(np.array(pictures), before)
