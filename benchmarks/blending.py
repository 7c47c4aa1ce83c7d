"""Blends that cut what lies beyond black and white.

Bands of 64 rows of 1920 pixels; the peer keeps what lies beyond.
"""

from collections.abc import Iterator

import numpy as np

from benchmarks.report import Effort, Row, against
from benchmarks.timing import in_turn
from yearning.core.compositing.blend import Blend, mix
from yearning.core.picture import Picture

BLENDS: tuple[Blend, ...] = ("screen", "multiply", "soft light", "luminosity")
ROWS, WIDTH = 64, 1920
"""Of a band."""
ROUNDS = 60


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds a band."""
    random = np.random.default_rng(1)
    within, source = random.random((2, 3, ROWS, WIDTH), np.float32)
    half = within.copy()
    half[:, ::2, 5] = -0.1
    weights, out = np.full((1, 1), 0.75, np.float32), np.empty_like(within)

    def blend(backdrop: Picture, mode: Blend, keep: bool) -> None:
        mix(backdrop, source, mode, weights, out, keep_beyond=keep)

    for says, backdrop in (("all within", within), ("half of the rows beyond", half)):
        for mode in BLENDS:
            cut, kept, ratio = in_turn(
                lambda mode=mode, below=backdrop: blend(below, mode, False),
                lambda mode=mode, below=backdrop: blend(below, mode, True),
                effort.rounds(ROUNDS),
            )
            yield against(f"{mode}, {says}", 1e3 * cut, "kept", 1e3 * kept, ratio=ratio)
