"""Pictures of looks on clips, as arrays that a notebook shows."""

from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import CachePolicy, Evaluator
from yearning.core.engine.frame_sequence import CLIP_CACHE_BYTES, frame_sequence
from yearning.core.engine.sampling import sampled_pictures
from yearning.core.errors import InvalidLookError
from yearning.core.image.window import crop_box_at
from yearning.core.look.document import Look
from yearning.core.look.output_crop import crop_ratio
from yearning.core.parallel import CORES
from yearning.core.picture import Box, Size, check_picture
from yearning.library.clips import Clip, digest_of, size_at
from yearning.media.plates.assets import assets_in, check_assets
from yearning.media.stills.stills import png, write_still

PLANNED = 240
"""Frames for which it is found out at a time how far a look reaches in time."""


class Picture(NDArray[np.float32]):
    """A picture: float32, shape `(3, height, width)`, R'G'B' display-coded BT.709.

    An array like any other, which a notebook shows. It may be read-only.
    """

    def _repr_png_(self) -> bytes | None:
        is_picture = self.ndim == 3 and self.shape[0] == 3 and self.dtype == np.float32
        return png(np.ascontiguousarray(self)) if is_picture else None


def check_look(look: Look, folder: Path, clip: Clip) -> None:
    """Make sure that a look's files can be used on a clip.

    Args:
        look: as it was read.
        folder: in which the files that it names lie.
        clip: opened.

    Raises:
        MediaError: one can't.
    """
    check_assets(look, folder, digest_of(clip))


def frame_picture(
    look: Look,
    folder: Path,
    clip: Clip,
    frame: int,
    height: int | None,
    after: str | None = None,
    cache: Cache[Any] | None = None,
) -> Picture:
    """Return one frame of a clip through a look; see `yearning.Look.picture`.

    Args:
        look: as it was read.
        folder: in which the files that it names lie.
        clip: opened.
        frame: of the clip, from 0.
        height: in lines; None for the clip's own.
        after: a step's id; None for all steps.
        cache: keeps the picture after every step, for looks that begin with the same.
    """
    evaluator = _evaluator(look, folder, clip, height, after, cache)
    return _copy_of_box(evaluator.picture(frame, after), _box(look, clip, evaluator.size, after))


def frame_pictures(
    look: Look, folder: Path, clip: Clip, frames: range, height: int | None, after: str | None
) -> Iterator[Picture]:
    """Yield frames of a clip through a look, in order; see `yearning.Look.pictures`.

    Args:
        look: as it was read.
        folder: in which the files that it names lie.
        clip: opened.
        frames: which, ascending.
        height: in lines; None for the clip's own.
        after: a step's id; None for all steps.
    """
    size = _evaluator(look, folder, clip, height, after).size
    return _in_order(look, folder, clip, frames, size, after)


def sampled_frames(
    look: Look, folder: Path, clip: Clip, height: int
) -> Iterator[NDArray[np.float32]]:
    """Yield frames spread over a clip through a look, whole, as they are measured.

    Args:
        look: as it was read.
        folder: in which the files that it names lie.
        clip: opened.
        height: in lines.
    """
    statistics = Cache[Any](CLIP_CACHE_BYTES)
    evaluator = _evaluator(look, folder, clip, height, None, statistics).with_cache(Cache(0))
    return sampled_pictures(evaluator, evaluator.number_after(None))


def _evaluator(
    look: Look,
    folder: Path,
    clip: Clip,
    height: int | None,
    after: str | None,
    cache: Cache[Any] | None = None,
) -> Evaluator:
    """A look on a clip, once it is known that all that is asked can be had."""
    size = size_at(clip, height)
    check_look(look, folder, clip)
    keep: CachePolicy = "last" if cache is None else "every step"
    kept = Cache[Any](0) if cache is None else cache
    evaluator = Evaluator(look, clip, size, kept, keep=keep, assets=assets_in(folder))
    try:
        evaluator.number_after(after)
    except KeyError as error:
        raise InvalidLookError(f"after: {error.args[0]}") from None
    return evaluator


def _in_order(
    look: Look, folder: Path, clip: Clip, frames: range, size: Size, after: str | None
) -> Iterator[Picture]:
    box = _box(look, clip, size, after)
    clip_cache = Cache[object](CLIP_CACHE_BYTES)
    for i in range(0, len(frames), PLANNED):
        made = frame_sequence(
            look,
            clip,
            size,
            frames[i : i + PLANNED],
            CORES,
            assets=assets_in(folder),
            clip_cache=clip_cache,
            after=after,
        )
        with closing(made):
            for _, picture in made:
                yield _copy_of_box(picture, box)


def _box(look: Look, clip: Clip, size: Size, after: str | None) -> Box | None:
    """What a look's crop leaves of the frame; None for all."""
    ratio = crop_ratio(look) if after is None else None
    return None if ratio is None else crop_box_at(ratio, clip.size, size)


def _copy_of_box(picture: NDArray[np.float32], box: Box | None) -> Picture:
    return (picture if box is None else np.ascontiguousarray(box.of(picture))).view(Picture)


def save(picture: NDArray[np.float32], path: str | Path, bits: int | None = None) -> None:
    """Write a picture as a still: .png, .tif or .exr; it appears only when it is whole.

    Args:
        picture: float32, shape `(3, height, width)`.
        path: its ending says as what.
        bits: a channel; the most that the ending has, if left out.

    Raises:
        MediaError: it can't be written so.
        ValueError: it is no picture.

    >>> from tempfile import TemporaryDirectory
    >>> import numpy as np
    >>> with TemporaryDirectory() as folder:
    ...     save(np.zeros((3, 90, 160), np.float32), f"{folder}/black.png")
    """
    write_still(check_picture(np.ascontiguousarray(picture)), Path(path), bits)
