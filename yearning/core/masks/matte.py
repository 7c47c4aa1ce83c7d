"""The picture that a matte is found in: a plate's light or coverage, on the frame as shot."""

from typing import Literal

import numpy as np

from yearning.core.colour.luma import luma_plane
from yearning.core.picture import Plane
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ReadsWholePictures
from yearning.core.treatments.plate import Plate


class MattePicture(ReadsWholePictures, Treatment[Plane]):
    """A plate's weight as a grey picture; beyond the plate it is black.

    Its frames are those of the clip; after its last, that stays.
    """

    kind = "matte"
    stage = "gate"
    summary = "a plate's weight as a grey picture"

    file: str
    fit: Literal["fill", "fit", "stretch"]
    use: Literal["light", "alpha"]

    def prepare(self, context: FrameContext) -> Plane:
        """The weight all over the frame."""
        frames = context.assets.plate(self.file).frames
        frame = min(context.frame, max(frames - 1, 0))
        plate = Plate(file=self.file, fit=self.fit, first=frame, last=frame)
        picture, cover = plate.prepare(context)
        shape = context.size.height, context.size.width
        if picture is None:
            return np.zeros(shape, np.float32)
        weight = luma_plane(picture) if self.use == "light" else np.ones(shape, np.float32)
        return np.clip(weight if cover is None else weight * cover, 0, 1)

    def apply(self, band: Band[Plane]) -> None:
        """Rows of the weight."""
        top, bottom = band.rows
        band.result[:] = band.prepared[top:bottom]
