"""What is shown at each frame of a reel: evaluators of its shots, made as play comes to them."""

from bisect import bisect_right
from collections.abc import Callable
from typing import NamedTuple

from yearning.api.preview import PreviewService
from yearning.core.engine.evaluator import Evaluator
from yearning.library.reel_renders import clip_of, look_of
from yearning.store.reel_body import PlacedItem, ReelBody, ReelShot

KEPT_SHOTS = 3
"""Evaluators that are kept: the shot that is shown, those beside it."""


class ShotFrame(NamedTuple):
    """A frame of a shot's clip, and what draws it."""

    evaluator: Evaluator
    frame: int


class PlayedReel:
    """A reel that is played.

    Args:
        preview: opens footage and makes evaluators.
        body: the reel.
        height: of the pictures.
        plain: whether clips are shown without their looks.
        is_cancelled: whether what is computed is wanted no more.
    """

    def __init__(
        self,
        preview: PreviewService,
        body: ReelBody,
        height: int,
        *,
        plain: bool,
        is_cancelled: Callable[[], bool],
    ) -> None:
        self._preview = preview
        self._height = height
        self._plain = plain
        self._is_cancelled = is_cancelled
        self._placed = list(body.placed())
        self._begins = [placed.begins for placed in self._placed]
        self._evaluators: dict[str, Evaluator] = {}
        self.frames = body.frames

    def at(self, frame: int) -> ShotFrame | None:
        """What is shown at a frame; None in gaps and where media is missing.

        Raises:
            MediaError: the shot's media or look is gone, or can't be read.
            ClipLost: its file is gone or holds something else.
        """
        begins, item = self._item(frame)
        if not isinstance(item, ReelShot) or item.clip is None:
            return None
        evaluator = self._evaluators.get(item.id)
        if evaluator is None:
            evaluator = self._made(item)
            for id in list(self._evaluators)[: 1 - KEPT_SHOTS]:
                del self._evaluators[id]
            self._evaluators[item.id] = evaluator
        last = evaluator.footage.frames - 1
        return ShotFrame(evaluator, min(item.begins + frame - begins, last))

    def _item(self, frame: int) -> PlacedItem:
        return self._placed[bisect_right(self._begins, frame) - 1]

    def _made(self, shot: ReelShot) -> Evaluator:
        footage = self._preview.footage(clip_of(self._preview.project, shot))
        seen = shot.model_copy(update={"look": None}) if self._plain else shot
        look = look_of(self._preview.project, seen)
        return self._preview.evaluator(look, footage, self._height, is_cancelled=self._is_cancelled)
