"""A matte of a clip: solved from strokes, and written as a plate."""

from collections.abc import Generator, Sequence
from contextlib import ExitStack
from pathlib import Path

from yearning.core.motion.hard_mattes import Solved
from yearning.core.motion.matting import Matting
from yearning.core.motion.strokes import Strokes
from yearning.core.picture import Plane
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.plates.lifted import attachments, read_lifted
from yearning.media.plates.matte_writer import check_matte_name, matte_writer


class MatteJob:
    """Solves and writes a matte.

    Args:
        clip: as it is shown: a matte has the frames of what it is laid on.
        digest: the clip's.
        strokes: what is to be lifted out.
        out: where the plate is written.
        known: an earlier matte of the clip: what the strokes do not change is taken from there.
        solved: what was solved of the clip besides, though it was not written; the newest first.

    Raises:
        ValueError: a stroke lies on no frame of the clip.
        MediaError: it can't be written under that name.
    """

    def __init__(
        self,
        clip: OpenClip,
        digest: str,
        strokes: Strokes,
        out: Path,
        known: Path | None = None,
        solved: Sequence[Solved] = (),
    ) -> None:
        check_matte_name(out)
        self._clip, self._digest, self._out = clip, digest, out
        self._known: Path | None = None
        self._before: Solved | None = None
        lifted = None if known is None else read_lifted(known)
        if lifted is not None and lifted.clip == digest:
            self._known, self._before = known, lifted.solved
            solved = (*solved, lifted.solved)
        self._matting = Matting(strokes, clip.picture, clip.size, clip.frames, solved)

    @property
    def total(self) -> int:
        """Steps that `run` takes: those of solving, and a frame written each."""
        return self._matting.total + self._clip.frames

    @property
    def solved_frames(self) -> Solved:
        """What is solved by now."""
        return self._matting.solved

    def run(self) -> Generator[int, None, None]:
        """Solve it and write it; yield how many steps are done.

        Closed before its end, it leaves nothing.
        """
        yield from self._matting.solve()
        files = attachments(self._digest, self._matting.solved)
        size, rate = self._clip.size, self._clip.probe.rate
        with ExitStack() as stack:
            known: OpenClip | None = None
            if self._known is not None:
                known = open_clip(self._known)
                stack.callback(known.close)
            write = stack.enter_context(matte_writer(self._out, size, rate, files))
            for frame in range(self._clip.frames):
                write(self._read_written(known, frame))
                yield self._matting.total + frame + 1

    def _read_written(self, known: OpenClip | None, frame: int) -> Plane:
        before = self._before
        if known is None or before is None or self._matting.is_changed(frame, before):
            return self._matting.matte(frame)
        same: Plane = known.picture(frame, self._clip.size)[0]
        return same
