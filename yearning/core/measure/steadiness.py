"""Steadiness: how much change from frame to frame a look adds to what the footage has."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.cache import Cache
from yearning.core.colour.luma import KB, KG, KR
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.look.document import Look
from yearning.core.measure.flash_check import StepFlashes, attribute_faults, step_fault_to_json
from yearning.core.measure.flashes import Flashes
from yearning.core.measure.parts import (
    fixed_pattern_after,
    is_lively_step,
    steady_part,
    warping_part,
)
from yearning.core.motion.flow import (
    Codes,
    Flow,
    Mask,
    flow_between,
    flow_consistency,
    flow_targets,
    luma_codes,
)
from yearning.core.motion.warping_error import warping_error
from yearning.core.picture import Picture
from yearning.core.treatment.assets import NO_ASSETS, Assets

LINES = 288
"""Lines at which steadiness is measured: enough to estimate motion, and what is as fine as a pixel
of the full size, like the footage's own noise, is mostly averaged out."""

CUT = 0.2
"""Where the flow is to be trusted in less of the picture than this, one shot has ended and another
begun: there is nothing to compare with."""

MAX_ADDED = 0.005
MAX_JUMP = 0.004
"""From which added change of the steady part, and from which jump of its lift, a frame is flagged.
The eye sees a field flicker by 0.5 to 1 % of its light where that goes fastest, near 10 Hz (de
Lange 1958; from memory); at mid-grey, code 0.5 shown with a gamma of 2.4, 2 % of light are 0.004 of
code. So a flagged jump is two to four times what is just seen, and well below a cut."""

Why = Literal["added", "jump"]


class Change(NamedTuple):
    """Change of one frame against the one before, in display-coded values; 0 on the first frame."""

    frame: int
    cut: bool
    """A shot begins here, or the motion can't be estimated: there is nothing to compare with."""
    change_footage: float
    change_result: float
    added: float
    added_steady: float
    """What the result adds without its lively steps."""
    lift: float
    """By how much the result's mean luma lies above the footage's."""
    lift_steady: float
    jump: float
    """The steady lift's change from the frame before."""
    added_steps: tuple[float, ...]
    """What each of the look's own steps adds to what stands before it."""
    jump_steps: tuple[float, ...]
    """How each of them changes the lift from the frame before."""


class Flag(NamedTuple):
    """A frame that is not steady."""

    frame: int
    why: Why
    value: float
    step: str
    """The step that adds most."""


class SteadinessAnalysis:
    """A look on a clip, gone through frame by frame for its steadiness and its flashes.

    change_S(t) = mean over M of |S_t − warp(S_(t−1), F)| for the footage S, change_O(t) likewise
    for the result O with the same F and M, added = change_O − change_S: the warping error (Lai et
    al., Learning Blind Video Temporal Consistency, ECCV 2018). F is the footage's flow back from t,
    M where it agrees with the flow forth. Where a steady step has moved what is in the frame, S is
    the footage moved by it too: a picture that is enlarged moves faster, and is as steady. Where a
    step has laid a pattern fixed to the frame, as a print's dots are, each pixel's change is the
    lesser of that along the motion and that in place, of S and O alike: footage that moves behind
    the pattern is no flicker of it.

    Args:
        look: its own steps are distinguished; those in a bundle count as one.
        footage: the clip.
        rate: its frames a second.
        assets: finds look-up tables and plates.
        lines: of the pictures that are looked at.
        frames: those that are gone through; None for all.
    """

    def __init__(
        self,
        look: Look,
        footage: Footage,
        rate: float,
        *,
        assets: Assets = NO_ASSETS,
        lines: int = LINES,
        frames: range | None = None,
    ) -> None:
        self.look = look
        self.rate = rate
        self._footage = footage
        self._frames = range(footage.frames) if frames is None else frames
        size = footage.size.with_height(min(lines, footage.size.height))
        cache = Cache[Picture](64 << 20)
        self._whole = Evaluator(look, footage, size, cache, assets=assets, keep="every step")
        self._calm = Evaluator(
            steady_part(look), footage, size, cache, assets=assets, keep="every step"
        )
        self._moved = Evaluator(
            warping_part(look), footage, size, cache, assets=assets, keep="every step"
        )
        self._lively = tuple(is_lively_step(step) for step in look.steps)
        self._fixed = fixed_pattern_after(look)
        self.pictures: list[Picture] = []
        """Of the last frame that was gone through, after none, one, … all steps."""
        self.changes: list[Change] = []
        self._flashes = [Flashes(rate) for _ in range(len(look.steps) + 1)]

    def run(self) -> Iterator[int]:
        """Go through the clip; gives how many frames are done."""
        before: _Seen | None = None
        for done, frame in enumerate(self._frames, start=1):
            before = self._examine(frame, before)
            self.pictures = before.rows[0]
            yield done

    def at(self, frame: int) -> Change:
        """The change of one frame alone; none on the clip's first.

        Raises:
            IndexError: the clip has no such frame.
        """
        before = self._see_frame(frame - 1) if frame > 0 else None
        return self._compare_frames(frame, self._see_frame(frame), before)

    def _see_frame(self, frame: int) -> "_Seen":
        steps = range(len(self.look.steps) + 1)
        whole = [self._whole.picture(frame, n) for n in steps]
        calm = [self._calm.picture(frame, n) for n in steps]
        return _Seen(whole, calm, [self._moved.picture(frame, n) for n in steps])

    def _examine(self, frame: int, before: "_Seen | None") -> "_Seen":
        now = self._see_frame(frame)
        for picture, flashes in zip(now.rows[0], self._flashes, strict=True):
            flashes.add(picture)
        self.changes.append(self._compare_frames(frame, now, before))
        return now

    def _compare_frames(self, frame: int, now: "_Seen", before: "_Seen | None") -> Change:
        """Compare a frame with the one before it."""
        footage, added, jumps = 0.0, np.zeros_like(now.lifts), np.zeros_like(now.lifts)
        cut = False
        if before is not None:
            motions = _motions(now, before)
            cut = float(motions[0].mask.mean()) < CUT
            if not cut:
                footage, added = _errors(now, before, motions, self._fixed)
                jumps = now.lifts - before.lifts
        # a lively step is measured on the whole look, a steady one on its steady part
        path = np.where(self._lively, 0, 1)
        after = np.arange(1, len(self.look.steps) + 1)
        by_step, jumped = (
            (values[path, after] - values[path, after - 1]).tolist() for values in (added, jumps)
        )
        whole, steady = map(float, added[:, -1])
        return Change(
            frame,
            cut,
            footage,
            footage + whole,
            whole,
            steady,
            float(now.lifts[0, -1]),
            float(now.lifts[1, -1]),
            float(jumps[1, -1]),
            tuple(by_step),
            tuple(jumped),
        )

    def flags(self) -> list[Flag]:
        """Frames that are not steady, the worst of each run of neighbours."""
        found: list[Flag] = []
        for change in self.changes:
            flag = self._flag(change)
            if flag is None:
                continue
            last = found[-1] if found else None
            if last is not None and last.frame >= flag.frame - 1 and last.why == flag.why:
                if abs(flag.value) > abs(last.value):
                    found[-1] = flag
            else:
                found.append(flag)
        return found

    def _flag(self, change: Change) -> Flag | None:
        steady = [i for i, lively in enumerate(self._lively) if not lively]
        if not steady:
            return None
        ids = [step.id for step in self.look.steps]
        if abs(change.jump) > MAX_JUMP:
            worst = max(steady, key=lambda i: change.jump_steps[i] * np.sign(change.jump))
            return Flag(change.frame, "jump", change.jump, ids[worst])
        if change.added_steady > MAX_ADDED:
            worst = max(steady, key=lambda i: change.added_steps[i])
            return Flag(change.frame, "added", change.added_steady, ids[worst])
        return None

    def steps(self) -> dict[str, float]:
        """What each step adds on average, by its id; a lively one to the lively part."""
        compared = [c for c in self.changes[1:] if not c.cut]
        ids = [step.id for step in self.look.steps]
        if not compared:
            return dict.fromkeys(ids, 0.0)
        added = np.array([c.added_steps for c in compared]).reshape(len(compared), len(ids))
        means = added.mean(axis=0)
        return dict(zip(ids, means.tolist(), strict=True))

    def flashes(self, after: int | None = None) -> list[StepFlashes]:
        """Faults after the first `after` steps, or of the result, each with what causes it."""
        return attribute_faults(
            self.look, self._flashes, len(self.look.steps) if after is None else after
        )

    def report(self) -> dict[str, Any]:
        """What was found, as JSON has it."""
        compared = [c for c in self.changes[1:] if not c.cut]

        def mean(name: str) -> float:
            return float(np.mean([getattr(c, name) for c in compared])) if compared else 0.0

        flags = self.flags()
        return {
            "frames": [change._asdict() for change in self.changes],
            "steps": self.steps(),
            "lively": [
                step.id
                for step, lively in zip(self.look.steps, self._lively, strict=True)
                if lively
            ],
            "flags": [flag._asdict() for flag in flags],
            "flashes": [step_fault_to_json(said, self.rate) for said in self.flashes()],
            "summary": {
                "frames": len(self.changes),
                "rate": self.rate,
                "cuts": sum(c.cut for c in self.changes),
                "flags": len(flags),
                "most_added": MAX_ADDED,
                "most_jump": MAX_JUMP,
                **{
                    name: mean(name)
                    for name in ("change_footage", "change_result", "added", "added_steady")
                },
            },
        }


class _Seen:
    """A frame's pictures after none, one, … all steps.

    They are of the look, of its steady part, and of the footage as far as the steady part moves it.
    """

    def __init__(self, whole: list[Picture], calm: list[Picture], moved: list[Picture]) -> None:
        self.rows = whole, calm
        self.moved = moved
        same = {id(picture): luma_codes(picture) for picture in {id(p): p for p in moved}.values()}
        self.codes = [same[id(picture)] for picture in moved]
        lumas = np.array([[mean_luma(picture) for picture in row] for row in (whole, calm, moved)])
        self.lifts: NDArray[np.float64] = lumas[:2] - lumas[2]


class _Motion(NamedTuple):
    """Optical flow to the frame before, and where it is trusted."""

    at: Flow
    mask: Mask


def _motions(now: _Seen, before: _Seen) -> list[_Motion]:
    """Estimate the footage's motion as it is warped after none, one, … all steps."""
    found: dict[int, _Motion] = {}
    for codes, earlier in zip(now.codes, before.codes, strict=True):
        if id(codes) not in found:
            found[id(codes)] = _motion(codes, earlier)
    return [found[id(codes)] for codes in now.codes]


def _motion(now: Codes, before: Codes) -> _Motion:
    """Estimate the flow back to the frame before, and where it is trusted."""
    with ThreadPoolExecutor(1) as other:
        forth = other.submit(flow_between, before, now, "fine")
        back = flow_between(now, before, "fine")
    return _Motion(flow_targets(back), flow_consistency(back, forth.result()))


def _errors(
    now: _Seen, before: _Seen, motions: list[_Motion], fixed: list[bool]
) -> tuple[float, NDArray[np.float64]]:
    """Compute the warping error of the footage, and what each picture has above it.

    The paths share pictures, which are looked at once.
    """
    found: dict[tuple[int, int, int, bool], float] = {}

    def error(picture: Picture, earlier: Picture, motion: _Motion, fixed: bool) -> float:
        key = id(picture), id(earlier), id(motion), fixed
        if key not in found:
            found[key] = warping_error(picture, earlier, *motion, fixed=fixed)
        return found[key]

    def errors(row: list[Picture], earlier: list[Picture]) -> NDArray[np.float64]:
        return np.array([error(*seen) for seen in zip(row, earlier, motions, fixed, strict=True)])

    footage = errors(now.moved, before.moved)
    rows = [errors(*pair) for pair in zip(now.rows, before.rows, strict=True)]
    return float(footage[-1]), np.array(rows) - footage


def mean_luma(picture: Picture) -> float:
    """Mean of a picture's luma."""
    weights = (KR, KG, KB)
    means = [float(plane.mean()) for plane in picture]
    return sum(float(w) * m for w, m in zip(weights, means, strict=True))
