"""A look file written by the first version of the program still means the picture it meant then.

`first-format.png` is frame 2 of the lamps at 192x108 through `first-format.look.json`, rendered
with 16 bits by the version that wrote both. Its vignette stands before a crop: it belonged to the
whole frame then, and to the frame that is left now, which is the one change of its picture.
"""

import json

import cv2
import numpy as np

from tests.conftest import ASSETS, RecordingClip, lamps
from tests.data import DATA
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import look_from_json, parse_look
from yearning.core.look.upgrades import upgrade_look
from yearning.core.picture import Size

SIZE = Size(192, 108)


def with_the_vignette_of_the_whole_frame():
    """The look with its vignette's opening told in the frame that its crop leaves.

    Of 192 x 108 a ratio of 1.5 leaves 162 x 108, and the place 0.4 from edge to edge begins at 12.
    """
    look = upgrade_look(json.loads((DATA / "first-format.look.json").read_text()))
    edge = next(step for step in look["steps"] if step["id"] == "edge")["settings"]
    wide, high = edge["size"]
    edge["centre"] = [(96 - 12) / 162, 0.5]
    edge["size"] = [wide * 192 / 162, high]
    edge["softness"] *= sum(edge["size"]) / (wide + high)
    return look


def test_a_look_of_the_first_format_renders_as_it_did():
    look = parse_look(with_the_vignette_of_the_whole_frame())
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
