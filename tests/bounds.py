"""Render every treatment, starter look and kind of shape with each index of each kernel checked.

`NUMBA_BOUNDSCHECK=1 NUMBA_CACHE_DIR=DIR python -m tests.bounds`, as `make bounds` does it:
numba's own check raises where a kernel reads or writes outside an array, which else only shows
where the memory behind it happens to hold a NaN. It compiles all kernels anew: some two minutes.
"""

import os
import sys

from tests.conftest import ASSETS, RecordingClip, lamps
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import Look, parse_look
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS
from yearning.starters import starters

SIZES = (Size(192, 108), Size(317, 179), Size(640, 360))


def _masked_look(feather: float) -> Look:
    """A look of a step in shapes of every kind, some of them partly outside, one that rides."""
    edge = {"feather": feather}
    path = [[0.1, 0.1, 0, 0.2, 0.2, 0], [1.2, 0.4, -0.1, 0, 0, 0.3], [0.4, 1.1, 0.1, 0, -0.1, 0]]
    mask = [
        {"id": "a", "kind": "ellipse", "centre": [0, 0.5], "turn": 20, **edge},
        {"id": "b", "kind": "box", "centre": [0.9, 0.9], "round": 0.5, "invert": True, **edge},
        {"id": "c", "kind": "drawn", "points": path, "join": "take away", **edge},
        {"id": "d", "kind": "wash", "join": "keep common"},
        {"id": "e", "kind": "tones", "of": "footage"},
        {"id": "f", "kind": "hue"},
        {"id": "g", "kind": "matte", "file": "spots.mp4", "join": "take away"},
        {"id": "h", "kind": "ellipse", "track": "drifting.json", **edge},
    ]
    steps = [
        {"id": "bend", "treatment": "bend", "settings": {"barrel": 0.2}},
        {"id": "glow", "treatment": "glow", "mix": {"mask": mask}},
    ]
    name = f"shapes with a feather of {feather:g}"
    return parse_look({"format": "yearning-look/3", "name": name, "steps": steps})


def main() -> int:
    """Return 1 where an index lay outside, and say in which look at which size."""
    if os.environ.get("NUMBA_BOUNDSCHECK") != "1":
        print("Set NUMBA_BOUNDSCHECK=1, and NUMBA_CACHE_DIR to a new folder.", file=sys.stderr)
        return 2
    looks: list[Look] = [starter.look for starter in starters()]
    for kind in TREATMENTS:
        step = {"id": kind, "treatment": kind, "settings": {}}
        looks.append(parse_look({"format": "yearning-look/3", "name": kind, "steps": [step]}))
    looks += [_masked_look(feather) for feather in (0, 3, 30, 300)]
    faults = 0
    for size in SIZES:
        clip = RecordingClip(list(lamps(size, 6)))
        for look in looks:
            try:
                Evaluator(look, clip, size, Cache(1 << 26), assets=ASSETS).picture(3)
            except IndexError as outside:
                faults += 1
                print(f"{look.name} at {size.width}x{size.height}: {outside}")
    print(f"{len(looks)} looks at {len(SIZES)} sizes, {faults} with an index outside")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
