"""Compile every numba kernel once, into its cache: `python -m yearning.warm`."""

from typing import Any, get_args

import numpy as np

from yearning.core.cache import Cache
from yearning.core.colour.conversion import Light, conversion
from yearning.core.colour.matrices import Coding
from yearning.core.colour.tables import (
    Clamp,
    Grade,
    Lut1D,
    Lut3D,
    Matrix,
    Part,
    Table,
    apply_table,
)
from yearning.core.compositing.blend import BLENDS, mix
from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.filters import gaussian
from yearning.core.look.document import STEPS, parse_look
from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.core.measure.steadiness import SteadinessAnalysis
from yearning.core.motion.flow import luma_codes
from yearning.core.motion.frame_interpolation import estimate_motion, interpolate_frame
from yearning.core.picture import Picture, Size
from yearning.core.treatment.assets import NO_ASSETS, Assets
from yearning.media.decode.planes import planes_to_picture
from yearning.media.quantizing import picture_to_planes, quantize


def _ramp(size: Size) -> ArrayClip:
    """Three frames from black to white."""
    ramp = np.linspace(0, 1, 3 * size.width * size.height, dtype=np.float32)
    return ArrayClip([ramp.reshape(3, size.height, size.width)] * 3, "ramp")


class _Plate:
    """A plate without a file."""

    frames = 1
    size = Size(64, 36)

    def picture(self, frame: int, size: Size) -> Picture:
        return np.full((3, size.height, size.width), 0.5, np.float32)

    def matte(self, frame: int, size: Size) -> None:
        return None


ASSETS = Assets(NO_ASSETS.table, lambda name: _Plate())

TINTS = ("#ff0055", "#00aa55", "#005555")

VARIANTS: dict[str, list[dict[str, Any]]] = {
    "balance": [{}, {"mode": "cdl", "power": [1.2, 1, 1], "saturation": 1.2}],
    "levels": [{"gamma": 2}],
    "sharpen": [{}, {"radius": 20}],
    "soften": [{}, {"shape": "disc"}, {"radius": 1}],
    "tone": [{"contrast": 0.5}],
    "curve": [{"luma": [[0, 0.1], [1, 1]], "red": [[0, 0.1], [1, 1]]}],
    "glow": [{}, {"linear": True}, {"spread": 200}],
    "bend": [{}, {"cover": "black"}],
    "crop": [{"size": 0.5}],
    "focus": [{}, {"regrain": 0.5}],
    "halation": [{}, {"mid_warmth": 1}],
    "dust": [{"specks": 240, "hairs": 24, "blotches": 12, "scratches": 6, "gate_hair": 1}],
    "flurry": [{}, {"shine": 1}],
    "plate": [{"file": "any", "turn": 10}],
    "leak": [{"second": 1}],
    "split": [{"red_x": 8.3, "red_magnify": 0.98}, {"red_turn": 2, "tints": TINTS}],
    "slices": [{}, {"shape": "blocks"}],
    "static": [{}, {"colour": 0}],
    "tape": [{}, {"smear": 0}],
    "brush": [{}, {"settle": 0}],
    "halftone": [
        {"rough": 0.5, "press": 2, "dot": "line"},
        {"inks": "two", "pitch": 20},
        {"inks": "four", "settle": 0},
    ],
    "grain": [{}, {"colour": 0}, {"gauge": "free", "size": 5}],
}
"""Settings that between them run all of a treatment's kernels."""


def _parts() -> list[Part]:
    """One of each kind that tables have."""
    none, all_ = np.zeros(3, np.float32), np.ones(3, np.float32)
    return [
        Lut1D(np.zeros((3, 2), np.float32), none, all_),
        Lut3D(np.zeros((2, 2, 2, 3), np.float32), none, all_),
        Matrix(np.eye(3, dtype=np.float32), none),
        Clamp(0.0, 1.0),
        Grade(all_, none, all_, 1.0, True),
    ]


def warm() -> None:
    """Run every treatment, blend mode, conversion and measuring on a small picture."""
    onsets(spectral_flux([np.linspace(0, 1, RATE, dtype=np.float32) ** 8]))
    for size in (Size(320, 180), Size(128, 72)):
        ramp = _ramp(Size(320, 180))
        picture = ramp.picture(0, size)
        for kind in STEPS:
            for settings in VARIANTS.get(kind, [{}]):
                step = {"id": "a", "treatment": kind, "settings": settings}
                look = parse_look({"format": "yearning-look/2", "steps": [step]})
                Evaluator(look, ramp, size, Cache(1 << 24), assets=ASSETS).picture(1)
        still = estimate_motion(luma_codes(picture), luma_codes(picture))
        if still is not None:
            interpolate_frame(picture, picture, still, 0.5)
        for _ in SteadinessAnalysis(parse_look({"format": "yearning-look/2"}), ramp, 24.0).run():
            pass
        weights = weight_plane(picture, 0.5, ((0.0, 0.0), (1.0, 1.0)))
        for blend in BLENDS:
            mix(picture, picture, blend, weights, picture.copy())
        for part in _parts():
            apply_table(Table("", (part,)), picture)
        gaussian(picture, 12.0)
        for light in get_args(Light):
            to_bt709 = conversion(light, True)
            if to_bt709 is not None:
                to_bt709.convert(picture)
        for bits in (8, 10):
            for subsampling in ((2, 2), (2, 1), (1, 1)):
                coding = Coding("bt709", "limited", bits)
                planes = picture_to_planes(picture, coding, subsampling)
                for to in (size, size.with_height(size.height // 2)):
                    shown = planes_to_picture(planes, coding, subsampling, to)
        for writeable in (True, False):  # a picture of its own, and one from the cache
            shown.flags.writeable = writeable
            for bits in (8, 16):
                quantize(shown, bits)


if __name__ == "__main__":
    warm()
