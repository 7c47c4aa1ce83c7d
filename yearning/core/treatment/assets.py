"""Look-up tables, plates, tracks and grain that a look's steps name, and how they are found."""

from collections.abc import Callable
from typing import NamedTuple, Protocol

from yearning.core.colour.tables import PreparedTable
from yearning.core.motion.tracks import Track
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.picture import Picture, Plane, Size


class PlateSource(Protocol):
    """A picture or a clip that is laid over others."""

    @property
    def frames(self) -> int:
        """How many frames it has; 1 for a picture, 0 where it can't be read."""

    @property
    def size(self) -> Size:
        """Its full size."""

    @property
    def was_premultiplied(self) -> bool:
        """Whether its colour was found to have its alpha in it, and was taken apart from it."""

    def picture(self, frame: int, size: Size) -> Picture:
        """Return a frame, its colour straight; not to be written to.

        Args:
            frame: of the plate.
            size: no larger than its own.
        """

    def matte(self, frame: int, size: Size) -> Plane | None:
        """Return how much it hides of what is below, 0..1; None for all; not to be written to.

        Args:
            frame: of the plate.
            size: no larger than its own.
        """


class Assets(NamedTuple):
    """Finds what steps name, by the name that the look has for it.

    All raise `LookupError` for a name that is not known; of a track that can't be had, None may
    stand for one that does not move.
    """

    table: Callable[[str], PreparedTable]
    plate: Callable[[str], PlateSource]
    track: Callable[[str], Track | None]
    grain: Callable[[str], PreparedGrain]


def _no_table(name: str) -> PreparedTable:
    raise LookupError(f"no look-up table is called '{name}'")


def _no_plate(name: str) -> PlateSource:
    raise LookupError(f"no plate is called '{name}'")


def _no_track(name: str) -> Track:
    raise LookupError(f"no track is called '{name}'")


def _no_grain(name: str) -> PreparedGrain:
    raise LookupError(f"no grain is called '{name}'")


NO_ASSETS = Assets(_no_table, _no_plate, _no_track, _no_grain)
"""Finds nothing."""
