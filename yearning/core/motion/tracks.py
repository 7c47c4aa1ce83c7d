"""Tracks: how a part of a clip moves, frame by frame, as the file format `yearning-track/1` has it.

A frame's matrix takes a place of the track's first frame, in pixels of the footage with the centre
of the first pixel at (0.5, 0.5), to where it is at that frame.
"""

import json
from bisect import bisect_right
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import (
    AfterValidator,
    ConfigDict,
    Field,
    TypeAdapter,
    ValidationError,
    model_validator,
)

from yearning.core.errors import YearningError
from yearning.core.json_text import JsonError, check_json
from yearning.core.picture import Size
from yearning.core.validation import StrictModel

TRACK_FORMAT: Literal["yearning-track/1"] = "yearning-track/1"

LOST = 0.35
"""The share of followed corners that agree below which a part is lost."""

MAX_SMOOTH = 24
"""Frames on either side over which a track is smoothed, at the most."""

MAX_FRAMES = 100_000
"""Of a track: more than an hour without a cut."""

MAX_VALUES = 24 * MAX_FRAMES
"""Of a track's file: a frame has nine numbers, four rows and brackets, and what is said of it."""

MAX_DEPTH = 64

Matrix = NDArray[np.float64]
"""A 3×3 matrix of homogeneous coordinates; its last element is 1."""

Points = NDArray[np.float64]
"""Places, shape `(n, 2)`: x, then y."""

Kind = Literal["shift", "turn", "corners"]
"""What a part may do: be shifted; be shifted, turned and sized; have its corners moved each."""

Row = tuple[float, float, float]


class TrackError(YearningError, ValueError):
    """A track that can't be used; its message says why."""


def map_places(matrix: Matrix, places: Points) -> Points:
    """Return places taken through a matrix of homogeneous coordinates.

    Args:
        matrix: 3×3.
        places: shape `(n, 2)`, x then y.

    >>> import numpy as np
    >>> shift = np.array([[1.0, 0, 3], [0, 1, -1], [0, 0, 1]])
    >>> map_places(shift, np.array([[2.0, 5.0]])).tolist()
    [[5.0, 4.0]]
    """
    homogeneous = places @ matrix[:, :2].T + matrix[:, 2]
    return np.asarray(homogeneous[:, :2] / homogeneous[:, 2:])


def can_be_undone(rows: tuple[Row, Row, Row]) -> tuple[Row, Row, Row]:
    """Return a matrix as it is, or raise ValueError where it has no inverse."""
    (a, b, c), (d, e, f), (g, h, i) = rows
    determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)
    if abs(i) < 1e-9 or not abs(determinant) >= 1e-9:
        raise ValueError("a matrix that can't be inverted; leave frames that are lost out")
    return rows


class TrackedFrame(StrictModel):
    """Where a track's part is at one frame."""

    frame: int = Field(ge=0, le=100_000_000)
    matrix: Annotated[tuple[Row, Row, Row], AfterValidator(can_be_undone)]
    sure: float = Field(1.0, ge=0, le=1, description="Share of its corners that agree.")
    by_hand: bool = Field(False, description="Whether it was put right by hand.")


class Motion(NamedTuple):
    """What a track does at one frame, for places in fractions of the frame's width and height."""

    rows: tuple[Row, Row, Row]

    def pixels(self, size: Size) -> Matrix:
        """Its matrix for places in pixels of a frame of `size`."""
        scale = np.diag([size.width, size.height, 1.0])
        matrix: Matrix = scale @ np.array(self.rows) @ np.linalg.inv(scale)
        return matrix


class Track(StrictModel):
    """How a part of a clip moves from one of its frames."""

    model_config = ConfigDict(ignored_types=(cached_property,))

    format: Literal["yearning-track/1"] = TRACK_FORMAT
    clip: str = Field("", max_length=128, description="SHA-256 of the clip it is a part of.")
    size: tuple[Annotated[int, Field(ge=1, le=65536)], Annotated[int, Field(ge=1, le=65536)]] = (
        Field(description="Of the footage, in pixels.")
    )
    begin: int = Field(alias="from", ge=0, description="The frame it is found from.")
    kind: Kind = Field("turn", description="What the part may do.")
    shape: dict[str, Any] | None = Field(
        None, description="The shape that was followed, as a mask has it, as it is at that frame."
    )
    smooth: int = Field(
        0, ge=0, le=MAX_SMOOTH, description="Frames on either side over which it is smoothed."
    )
    frames: tuple[TrackedFrame, ...] = Field(min_length=1, max_length=MAX_FRAMES)

    @model_validator(mode="after")
    def _in_order(self) -> "Track":
        for i, (before, now) in enumerate(pairwise(self.frames), start=1):
            if now.frame <= before.frame:
                raise ValueError(
                    f"frames[{i}]: frame {now.frame} comes after frame {before.frame}; "
                    "each frame stands once, in their order"
                )
        return self

    @property
    def pixels(self) -> Size:
        """The footage's size."""
        return Size(*self.size)

    @cached_property
    def _numbers(self) -> list[int]:
        return [each.frame for each in self.frames]

    @cached_property
    def _matrices(self) -> NDArray[np.float64]:
        """The frames' matrices, each by its last element; shape `(n, 3, 3)`.

        They are smoothed, but for the first frame's and those that were put right by hand.
        """
        found = np.array([each.matrix for each in self.frames])
        found /= found[:, 2:, 2:]
        if not self.smooth:
            return found
        fixed = np.array([each.by_hand or each.frame == self.begin for each in self.frames])
        even = smooth_matrices(self._numbers, found, self.smooth, self.pixels)
        return np.where(fixed[:, None, None], found, even)

    def matrix_at(self, position: float) -> Matrix:
        """Its matrix at a place in time, in frames; between two it is between theirs.

        Where it is lost it stays at the frame before, or before all, at the first.
        """
        at = max(bisect_right(self._numbers, position) - 1, 0)
        here: Matrix = self._matrices[at]
        part = position - self._numbers[at]
        goes_on = at + 1 < len(self._numbers) and self._numbers[at + 1] == self._numbers[at] + 1
        if goes_on and 0 < part < 1:
            return np.asarray(here + part * (self._matrices[at + 1] - here))
        return here

    def motion_at(self, position: float) -> Motion:
        """What it does at a place in time, in frames."""
        scale = np.diag([1.0 / self.size[0], 1.0 / self.size[1], 1.0])
        matrix = scale @ self.matrix_at(position) @ np.linalg.inv(scale)
        a, b, c = np.round(matrix / matrix[2, 2], 12).tolist()
        return Motion((tuple(a), tuple(b), tuple(c)))

    def lost_ranges(self, frames: int) -> list[tuple[int, int]]:
        """Ranges of a clip's frames at which the part is lost: their first and last."""
        edges = [-1, *self._numbers, frames]
        return [(a + 1, b - 1) for a, b in pairwise(edges) if b - a > 1 and a + 1 < frames]


def smooth_matrices(
    numbers: list[int], matrices: NDArray[np.float64], reach: int, size: Size
) -> NDArray[np.float64]:
    """Matrices smoothed along time by a gaussian, of σ half of `reach` frames.

    What is smoothed is where the frame's corners are, so a turn stays one. Over a gap nothing is
    smoothed, and at an end as far to one side as to the other: what is even stays as it is.

    Args:
        numbers: the frames' numbers, rising.
        matrices: shape `(n, 3, 3)`.
        reach: frames on either side that are read.
        size: of the frame.
    """
    w, h = size
    corners = np.array([[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]])
    homogeneous = corners @ matrices[:, :, :2].transpose(0, 2, 1) + matrices[:, None, :, 2]
    places = homogeneous[:, :, :2] / homogeneous[:, :, 2:]
    out = matrices.copy()
    reaches = _even_reaches(np.array(numbers), reach)
    for near in range(1, reach + 1):
        weights = np.exp(-0.5 * (np.arange(-near, near + 1) / (reach / 2)) ** 2)
        weights /= weights.sum()
        every = np.flatnonzero(reaches == near)
        for some in np.array_split(every, len(every) // AT_ONCE + 1):
            windows = places[some[:, None] + np.arange(-near, near + 1)]
            mean = np.tensordot(windows, weights, ((1,), (0,)))
            out[some] = through_four(corners, mean)
    return out


AT_ONCE = 4096
"""Frames that are smoothed together: their windows take some megabytes."""


def _even_reaches(frames: NDArray[np.int64], reach: int) -> NDArray[np.int64]:
    """Return how far each frame's window reaches to either side.

    It is as far on both, within its run of frames that follow each other.
    """
    at = np.arange(len(frames))
    begins = np.flatnonzero(np.diff(frames, prepend=frames[0] - 2) != 1)
    run = np.searchsorted(begins, at, side="right") - 1
    ends = np.append(begins[1:], len(frames)) - 1
    return np.asarray(np.minimum(reach, np.minimum(at - begins[run], ends[run] - at)))


def through_four(was: Points, now: Points) -> NDArray[np.float64]:
    """Return the matrices that take four places to four others.

    Source: Hartley, Zisserman, Multiple View Geometry, 2nd edition, 4.1: direct linear
    transformation.

    Args:
        was: shape `(4, 2)`.
        now: shape `(n, 4, 2)`, or `(4, 2)` for one matrix.
    """
    u, v = now[..., 0], now[..., 1]
    x, y = (np.broadcast_to(one, u.shape) for one in (was[:, 0], was[:, 1]))
    none, one = np.zeros_like(u), np.ones_like(u)
    rows = np.stack(
        (
            np.stack((x, y, one, none, none, none, -u * x, -u * y), -1),
            np.stack((none, none, none, x, y, one, -v * x, -v * y), -1),
        ),
        -2,
    ).reshape(*u.shape[:-1], 8, 8)
    found = np.linalg.solve(rows, now.reshape(*u.shape[:-1], 8, 1))[..., 0]
    ones = np.ones((*u.shape[:-1], 1))
    return np.concatenate((found, ones), -1).reshape(*u.shape[:-1], 3, 3)


def parse_track(text: str | bytes) -> Track:
    """The track in a JSON text.

    Raises:
        TrackError: not JSON, or not a track; it names each place that is wrong, at most three.
    """
    try:
        check_json(text.encode() if isinstance(text, str) else text, MAX_DEPTH, MAX_VALUES)
        data = json.loads(text)
    except JsonError as error:
        raise TrackError(f"not a track: {error}") from None
    except (ValueError, RecursionError) as error:
        raise TrackError(f"not a track: it is no JSON ({error})") from None
    if not isinstance(data, dict) or data.get("format") != TRACK_FORMAT:
        raise TrackError(f'not a track: it must say "format": "{TRACK_FORMAT}"')
    try:
        return Track.model_validate(data | {"frames": _parsed_frames(data.get("frames"))})
    except ValidationError as error:
        raise TrackError("; ".join(_message(each) for each in error.errors()[:3])) from None


PARSED_AT_ONCE = 2000
"""Frames of which the interpreter's lock is held: a twentieth of a second."""

_FRAMES = TypeAdapter[tuple[TrackedFrame, ...]](tuple[TrackedFrame, ...])


def _parsed_frames(written: Any) -> Any:
    """Frames as they are in a file, parsed; what is no list is left as it is.

    Raises:
        TrackError: it names each place that is wrong, at most three.
    """
    if not isinstance(written, list):
        return written
    if len(written) > MAX_FRAMES:
        raise TrackError(f"frames: {len(written)}, where {MAX_FRAMES} are the most")
    found: list[TrackedFrame] = []
    for start in range(0, len(written), PARSED_AT_ONCE):
        try:
            found += _FRAMES.validate_python(written[start : start + PARSED_AT_ONCE])
        except ValidationError as error:
            wrong = [
                {**each, "loc": ("frames", start + int(each["loc"][0]), *each["loc"][1:])}
                for each in error.errors()[:3]
            ]
            raise TrackError("; ".join(map(_message, wrong))) from None
    return tuple(found)


def _message(error: Any) -> str:
    where = ".".join(str(part) for part in error["loc"])
    what = error["msg"].removeprefix("Value error, ")
    return f"{where}: {what}" if where else what


def track_json(track: Track) -> str:
    """A track as its file has it, a frame on a line."""
    data = track.model_dump(mode="json", exclude_defaults=True, by_alias=True, exclude={"frames"})
    head = json.dumps({"format": TRACK_FORMAT, **data})[:-1]
    lines = ",\n".join(f"  {_frame_json(frame)}" for frame in track.frames)
    return f'{head}, "frames": [\n{lines}\n]}}\n'


def _frame_json(frame: TrackedFrame) -> str:
    return json.dumps(frame.model_dump(mode="json", exclude_defaults=True, by_alias=True))


def track_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-track/1`."""
    schema = Track.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format", "size", "from", "frames"]
    return schema
