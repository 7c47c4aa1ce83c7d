"""Blends that cut what lies beyond black and white, against the same that keep it, at 1080p."""

import numpy as np

from benchmarks.timing import in_turn
from yearning.core.compositing.blend import Blend, mix
from yearning.core.picture import Picture

BLENDS: tuple[Blend, ...] = ("screen", "multiply", "soft light", "luminosity")
ROWS, WIDTH = 64, 1920
"""Of a band."""
ROUNDS = 60


def run() -> None:
    """Print milliseconds a band, and ratios."""
    random = np.random.default_rng(1)
    within, source = random.random((2, 3, ROWS, WIDTH), np.float32)
    half = within.copy()
    half[:, ::2, 5] = -0.1
    weights, out = np.full((1, 1), 0.75, np.float32), np.empty_like(within)

    def blend(backdrop: Picture, mode: Blend, keep: bool) -> None:
        mix(backdrop, source, mode, weights, out, keep_beyond=keep)

    for says, backdrop in (("all within", within), ("half of the rows beyond", half)):
        print(f"bands of {ROWS} rows of {WIDTH} pixels, {says}")
        for mode in BLENDS:
            kept, cut, ratio = in_turn(
                lambda mode=mode, below=backdrop: blend(below, mode, True),
                lambda mode=mode, below=backdrop: blend(below, mode, False),
                ROUNDS,
            )
            print(
                f"  {mode:10} kept {1e3 * kept:.2f} ms, cut {1e3 * cut:.2f} ms, {ratio:.2f} times"
            )
