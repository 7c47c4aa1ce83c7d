"""A grade that brings a clip's colours near those of another picture, as ordinary steps.

The goal is where linear Monge-Kantorovitch transport takes each colour of the clip; settings of
`balance`, `curve` and `tone` are fitted to it by least squares. They are the same on every frame,
so the grade is as steady as the clip.
"""

from collections.abc import Collection, Sequence
from typing import Any, Literal, NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import luma_plane
from yearning.core.colour.transport import (
    Matrix,
    distribution_of,
    transport,
    transport_distance,
)
from yearning.core.engine.baking import apply_to_colours
from yearning.core.look.document import BundleStep, Look, parse_look
from yearning.core.look.upgrades import FORMAT
from yearning.core.picture import Picture

Held = Literal["skin", "greys"]
"""Colours that keep their hue and saturation: the grade moves only their luma."""

HELD: tuple[Held, ...] = get_args(Held)

LINES = 90
"""Lines of the frames that colours are taken from."""

COMPARED = 60_000
"""Colours that stand for a clip, or for a picture."""

FITTED = 4000
"""Colours that settings are fitted to."""

HELD_WEIGHT = 16.0
"""How many times more a held colour counts."""

GREY_SPREAD = 0.06
"""How far the channels of a grey lie apart at the most."""

SIMPLE = 0.004
"""What it costs to move a setting through its range, in root mean square parts of white: of grades
that come as near, the simplest is found."""


class _Range(NamedTuple):
    """Where a fitted setting is neutral, and how far it goes."""

    neutral: float
    low: float
    high: float


AT = (0.25, 0.5, 0.75)
"""Where the curves have points between their ends."""

_BALANCE = [
    *[_Range(1, 0.05, 4)] * 3,
    *[_Range(0, -0.5, 0.5)] * 3,
    *[_Range(1, 0.3, 3)] * 3,
    _Range(1, 0, 3),
]
_CURVE = [_Range(at, at - 0.12, at + 0.12) for at in AT] * 3
"""No point comes to lie below the one before it."""
_TONE_SETTINGS = ("contrast", "blacks", "shadows", "highlights", "pale_colours")
_TONE = [_Range(0, -1, 1)] * len(_TONE_SETTINGS)


class HeldColours(NamedTuple):
    """What becomes of colours that are to be held, as root mean squares in parts of white."""

    kind: Held
    share: float
    """Of all colours, 0..1."""
    off: float
    """How far they are from where they would stay."""
    unheld: float
    """How far they would be if they were not held."""


class ColourMatch(NamedTuple):
    """The grade that was found, and how near it comes.

    Distances are root mean squares of a channel, in parts of white.
    """

    step: BundleStep
    before: float
    """Distance of the clip's colours from the picture's."""
    after: float
    """Distance that remains."""
    held: tuple[HeldColours, ...]


def match_colours(
    clip: NDArray[np.float32],
    like: NDArray[np.float32],
    held: Collection[Held] = (),
    name: str = "Match",
) -> ColourMatch:
    """Find the grade that brings colours near others.

    Args:
        clip: colours from frames spread over a clip, as `colours_of` has them, shape `(3, n)`.
        like: those of the picture, shape `(3, m)`.
        held: which colours are held as far as such a grade can.
        name: of the bundle of steps.
    """
    aim = distribution_of(like)
    mapped = transport(distribution_of(clip), aim)
    fitted = _subsample(clip, FITTED)
    goal = np.clip(mapped.apply(fitted), 0, 1)
    kinds = [(kind, _is(kind, fitted)) for kind in HELD if kind in held]
    stays = _with_luma_of(goal, fitted)
    weights = np.ones(fitted.shape[1])
    for _, chosen in kinds:
        goal[:, chosen] = stays[:, chosen]
        weights[chosen] = HELD_WEIGHT
    look = _look(_fit(fitted, goal, weights), name)
    graded = _apply_grade(look, fitted)
    free = np.clip(mapped.apply(fitted), 0, 1)
    (step,) = look.steps
    assert isinstance(step, BundleStep)
    return ColourMatch(
        step,
        transport_distance(distribution_of(clip), aim),
        transport_distance(distribution_of(_apply_grade(look, clip)), aim),
        tuple(
            HeldColours(
                kind,
                float(chosen.mean()),
                _rms((graded - stays)[:, chosen]),
                _rms((free - stays)[:, chosen]),
            )
            for kind, chosen in kinds
        ),
    )


def colours_of(picture: Picture, frames: int = 1) -> NDArray[np.float32]:
    """Return colours spread over a picture, shape `(3, n)`.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        frames: how many share the colours that are taken.

    >>> colours_of(np.zeros((3, 90, 160), np.float32), frames=60).shape
    (3, 1000)
    """
    return _subsample(picture.reshape(3, -1), max(COMPARED // frames, 1))


def _subsample(colours: NDArray[np.float32], count: int) -> NDArray[np.float32]:
    """At most so many of the colours, spread evenly over them."""
    n = colours.shape[1]
    return np.ascontiguousarray(colours[:, np.linspace(0, n - 1, min(n, count)).astype(int)])


def _is(kind: Held, colours: NDArray[np.float32]) -> NDArray[np.bool_]:
    """Which colours are of a kind.

    Skin: Cb 77 to 127 and Cr 133 to 173, in 8-bit codes of BT.601.
    Source: D. Chai and K. N. Ngan, Face Segmentation Using Skin-Color Map in Videophone
    Applications, IEEE Transactions on Circuits and Systems for Video Technology 9(4), 1999.
    """
    red, green, blue = colours
    if kind == "greys":
        return np.asarray(np.ptp(colours, axis=0) < GREY_SPREAD)
    luma = 0.299 * red + 0.587 * green + 0.114 * blue
    cb, cr = 128 + 224 * (blue - luma) / 1.772, 128 + 224 * (red - luma) / 1.402
    return np.asarray((cb >= 77) & (cb <= 127) & (cr >= 133) & (cr <= 173))


def _with_luma_of(goal: Matrix, colours: NDArray[np.float32]) -> Matrix:
    """Colours scaled to the luma of others: hue and saturation (of HSV) stay."""
    wanted = _luma(goal.astype(np.float32))
    return np.clip(colours * wanted / np.maximum(_luma(colours), 1e-3), 0, 1).astype(np.float64)


def _luma(colours: NDArray[np.float32]) -> NDArray[np.float32]:
    return np.asarray(luma_plane(np.ascontiguousarray(colours)[:, None])[0])


def _rms(values: Matrix) -> float:
    return float(np.sqrt(np.mean(values**2))) if values.size else 0.0


def _fit(colours: NDArray[np.float32], goal: Matrix, weights: Matrix) -> list[dict[str, Any]]:
    """The steps whose settings take the colours nearest to the goal."""
    from scipy.optimize import least_squares  # here, since it takes long to import

    neutral, low, high = np.array(_BALANCE + _CURVE + _TONE).T
    # Around 1 and never 0, so that the steps of its derivatives are alike for all.
    scale = 1.25 * (neutral - low)
    weigh = np.sqrt(weights / (3 * weights.sum()))

    def residuals(at: Matrix) -> Matrix:
        graded = _apply_grade(_look(_steps(neutral + scale * (at - 1))), colours)
        moved = SIMPLE * (at - 1) * scale / (high - low)
        return np.concatenate([((graded - goal) * weigh).ravel(), moved])

    bounds = (1 + (low - neutral) / scale, 1 + (high - neutral) / scale)
    found = least_squares(
        residuals, np.ones(len(scale)), bounds=bounds, diff_step=2e-3, max_nfev=30
    )
    return _steps(np.round(neutral + scale * (found.x - 1), 4))


def _steps(values: Matrix) -> list[dict[str, Any]]:
    """Steps of those settings, as look files have them."""
    v = [float(value) for value in values]
    curves = [
        [[0, 0], *([at, y] for at, y in zip(AT, v[first : first + 3], strict=True)), [1, 1]]
        for first in (10, 13, 16)
    ]
    settings = {
        "balance": {
            "mode": "cdl",
            "slope": v[0:3],
            "offset": v[3:6],
            "power": v[6:9],
            "saturation": v[9],
        },
        "curve": dict(zip(("red", "green", "blue"), curves, strict=True)),
        "tone": dict(zip(_TONE_SETTINGS, v[19:], strict=True)),
    }
    return [
        {"id": f"match-{kind}", "treatment": kind, "settings": values}
        for kind, values in settings.items()
    ]


def _look(steps: Sequence[dict[str, Any]], name: str = "") -> Look:
    """A look of one bundle."""
    bundle = {
        "id": "match",
        "treatment": "bundle",
        "name": name,
        "settings": {"steps": list(steps)},
    }
    return parse_look({"format": FORMAT, "name": "Match", "steps": [bundle]})


def _apply_grade(look: Look, colours: NDArray[np.float32]) -> Matrix:
    return apply_to_colours(look, colours[:, None])[:, 0].astype(np.float64)
