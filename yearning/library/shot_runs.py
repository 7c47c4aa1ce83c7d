"""Shots of a reel rendered in turn: the next is begun as soon as one leaves workers free."""

import shutil
from collections.abc import Callable, Collection, Sequence
from functools import partial
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, TypeVar

from yearning.farm.job import Job
from yearning.farm.progress import Halt, Progress
from yearning.media.encode.segment import Piece

if TYPE_CHECKING:
    from yearning.farm.ahead import Coming
    from yearning.farm.cluster import Cluster

T = TypeVar("T")

OnProgress = Callable[[Progress], object]


class ShotRuns:
    """Jobs that are rendered in their order, on workers that they share; a context manager.

    Args:
        jobs: each with the folder of its pieces.
        farm: the workers.
        stop: asked a few times a second, by which all are broken off.
    """

    def __init__(
        self, jobs: Sequence[tuple[Job, Path]], farm: "Cluster", stop: Callable[[], bool]
    ) -> None:
        from yearning.farm.ahead import Lookahead

        self._jobs, self._farm, self._stop = jobs, farm, stop
        self._lookahead = Lookahead(self._coming)
        self._at = -1
        """The job in hand."""
        self._over = False

    def __enter__(self) -> "ShotRuns":
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self._over = True
        self._lookahead.close()

    def render(self, number: int, on_progress: OnProgress) -> None:
        """Render a job and write its result; its pieces go.

        Args:
            number: of the job.
            on_progress: is told how far it is.

        Raises:
            MediaError: it can't be rendered, or not written so.
            FarmError: the workers are gone, or died at it.
            Halted: `stop` said so.
            OSError: there is no room.
        """
        from yearning.farm.run import run

        self._in_turn(run, number, on_progress)
        shutil.rmtree(self._jobs[number][1])

    def pieces(self, number: int, on_progress: OnProgress) -> list[Piece]:
        """Render a job and return its finished pieces, in order, which stay in its folder.

        Args:
            number: of the job.
            on_progress: is told how far it is.

        Raises:
            MediaError: it can't be rendered.
            FarmError: the workers are gone, or died at it.
            Halted: `stop` said so.
            OSError: there is no room.
        """
        from yearning.farm.run import render_pieces

        return self._in_turn(render_pieces, number, on_progress)

    def _in_turn(self, work: Callable[..., T], number: int, on_progress: OnProgress) -> T:
        """Do the farm's work on a job whose turn has come."""
        self._at = number
        self._lookahead.take_over(number, self._farm, on_progress, self._halt)
        return work(
            *self._jobs[number],
            self._farm,
            on_progress=on_progress,
            halt=self._halt,
            on_begin=partial(self._lookahead.follow, self._farm),
        )

    def _coming(self, but: Collection[int]) -> "Coming | None":
        from yearning.farm.ahead import Coming

        after = range(self._at + 1, len(self._jobs))
        key = next((key for key in after if key not in but), None)
        if key is None or self._over:
            return None
        job, folder = self._jobs[key]
        return Coming(key, lambda: job, folder, self._halt)

    def _halt(self) -> Halt | None:
        return Halt.NOW if self._over or self._stop() else None
