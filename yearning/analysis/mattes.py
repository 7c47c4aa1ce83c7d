"""A matte of a clip: solved from strokes, and written as a plate."""

from collections.abc import Generator
from pathlib import Path

from yearning.core.motion.matting import Matting
from yearning.core.motion.strokes import Strokes
from yearning.media.decode.clip import OpenClip
from yearning.media.plates.matte_writer import check_matte_name, matte_writer


class MatteJob:
    """Solves and writes a matte.

    Args:
        clip: as it is shown: a matte has the frames of what it is laid on.
        strokes: what is to be lifted out.
        out: where the plate is written.

    Raises:
        ValueError: a stroke lies on no frame of the clip.
        MediaError: it can't be written under that name.
    """

    def __init__(self, clip: OpenClip, strokes: Strokes, out: Path) -> None:
        check_matte_name(out)
        self._clip, self._out = clip, out
        self._matting = Matting(strokes, clip.picture, clip.size, clip.frames)

    @property
    def total(self) -> int:
        """Steps that `run` takes: those of solving, and a frame written each."""
        return self._matting.total + self._clip.frames

    def run(self) -> Generator[int, None, None]:
        """Solve it and write it; yields how many steps are done. Closed before its end, it leaves
        nothing."""
        yield from self._matting.solve()
        with matte_writer(self._out, self._clip.size, self._clip.probe.rate) as write:
            for frame in range(self._clip.frames):
                write(self._matting.matte(frame))
                yield self._matting.total + frame + 1
