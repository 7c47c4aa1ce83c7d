"""Looks: made in Python, read from files, begun with from starters; seen on clips."""

import json
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from html import escape
from pathlib import Path
from typing import Any

import numpy as np

from yearning.core.errors import InvalidLookError
from yearning.core.look import document as documents
from yearning.core.look.bursts import bursts_at_interval, bursts_from
from yearning.core.look.fitting import ClipOverrides, apply_fitting, fitting_from_json
from yearning.core.look.renderable import without_absent
from yearning.core.look.visible_sizes import with_visible_sizes
from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.core.treatment.base import Treatment
from yearning.library.clips import Clip, rate_of
from yearning.library.pictures import Picture, frame_picture, frame_pictures
from yearning.library.steps import Bundle, Burst, Step, as_steps, document_of, steps_from
from yearning.media.atomic_write import atomic_write
from yearning.media.audio.waveform import decode_mono
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError
from yearning.media.plates.assets import asset_path
from yearning.starters import StarterBursts, starter_named, starters


@dataclass(frozen=True, init=False, repr=False)
class Look:
    """An ordered list of steps; an empty one is the footage itself.

    Args:
        steps: treatments, bundles or steps, in the order in which they are laid on each other. One
            that is no `Step` is mixed back as a new step of its kind is.
        name: what it is called.
        folder: that its tables, plates and tracks are named from.

    Raises:
        InvalidLookError: it names each place that is wrong.

    >>> import yearning as yn
    >>> look = yn.Look([yn.Glow(spread=60), yn.Exposure(stops=-0.5)], name="Lamps")
    >>> [step.id for step in look.steps], look["glow-1"].mix.blend
    (['glow-1', 'exposure-1'], 'screen')
    """

    steps: tuple[Step, ...]
    name: str
    folder: Path = field(compare=False)
    document: documents.Look = field(compare=False)
    """The same as the command line and the page have it."""

    def __init__(
        self,
        steps: Iterable[Treatment[Any] | Bundle | Step] = (),
        name: str = "Untitled look",
        *,
        folder: str | Path = ".",
    ) -> None:
        self._set(document_of(as_steps(steps), name), Path(folder))

    @classmethod
    def of_document(cls, made: documents.Look, folder: str | Path = ".") -> "Look":
        """Return the look that a document describes.

        Args:
            made: as it was read.
            folder: in which the files that it names lie.

        Raises:
            InvalidLookError: a step is of a package that is not installed, and not switched off.
        """
        look = object.__new__(cls)
        look._set(without_absent(made), Path(folder))
        return look

    def _set(self, made: documents.Look, folder: Path) -> None:
        for name, value in (
            ("steps", steps_from(made.steps)),
            ("name", made.name),
            ("folder", folder),
            ("document", made),
        ):
            object.__setattr__(self, name, value)

    def __repr__(self) -> str:
        return f"<Look '{self.name}': {', '.join(str(step.id) for step in self.steps)}>"

    def __getitem__(self, step_id: str) -> Step:
        for step in _all_steps(self.steps):
            if step.id == step_id:
                return step
        known = ", ".join(str(step.id) for step in _all_steps(self.steps)) or "none"
        raise InvalidLookError(f"no step has the id '{step_id}'; there are {known}")

    def with_step(self, step: Step) -> "Look":
        """The same look with another step in place of the one of its id.

        Raises:
            InvalidLookError: no step of the look has its id, or they do not go together.
        """
        self[str(step.id)]
        return Look(_replace_step(self.steps, step), self.name, folder=self.folder)

    def with_fitting(
        self, fitting: ClipOverrides, on_note: Callable[[str], object] = lambda note: None
    ) -> "Look":
        """The look as it stands on the clip of a fitting, with values, keys and masks of its own.

        Args:
            fitting: what holds for the clip alone.
            on_note: called with what of the fitting no longer goes with this look; the rest holds.

        >>> import yearning as yn
        >>> look = yn.Look([yn.Step(yn.Glow(spread=60), "bloom")])
        >>> own = yn.ClipOverrides(steps={"bloom": {"settings": {"spread": 20}}})
        >>> look.with_fitting(own)["bloom"].treatment.spread
        20.0
        """
        found = apply_fitting(self.document, fitting)
        for note in found.notes:
            on_note(note)
        return Look.of_document(found.look, self.folder)

    def picture(
        self, clip: Clip, frame: int, *, height: int | None = None, after: str | None = None
    ) -> Picture:
        """One frame of a clip through this look.

        Args:
            clip: opened, or pictures in memory.
            frame: number, from 0.
            height: lines of the picture; the clip's own, if left out.
            after: the id of the step after which to stop.

        Returns:
            float32, shape `(3, height, width)`, of what the look's crop leaves.

        Raises:
            InvalidLookError: no step has the id.
            MediaError: the clip, or a file that the look names, can't be used.
            IndexError: the clip has no such frame.
            RequestError: the clip has not so many lines.
        """
        return frame_picture(self.document, self.folder, clip, frame, height, after)

    def pictures(
        self,
        clip: Clip,
        frames: range | None = None,
        *,
        height: int | None = None,
        after: str | None = None,
    ) -> Iterator[Picture]:
        """Yield frames of a clip through this look, in order; the next ones are made meanwhile.

        Memory is bounded by the size, whatever the number of frames.

        Args:
            clip: opened, or pictures in memory.
            frames: which, ascending; all, if left out.
            height: in lines; the clip's own, if left out.
            after: a step's id; all steps, if left out.

        Raises:
            InvalidLookError, MediaError, IndexError, RequestError: as `picture` does.
        """
        chosen = range(clip.frames) if frames is None else frames
        if chosen and (chosen.step < 1 or chosen[0] < 0 or chosen[-1] >= clip.frames):
            raise IndexError(f"{chosen}: ascending, of the clip's frames 0 to {clip.frames - 1}")
        return frame_pictures(self.document, self.folder, clip, chosen, height, after)

    def _repr_html_(self) -> str:
        """A table of the steps, for notebooks."""
        rows = "".join(
            f"<tr><td>{escape(str(step.id))}</td><td>{escape(_format_step(step))}</td>"
            f"<td>{escape(str(step.mix.blend))}, {100 * (step.mix.amount or 0):.4g} %</td></tr>"
            for step in self.steps
        )
        head = "<tr><th>step</th><th>settings</th><th>mixed back</th></tr>"
        return f"<table><caption>{escape(self.name)}</caption>{head}{rows}</table>"


def _all_steps(steps: Iterable[Step]) -> Iterator[Step]:
    for step in steps:
        yield step
        if isinstance(step.treatment, Bundle):
            yield from _all_steps(step.treatment.steps)


def _replace_step(steps: Iterable[Step], other: Step) -> Iterator[Step]:
    for step in steps:
        if step.id == other.id:
            yield other
        elif isinstance(step.treatment, Bundle):
            inside = _replace_step(step.treatment.steps, other)
            yield replace(step, treatment=Bundle(inside, step.treatment.name))
        else:
            yield step


def _format_step(step: Step) -> str:
    """Return a step as a call of its treatment, with the settings that are not the defaults."""
    if isinstance(step.treatment, Bundle):
        return f"Bundle of {', '.join(str(inner.id) for inner in step.treatment.steps)}"
    made = {
        name: value
        for name, value in step.treatment
        if value != type(step.treatment).model_fields[name].default
    }
    settings = ", ".join(f"{name}={value!r}" for name, value in made.items())
    return f"{type(step.treatment).__name__}({settings})"


def read_look(path: str | Path) -> Look:
    """The look in a file; what it names is looked for beside it.

    Args:
        path: of the look file; one of an older format is upgraded.

    Raises:
        InvalidLookError: not a look; the message names each place that is wrong.
        MediaError: the file can't be read.
    """
    path = Path(path)
    try:
        text = path.read_bytes()
    except OSError as error:
        raise MediaError(f"{path}: {error.strerror or error}") from None
    try:
        return Look.of_document(documents.look_from_json(text), path.parent)
    except InvalidLookError as error:
        raise InvalidLookError(f"{path.name}: {error}") from None


def read_fitting(path: str | Path) -> ClipOverrides:
    """What of a look holds for one clip alone, from a file of the format `yearning-fitting/2`.

    One of an older format is upgraded together with its look.

    Args:
        path: of the file.

    Raises:
        InvalidLookError: not a fitting; the message names each place that is wrong.
        MediaError: the file can't be read, or its input is none.
    """
    path = Path(path)
    try:
        text = path.read_bytes()
    except OSError as error:
        raise MediaError(f"{path}: {error.strerror or error}") from None
    try:
        fitting = fitting_from_json(text)
        InputOverrides.of(fitting.input)
    except InvalidLookError as error:
        raise InvalidLookError(f"{path.name}: {error}") from None
    except MediaError as error:
        raise MediaError(f"{path.name}: input: {error}") from None
    return fitting


def write_look(look: Look, path: str | Path) -> None:
    """Write a look as a file that the page, the command line and `read_look` take.

    Args:
        look: what is written, in the newest format.
        path: of the file.

    Raises:
        MediaError: a file that the look names would not be found from there.
        OSError: it can't be written.
    """
    path = Path(path)
    for named in documents.named_files(look.document):
        if not asset_path(path.parent, named.name).exists():
            raise MediaError(
                f"{named.path}: {named.name} is not in {path.parent}; copy it there first"
            )
    with atomic_write(path) as part:
        part.write_text(
            json.dumps(look.document.model_dump(mode="json"), indent=2) + "\n", encoding="utf-8"
        )


EVERY = 24
"""Frames from burst to burst in a clip that has no beats."""

RARE = 72
"""Frames from beat to beat, at the most, where bursts are on the beats."""


def starter(name: str, clip: Clip | None = None) -> Look:
    """The starter look of that name, however it is capitalized.

    Args:
        name: as the page has it, `worn print` for example.
        clip: that its bursts are made for, where it has any: on the beats of its sound, or else
            evenly; and its dots, so that they are seen on small footage. Without one its steps are
            always active.

    Raises:
        InvalidLookError: there is none; the message names those that there are.
    """
    found = starter_named(name)
    if clip is None:
        return Look.of_document(found.look)
    look = Look.of_document(with_visible_sizes(found.look, clip.size.height))
    for step_id, bursts in found.bursts.items():
        look = look.with_step(replace(look[step_id], bursts=_bursts_for(clip, bursts)))
    return look


def starter_names() -> list[str]:
    """Names of the starter looks, in their order."""
    return [each.look.name for each in starters()]


def _bursts_for(clip: Clip, asked: StarterBursts) -> tuple[Burst, ...]:
    """Bursts on the beats of a clip's sound, or evenly where there are few."""
    made = bursts_from(clip.frames, _beats(clip, asked.threshold), asked.length, asked.ramp)
    if len(made) * RARE < clip.frames:
        made = bursts_at_interval(clip.frames, EVERY // 2, asked.length, EVERY, asked.ramp)
    return tuple(Burst(burst.first, burst.last, burst.ramp) for burst in made)


def _beats(clip: Clip, threshold: float) -> list[int]:
    """Frames of the beats of a clip's sound."""
    if not isinstance(clip, OpenClip) or not clip.probe.sounds:
        return []
    times = onsets(spectral_flux(decode_mono(clip.path, RATE, float(clip.begins))), threshold)
    frames_a_second = float(rate_of(clip) / clip.reading.pace)
    return [int(frame) for frame in np.floor(times * frames_a_second)]
