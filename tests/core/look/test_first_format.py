"""A look file written by the first version of the program still means the picture it meant then.

`first-format.png` is frame 2 of the lamps at 192x108 through `first-format.look.json`, rendered
with 16 bits by the version that wrote both.
"""

import cv2
import numpy as np

from tests.conftest import ASSETS, RecordingClip, lamps
from tests.data import DATA
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import look_from_json
from yearning.core.picture import Size

SIZE = Size(192, 108)


def test_a_look_of_the_first_format_renders_as_it_did():
    look = look_from_json((DATA / "first-format.look.json").read_text())
    path = Evaluator(look, RecordingClip(lamps(SIZE)), SIZE, Cache(1 << 28), assets=ASSETS)
    then = cv2.imread(str(DATA / "first-format.png"), cv2.IMREAD_UNCHANGED)
    then = then[..., ::-1].transpose(2, 0, 1) / np.float32(65535)
    off = np.abs(np.clip(path.picture(2), 0, 1) - then)
    assert off.max() < 1 / 1000


def test_a_look_is_written_as_it_was():
    text = (DATA / "first-format.look.json").read_text()
    again = look_from_json(look_from_json(text).model_dump_json())
    assert again == look_from_json(text)
    assert [step.id for step in again.steps][:3] == ["mist", "lens", "bloom"]
