"""Checks that every treatment passes, for tests of treatments in packages of their own.

`check_treatment(Mine)` makes all of them. The treatment must be installed, so that looks can name
it. Each raises an AssertionError that says what does not hold, at which frame, and by how much.
"""

from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import CachePolicy, Evaluator
from yearning.core.image.filters import area_resized
from yearning.core.look.document import parse_look
from yearning.core.motion.flow import (
    flow_between,
    flow_consistency,
    flow_targets,
    luma_codes,
)
from yearning.core.motion.warping_error import warping_error
from yearning.core.picture import Picture, Size
from yearning.core.treatment.assets import NO_ASSETS, Assets
from yearning.core.treatment.base import AnyTreatment
from yearning.core.treatment.capabilities import (
    FixedPattern,
    Lively,
    WarpsFrame,
    band_multiple,
)
from yearning.core.treatments import TREATMENTS

SIZE = Size(320, 180)
FRAMES = 6
ROOM = 1 << 28

ROUNDING = 1e-6
"""By which a pixel may differ where rows are computed in other groups: a few units of float32."""

Settings = Mapping[str, Any]


def check_treatment(
    treatment: type[AnyTreatment], settings: Settings | None = None, assets: Assets = NO_ASSETS
) -> None:
    """Make sure that a treatment keeps what every treatment promises.

    Args:
        treatment: its class, of an installed package.
        settings: what is not as made.
        assets: finds the look-up tables and plates that it names.

    Raises:
        AssertionError: something does not hold; the message says what.

    >>> import yearning as yn
    >>> check_treatment(yn.Mono)
    """
    assert TREATMENTS.get(treatment.kind) is treatment, (
        f"{treatment.__name__} is not in the catalogue; install its package first (pip install -e)"
    )
    for check in CHECKS:
        check(treatment, settings or {}, assets)


def check_frames_are_pure(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that a frame alone is that frame of the whole, in whichever order frames are made.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    pictures = lamps(SIZE, FRAMES)
    made = _evaluate_alone(treatment, settings, assets, pictures)
    whole = [made.picture(frame) for frame in range(FRAMES)]
    for frame in (4, 0, 5):
        alone = _evaluate_alone(treatment, settings, assets, pictures).picture(frame)
        assert np.array_equal(alone, whole[frame]), (
            f"{treatment.kind}: frame {frame} alone is not frame {frame} of the whole clip: "
            "something is carried from frame to frame"
        )


def check_bands_are_the_whole(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that bands of rows, whatever their height, give the whole picture, but for rounding.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    pictures = lamps(SIZE, FRAMES)
    made = _evaluate_alone(treatment, settings, assets, pictures, keep="nothing")
    graph_node = made.graph.results[-1]
    whole = made.picture(3)
    rows = made.row_source(3, graph_node)
    tall = band_multiple(treatment())
    edges = [edge for edge in (0, tall, 3 * tall) if edge < SIZE.height]
    for top, bottom in pairwise([*edges, SIZE.height]):
        apart = float(np.abs(rows(top, bottom) - whole[:, top:bottom]).max())
        assert apart <= ROUNDING, (
            f"{treatment.kind}: rows {top} to {bottom} by themselves differ by {apart:.2g} from "
            "those of the whole"
        )


def check_half_size(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that at half the size the result is the full one, made half as large.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    full, half = Size(960, 540), Size(480, 270)
    pictures = lamps(full, 3)
    large = _evaluate_alone(treatment, settings, assets, pictures, full).picture(1)
    small = _evaluate_alone(treatment, settings, assets, pictures, half).picture(1)
    error = small - area_resized(large, half)
    mean, most = float(np.sqrt(np.mean(error**2))), float(np.abs(error).max())
    assert mean < 0.003, f"{treatment.kind}: half the size differs by {mean:.4f}, where 0.003 may"
    assert most < 0.03, f"{treatment.kind}: a pixel at half the size differs by {most:.3f}"


def check_a_still_stays_still(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that a clip that does not move does not move after it, unless it is lively by intent.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    if issubclass(treatment, Lively):
        return
    made = _evaluate_alone(treatment, settings, assets, [lamps(SIZE, 1)[0]] * 5)
    assert np.array_equal(made.picture(1), made.picture(3)), (
        f"{treatment.kind}: a still clip changes from frame to frame; say that it is Lively, or "
        "take nothing from the frame's number"
    )


def check_any_picture_is_taken(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that pictures of a pixel, of odd sizes, and beyond black and white stay finite.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    wild = np.linspace(-4, 9, 3 * 40 * 60, dtype=np.float32).reshape(3, 40, 60)
    small = [lamps(size, 1)[0] for size in (Size(1, 1), Size(2, 3), Size(97, 51))]
    for picture in (wild, *small):
        size = Size(picture.shape[2], picture.shape[1])
        found = _evaluate_alone(treatment, settings, assets, [picture] * 3, size).picture(1)
        assert np.isfinite(found).all(), (
            f"{treatment.kind}: a picture of {size.width}x{size.height} has pixels that are no "
            "numbers after it"
        )


def check_added_change(
    treatment: type[AnyTreatment], settings: Settings, assets: Assets = NO_ASSETS
) -> None:
    """Check that it adds no more change from frame to frame to noisy footage than it says.

    Args:
        treatment: its class.
        settings: of the step.
        assets: that it uses.
    """
    if issubclass(treatment, WarpsFrame):
        return
    fixed = issubclass(treatment, FixedPattern)
    for name, clip in _noisy_clips().items():
        before, now = map(luma_codes, clip)
        flow = flow_between(now, before, "fine")
        mask = flow_consistency(flow, flow_between(before, now, "fine"))
        at = flow_targets(flow)
        made = _evaluate_alone(treatment, settings, assets, clip)
        result = warping_error(made.picture(1), made.picture(0), at, mask, fixed=fixed)
        added = result - warping_error(clip[1], clip[0], at, mask, fixed=fixed)
        assert added <= treatment.max_added_change, (
            f"{treatment.kind}: adds {added:.4f} from frame to frame on a noisy {name}, where its "
            f"max_added_change says {treatment.max_added_change}"
        )


CHECKS: tuple[Callable[[type[AnyTreatment], Settings, Assets], None], ...] = (
    check_frames_are_pure,
    check_bands_are_the_whole,
    check_half_size,
    check_a_still_stays_still,
    check_any_picture_is_taken,
    check_added_change,
)
"""Everything that `check_treatment` makes sure of."""


def lamps(size: Size, frames: int = FRAMES, seed: int = 1) -> list[Picture]:
    """Return footage of dim texture with small bright lamps that drift.

    Args:
        size: of the pictures.
        frames: how many.
        seed: another gives other lamps.
    """
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0 : size.height, 0 : size.width].astype(np.float32) / size.height
    ground = 0.25 + 0.2 * np.sin(7 * x + 3 * y) + 0.1 * np.cos(23 * y)
    spots = rng.random((7, 2)) * (size.width / size.height, 1)
    out = []
    for n in range(frames):
        light = ground.copy()
        for sx, sy in spots:
            light += np.exp(-(((x - sx - 0.004 * n) ** 2 + (y - sy) ** 2) / 0.0016))
        out.append(np.stack([light, 0.8 * light, 0.5 * light + 0.1]).astype(np.float32))
    return out


NOISE = 0.012
"""Standard deviation of the footage's own noise, in display-coded values."""

PAN = (3, 1)
"""Pixels that a pan moves by, across and down."""


def _noisy_clips() -> dict[str, list[Picture]]:
    """Two frames each of a still and of a pan, with noise of their own."""
    across, down = PAN
    wide = lamps(Size(SIZE.width + across, SIZE.height + down), 1)[0]
    first, second = wide[:, down:, across:], wide[:, :-down, :-across]
    rng = np.random.default_rng(4)

    def noisy(pictures: Sequence[Picture]) -> list[Picture]:
        return [(p + rng.normal(0, NOISE, p.shape)).astype(np.float32) for p in pictures]

    return {"still": noisy((first, first)), "pan": noisy((first, second))}


def _evaluate_alone(
    treatment: type[AnyTreatment],
    settings: Settings,
    assets: Assets,
    pictures: Sequence[Picture],
    size: Size = SIZE,
    keep: CachePolicy = "last",
) -> Evaluator:
    """The treatment alone on pictures, as a new step of it is mixed back."""
    step = {"id": "checked", "treatment": treatment.kind, "settings": dict(settings)}
    look = parse_look({"format": "yearning-look/3", "steps": [step]})
    return Evaluator(look, ArrayClip(pictures), size, Cache(ROOM), keep=keep, assets=assets)
