"""`make setup` compiles the kernels, so that no picture waits for a compiler."""

import subprocess
import sys

import pytest

SEEN = """
import json
import sys
from pathlib import Path

from numba.core.dispatcher import Dispatcher

from tests.rendering import render
from yearning.core.look.document import parse_look
from yearning.core.masks.shapes import KINDS
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS
from yearning.media.decode.footage import Footage
from yearning.media.stills.stills import jpeg, png, write_still
from yearning.warm import warm


def compiled():
    kernels = {
        (module.__name__, name): kernel
        for module in list(sys.modules.values())
        if module.__name__.startswith("yearning")
        for name, kernel in vars(module).items()
        if isinstance(kernel, Dispatcher)
    }
    return {(*name, str(s)) for name, kernel in kernels.items() for s in kernel.signatures}


warm()
before = compiled()
data = json.loads((LOOKS / "lamps-at-dusk.json").read_bytes())
shapes = [
    {"id": f"{kind} {n}", "kind": kind} | fields
    for kind in KINDS if kind != "drawn"
    for n, fields in enumerate([{}, {"feather": 12}, {"feather": 90}])
    if not fields or "feather" in KINDS[kind].model_fields
]
data["steps"].append({"id": "masked", "treatment": "mono", "mix": {"mask": shapes}})
look = parse_look(data)
with Footage(MEDIA / "glasshouse.mp4") as footage:
    for height in (1080, 540, 393, 108):
        keep = "last" if height == 1080 else "every step"
        size = footage.size.with_height(height)
        picture = Evaluator(look, footage, size, Cache(1 << 28), keep=keep).picture(9)
        jpeg(picture), png(picture)
    write_still(picture, Path(sys.argv[1]) / "still.png")
    render(footage, look, Path(sys.argv[1]) / "out.mp4", last=1)
for missed in sorted(compiled() - before):
    print(*missed)
"""


@pytest.mark.timeout(240)
def test_a_clip_meets_no_kernel_that_was_not_compiled_at_setup(tmp_path):
    words = [sys.executable, "-c", SEEN, str(tmp_path)]
    done = subprocess.run(words, capture_output=True, text=True, check=True)
    assert done.stdout == ""
