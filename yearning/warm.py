"""Compile every numba kernel once, into its cache: `python -m yearning.warm`."""

import numpy as np

from yearning.core.blend import BLENDS, mix_into
from yearning.core.colour.matrices import Coding
from yearning.core.filters import gaussian
from yearning.core.look import STEPS, look_of
from yearning.core.path import Path, PictureCache
from yearning.core.picture import Picture, Size
from yearning.media.planes import picture_of, planes_of


class _Ramp:
    """Footage without a file."""

    id = "ramp"
    frames = 3
    size = Size(320, 180)

    def picture(self, frame: int, size: Size) -> Picture:
        ramp = np.linspace(0, 1, 3 * size.width * size.height, dtype=np.float32)
        return ramp.reshape(3, size.height, size.width)


VARIANTS = {
    "curve": [{"luma": [[0, 0.1], [1, 1]], "red": [[0, 0.1], [1, 1]]}],
    "glow": [{}, {"linear": True}],
    "grain": [{}, {"colour": 0}, {"gauge": "free", "size": 5}],
}
"""Settings that between them run all of a treatment's kernels."""


def warm() -> None:
    """Run every treatment, blend mode and conversion on a small picture."""
    for size in (Size(320, 180), Size(128, 72)):
        ramp = _Ramp()
        picture = ramp.picture(0, size)
        for kind in STEPS:
            for settings in VARIANTS.get(kind, [{}]):
                step = {"id": "a", "treatment": kind, "settings": settings}
                look = look_of({"format": "yearning-look/1", "steps": [step]})
                Path(look, ramp, size, PictureCache(1 << 24)).picture(1)
        for blend in BLENDS:
            mix_into(picture.copy(), picture, blend, 0.5)
        gaussian(picture, 12.0)
        for bits in (8, 10):
            for subsampling in ((2, 2), (2, 1), (1, 1)):
                coding = Coding("bt709", "limited", bits)
                picture_of(planes_of(picture, coding, subsampling), coding, subsampling)


if __name__ == "__main__":
    warm()
