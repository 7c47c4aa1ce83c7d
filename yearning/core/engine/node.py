"""A node of the render graph: one treatment of a picture, mixed onto another."""

from typing import NamedTuple

from yearning.core.look.mix import Mix
from yearning.core.masks.mask import PlacedShape
from yearning.core.motion.tracks import Motion
from yearning.core.treatment.base import AnyTreatment
from yearning.core.treatment.capabilities import CoversPart, HasLayer, is_pointwise

FOOTAGE = 0
"""The number of the footage's picture."""


class Node(NamedTuple):
    """One treatment of the picture `reads`, mixed onto the picture `below`, both by number.

    Without a treatment, what is read is mixed back as it is: so a bundle is. With `layer_alone`,
    what would be mixed back is itself the result. It shows where the shapes of `mask` say, which
    are those of the mix, each in its place: the same as another step's is that one. The
    treatment's own place is moved by `motion`. `source` is what is read by the number that it has
    at every frame; `reads` may be that of another picture, which stands for it at this one.
    """

    below: int
    reads: int
    treatment: AnyTreatment | None
    mix: Mix
    layer_alone: bool = False
    mask: tuple[PlacedShape, ...] = ()
    motion: Motion | None = None
    source: int = FOOTAGE

    @property
    def inputs(self) -> tuple[int, ...]:
        """The pictures that it is made of, but for what its treatment asks for by itself."""
        return self.below, *(shape.picture for shape in self.mask if shape.picture >= 0)

    @property
    def row_inputs(self) -> tuple[int, ...]:
        """Those of which it needs just the rows that it makes."""
        shapes = (each for each in self.mask if each.picture >= 0 and not each.reads_whole)
        return self.below, *(shape.picture for shape in shapes)

    @property
    def is_pointwise(self) -> bool:
        """Whether each result pixel depends on the same pixel alone."""
        return self.treatment is None or is_pointwise(self.treatment)

    @property
    def replaces(self) -> bool:
        """Whether the treated picture is the result, with nothing of the one below."""
        plain = self.mix.replaces and not isinstance(self.treatment, CoversPart)
        return plain and not self.layer_alone

    @property
    def lays_layer(self) -> bool:
        """Whether what is mixed back is what the treatment adds, and not the treated picture."""
        if not isinstance(self.treatment, HasLayer):
            return False
        own_blend = self.mix.blend == self.treatment.default_blend
        return self.layer_alone or (self.mix.layer == "own" and not own_blend)
