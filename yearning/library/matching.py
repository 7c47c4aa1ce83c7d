"""Grades that bring a clip near another picture."""

from collections.abc import Collection
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from yearning.core.measure import colour_match
from yearning.core.measure.colour_match import HELD
from yearning.core.picture import Picture, check_picture
from yearning.core.treatment.clip_tones import sample_frames
from yearning.library.clips import Clip, RequestError
from yearning.library.look import Look
from yearning.library.measuring import OnFrame
from yearning.library.pictures import sampled_frames
from yearning.library.steps import Step, steps_from
from yearning.media.plates.assets import open_plate


@dataclass(frozen=True)
class Match:
    """A grade that brings a clip near a picture, and how near.

    Args:
        step: a bundle of balance, curve and tone. Give its mix an amount to go only a part of the
            way.
        before: distance of the clip's colours from the picture's: the root mean square of a
            channel, in parts of white, that the least move from one to the other takes.
        after: the distance that remains.
        held: for each kind of colour that is held, how far it is from where it would stay, in the
            same measure.
    """

    step: Step
    before: float
    after: float
    held: dict[str, float]


def match(
    clip: Clip,
    like: NDArray[np.float32] | str | Path,
    *,
    look: Look | None = None,
    held: Collection[str] = (),
    on_frame: OnFrame = lambda done: None,
) -> Match:
    """Find a grade that brings a clip near another picture, by ordinary steps.

    It is found from frames spread over the clip and is the same on all of them, so that it is as
    steady as the clip.

    Args:
        clip: opened, or pictures in memory.
        like: the picture: a still's file, or a frame of another clip, float32, shape
            `(3, height, width)`.
        look: what is laid on the clip before the grade.
        held: `skin`, `greys` or both keep their hue and saturation, as far as such a grade can.
        on_frame: called with the number of frames that are done, of 60 at the most.

    Raises:
        RequestError: a colour that can't be held.
        MediaError: the clip, the still, or a file that the look names, can't be used.

    Source: Pitié and Kokaram, The Linear Monge-Kantorovitch Linear Colour Mapping for Example-Based
    Colour Transfer, CVMP 2007; settings fitted to it by least squares.

    >>> import yearning as yn
    >>> ramp = np.linspace(0.2, 0.6, 16 * 16, dtype=np.float32).reshape(16, 16)
    >>> dark = np.stack([ramp, ramp.T, ramp[::-1]])
    >>> found = yn.match(yn.ArrayClip([dark]), dark * 1.4)
    >>> found.after < 0.1 * found.before
    True
    """
    for kind in held:
        if kind not in HELD:
            raise RequestError(f"'{kind}' can't be held; it is one of {', '.join(HELD)}")
    picture = _read_still(Path(like)) if isinstance(like, str | Path) else like
    wanted = colour_match.colours_of(check_picture(np.ascontiguousarray(picture)))
    before = Look() if look is None else look
    frames = sample_frames(clip.frames)
    lines = min(colour_match.LINES, clip.size.height)
    seen = []
    for done, made in enumerate(
        sampled_frames(before.document, before.folder, clip, lines), start=1
    ):
        seen.append(colour_match.colours_of(made, len(frames)))
        on_frame(done)
    found = colour_match.match_colours(
        np.concatenate(seen, axis=1), wanted, [kind for kind in HELD if kind in held]
    )
    (step,) = steps_from([found.step])
    return Match(step, found.before, found.after, {each.kind: each.off for each in found.held})


def _read_still(path: Path) -> Picture:
    """A still's picture, as small as frames are looked at."""
    still = open_plate(path)
    return still.picture(0, still.size.with_height(min(colour_match.LINES, still.size.height)))
