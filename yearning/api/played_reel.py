"""What is shown at each frame of a reel: evaluators of its shots, made as play comes to them."""

from bisect import bisect_right
from collections.abc import Callable
from typing import Any, Generic, TypeVar

from yearning.api.preview import PreviewService
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.library.reel_renders import clip_of, look_of
from yearning.store.reel_body import PlacedItem, ReelBody, ReelShot

READ_AHEAD = 6
"""Frames that are decoded before the one that is drawn."""

PICTURE_BYTES = 256 << 20
"""Of pictures that neighbouring frames share, where they are kept apart: those of all frames of a
reel, or of all that are made ahead, would drive out what else is kept."""

KEPT_SHOTS = 3
"""Evaluators that are kept: the shot that is shown, those beside it."""


Drawn = TypeVar("Drawn")


class PlayedReel(Generic[Drawn]):
    """A reel that is played.

    Args:
        preview: opens footage and makes evaluators.
        body: the reel.
        height: of the pictures.
        prepare: makes of a shot's evaluator what draws its frames.
        plain: whether clips are shown without their looks.
        is_cancelled: whether what is computed is wanted no more.
    """

    def __init__(
        self,
        preview: PreviewService,
        body: ReelBody,
        height: int,
        prepare: Callable[[Evaluator], Drawn],
        *,
        plain: bool,
        is_cancelled: Callable[[], bool],
    ) -> None:
        self._preview = preview
        self._height = height
        self._prepare = prepare
        self._plain = plain
        self._is_cancelled = is_cancelled
        self._placed = list(body.placed_items())
        self._pictures = Cache[Any](PICTURE_BYTES)
        self._begins = [placed.begins for placed in self._placed]
        self._drawn: dict[str, tuple[Drawn, int]] = {}
        """What draws each shot, and its clip's last frame."""
        self.frames = body.frames

    def at(self, frame: int) -> tuple[Drawn, int] | None:
        """What draws a frame, and which of its clip's it is; None where nothing is shown.

        Raises:
            MediaError: the shot's media or look is gone, or can't be read.
            ClipLost: its file is gone or holds something else.
        """
        begins, item = self._item(frame)
        if not isinstance(item, ReelShot) or item.clip is None:
            return None
        found = self._drawn.get(item.id)
        if found is None:
            evaluator = self._evaluator_of(item)
            for id in list(self._drawn)[: 1 - KEPT_SHOTS]:
                del self._drawn[id]
            found = self._prepare(evaluator), evaluator.footage.frames - 1
            self._drawn[item.id] = found
        drawn, last = found
        return drawn, min(item.begins + frame - begins, last)

    def _item(self, frame: int) -> PlacedItem:
        return self._placed[bisect_right(self._begins, frame) - 1]

    def _evaluator_of(self, shot: ReelShot) -> Evaluator:
        footage = self._preview.footage(clip_of(self._preview.project, shot))
        seen = shot.model_copy(update={"look": None}) if self._plain else shot
        look = look_of(self._preview.project, seen)
        evaluator = self._preview.evaluator(
            look,
            footage,
            self._height,
            pictures=self._pictures,
            is_cancelled=self._is_cancelled,
        )
        footage.reserve_cache(sum(evaluator.reach(shot.begins)) + READ_AHEAD)
        return evaluator
