"""Baking: a look that works on colours alone, written as a 3D look-up table."""

import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.colour.tables import Lut, Lut3D, apply_table
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look, walk_steps
from yearning.core.masks.shapes import HueRange, LinkedShape, ToneRange
from yearning.core.picture import Picture
from yearning.core.treatment.assets import NO_ASSETS, Assets
from yearning.core.treatment.base import Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.tone_values import percentile_settings

SIDES = (17, 33, 65)
"""Sides of lattices that programs read everywhere (common practice, no source)."""

TRIED = 1 << 16
"""Colours at which a lattice is compared with the look."""


def check_colour_only(look: Look) -> None:
    """Make sure that a look works on colours alone.

    Raises:
        InvalidLookError: a step does not; the message names it.
    """
    placed = list(walk_steps(look.steps))
    shapes = {f"{step.id}.{shape.id}": shape for _, _, step in placed for shape in step.mix.mask}
    for here, _, step in placed:
        settings = step.settings
        for i, shape in enumerate(step.mix.mask):
            own = shapes[shape.same_as] if isinstance(shape, LinkedShape) else shape
            of_colours = isinstance(own, ToneRange | HueRange) and not own.feather
            if step.on and not of_colours:
                raise InvalidLookError(
                    f"{here}.mix.mask[{i}]: it says where in the frame the step shows, and a "
                    "look-up table knows colours alone; take it out, or switch the step off"
                )
        if step.on and step.is_timed:
            raise InvalidLookError(
                f"{here}: it changes with time, by keys or bursts, and a look-up table is the same "
                "on every frame; take those out, or switch it off"
            )
        for name in percentile_settings(settings) if step.on else ():
            raise InvalidLookError(
                f"{here}.settings.{name}: it is a percentile of a clip's tones, and here is no "
                "clip; give a number"
            )
        if isinstance(settings, Treatment) and step.on and not isinstance(settings, ColourOnly):
            raise InvalidLookError(
                f"{here}: {step.treatment} works on more than a pixel's colour, which a look-up "
                "table can not hold; switch it off, or bake the look without it"
            )


def apply_to_colours(look: Look, colours: Picture, assets: Assets = NO_ASSETS) -> Picture:
    """Return colours taken through a look.

    Args:
        look: of steps that work on colours alone.
        colours: display-coded, shape `(3, height, width)`.
        assets: tables that it names.

    Raises:
        InvalidLookError: the look does not work on colours alone.
    """
    check_colour_only(look)
    footage = ArrayClip([colours])
    path = Evaluator(look, footage, footage.size, Cache(0), keep="nothing", assets=assets)
    return path.picture(0)


def lattice(side: int) -> Picture:
    """The colours of a lattice over 0..1, shape `(3, side, side²)`: red down, green, then blue."""
    at = np.linspace(0, 1, side, dtype=np.float32)
    grid = np.stack(np.meshgrid(at, at, at, indexing="ij"))
    return np.ascontiguousarray(grid.reshape(3, side, side * side))


def bake(look: Look, side: int, assets: Assets = NO_ASSETS) -> tuple[NDArray[np.float32], float]:
    """Return a look as a lattice of shape `(side, side, side, 3)`, and its largest error.

    The error is that of a channel, in parts of full scale, over colours between the lattice's
    points, read tetrahedrally.

    Args:
        look: of steps that work on colours alone.
        side: points along an edge.
        assets: tables that it names.

    Raises:
        InvalidLookError: the look does not work on colours alone.
    """
    made = apply_to_colours(look, lattice(side), assets)
    values = np.ascontiguousarray(made.reshape(3, side, side, side).transpose(1, 2, 3, 0))
    colours = np.random.default_rng(1).random((3, 64, TRIED // 64), np.float32)
    none, all_ = np.zeros(3, np.float32), np.ones(3, np.float32)
    read = apply_table(Lut(look.name, (Lut3D(values, none, all_),)), colours)
    return values, float(np.abs(read - apply_to_colours(look, colours, assets)).max())
