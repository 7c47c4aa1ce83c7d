"""Split."""

import math
from typing import Annotated, Any, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

from yearning.core.buffers import new_array
from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.image.bilinear import EXACT, Line
from yearning.core.image.remap import remap_plane
from yearning.core.image.resampling import Taps, cubic_taps, resample_rows
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Reach, Treatment
from yearning.core.treatment.capabilities import ReadsWholePictures
from yearning.core.treatment.settings import setting

CHANNELS = ("red", "green", "blue")

PRIMARIES = ("#ff0000", "#00ff00", "#0000ff")


def _white(tints: tuple[str, str, str]) -> tuple[str, str, str]:
    total = np.rint(255 * sum(rgb_of(tint) for tint in tints)).astype(int)
    if np.any(total != 255):
        found = ", ".join(map(str, total))
        raise ValueError(
            "the three colours must add up to white, 255 in R, G and B, so that grey stays grey; "
            f"these add up to {found}"
        )
    return tints


Tints = Annotated[tuple[Colour, Colour, Colour], AfterValidator(_white)]
"""Three colours that add up to white."""


class _Drawn(NamedTuple):
    """A channel: the plane it is drawn from, and how it was moved, magnified and turned."""

    plane: Plane
    down: Taps | None = None
    across: tuple[NDArray[np.int32], Plane] | None = None
    """Where each column's taps begin, and what they weigh, shape (taps, width)."""
    runs: NDArray[np.int32] | None = None
    """Where nothing is magnified, so that columns weigh alike: those from one to another
    (exclusive) begin so many further on, shape (runs, 3)."""
    turned: NDArray[np.float32] | None = None
    """Where pixel (x, y) is drawn from, as an affine map of shape (2, 3), where it is turned."""


def _offset_setting(label: str, help: str, default: float = 0.0) -> Any:
    return setting(
        default, -80, 80, unit="px@1080", minimum=-4000, maximum=4000, label=label, help=help
    )


def _magnification_setting(label: str) -> Any:
    return setting(
        1.0,
        0.9,
        1.1,
        unit="factor",
        minimum=0.2,
        maximum=5,
        label=label,
        help="Magnified about the middle.",
    )


def _turned_by(label: str) -> Any:
    return setting(
        0.0, -10, 10, unit="degrees", minimum=-360, maximum=360, label=label, help="To the right."
    )


def _delay_setting(label: str) -> Any:
    return setting(
        0, 0, 12, unit="frames", minimum=0, maximum=48, label=label, help="A ghost of what moves."
    )


class Split(ReadsWholePictures, Treatment[list[_Drawn]]):
    """Red, green and blue drawn apart: each moved, magnified, turned, and of an earlier frame.

    Each channel's picture is drawn by cubic convolution from where it was; beyond its edges it is
    mirrored. A delayed one is that of so many frames before, at the clip's beginning of the first.
    The three are then added in their tints, which add up to white: what all three agree on keeps
    its colour. With nothing moved, and red, green and blue for tints, it is the identity. The form
    is common practice, no source.
    """

    kind = "split"
    stage = "ink & signal"
    summary = "red, green and blue drawn apart, in place and in time"
    keywords = (
        "rgb split",
        "channel shift",
        "chromatic aberration",
        "glitch",
        "anaglyph",
        "ghost",
        "3d",
    )
    shown = {"red_x": 26, "red_y": 6, "blue_x": -26, "blue_y": -6}
    max_added_change = 0.03

    red_x: float = _offset_setting("Red across", "To the right.", 8.0)
    red_y: float = _offset_setting("Red down", "Downwards.")
    red_magnify: float = _magnification_setting("Red size")
    red_turn: float = _turned_by("Red turned")
    red_delay: int = _delay_setting("Red delayed")
    green_x: float = _offset_setting("Green across", "To the right.", 0.0)
    green_y: float = _offset_setting("Green down", "Downwards.")
    green_magnify: float = _magnification_setting("Green size")
    green_turn: float = _turned_by("Green turned")
    green_delay: int = _delay_setting("Green delayed")
    blue_x: float = _offset_setting("Blue across", "To the right.", -8.0)
    blue_y: float = _offset_setting("Blue down", "Downwards.")
    blue_magnify: float = _magnification_setting("Blue size")
    blue_turn: float = _turned_by("Blue turned")
    blue_delay: int = _delay_setting("Blue delayed")
    tints: Tints = setting(
        PRIMARIES,
        unit="tints",
        label="Tints",
        help="What the three are drawn in; together they are white.",
    )

    def neighbours(self) -> Reach:
        """As many frames before as the longest delay."""
        return Reach(max(self.red_delay, self.green_delay, self.blue_delay), 0)

    def prepare(self, context: FrameContext) -> list[_Drawn]:
        """The channels, and from where they are drawn."""
        return [
            self._prepare_channel(
                name, context.whole_picture(-int(getattr(self, f"{name}_delay")))[c], context.size
            )
            for c, name in enumerate(CHANNELS)
        ]

    def _prepare_channel(self, name: str, plane: Plane, size: Size) -> _Drawn:
        right, below, magnify, turn = (
            float(getattr(self, f"{name}_{what}")) for what in ("x", "y", "magnify", "turn")
        )
        right, below = right * size.scale, below * size.scale
        if turn:
            return _Drawn(plane, turned=_rotated_coordinates(size, right, below, magnify, turn))
        down = _taps(size.height, below, magnify)
        across = _taps(size.width, right, magnify)
        if across is None:
            return _Drawn(plane, down)
        runs = _runs(across.start) if magnify == 1 and size.width >= 4 else None
        return _Drawn(plane, down, (across.start, np.ascontiguousarray(across.weights.T)), runs)

    def apply(self, band: Band[list[_Drawn]]) -> None:
        """Rows of the three together."""
        drawn: list[_Drawn] = band.prepared
        top, bottom = band.rows
        if self.tints == PRIMARIES:
            for channel, out in zip(drawn, band.result, strict=True):
                _draw(channel, top, bottom, out)
            return
        tints = np.stack([rgb_of(tint) for tint in self.tints])
        channels = new_array((3, bottom - top, band.result.shape[2]))
        for channel, out in zip(drawn, channels, strict=True):
            _draw(channel, top, bottom, out)
        _tint_channels(channels, tints, band.out, band.out_top)


def _taps(count: int, moved: float, magnified: float) -> Taps | None:
    """How an axis is drawn that was moved and magnified about its middle; None where it is not."""
    if moved == 0 and magnified == 1:
        return None
    step = 1 / magnified
    return cubic_taps(count, count, count / 2 - (count / 2 + moved) * step, step)


def _runs(start: NDArray[np.int32]) -> NDArray[np.int32]:
    """Find runs of columns with the same source offset: first, end, offset."""
    by = start - np.arange(len(start))
    first = np.concatenate([[0], np.flatnonzero(np.diff(by)) + 1])
    end = np.concatenate([first[1:], [len(by)]])
    return np.stack([first, end, by[first]], axis=1).astype(np.int32)


def _rotated_coordinates(
    size: Size, right: float, below: float, magnified: float, turn: float
) -> NDArray[np.float32]:
    """Compute the source coordinates of a turned channel, from the first pixel's centre."""
    c, s = math.cos(math.radians(turn)) / magnified, math.sin(math.radians(turn)) / magnified
    x, y = size.width / 2, size.height / 2
    back = np.array([[c, s, 0.0], [-s, c, 0.0]])
    back[:, 2] = np.array([x, y]) - back[:, :2] @ np.array([x + right - 0.5, y + below - 0.5]) - 0.5
    return back.astype(np.float32)


def _draw(channel: _Drawn, top: int, bottom: int, out: Plane) -> None:
    """Rows of a channel."""
    plane = channel.plane
    if channel.turned is not None:
        x = np.arange(plane.shape[1], dtype=np.float32)
        y = np.arange(top, bottom, dtype=np.float32)[:, None]
        right, down = (np.ascontiguousarray(a * x + (b * y + c)) for a, b, c in channel.turned)
        remap_plane(plane, right, down, False, out)
        return
    rows = plane[top:bottom]
    if channel.down is not None:
        part = channel.down.rows(top, bottom)
        rows = new_array((bottom - top, plane.shape[1]))
        resample_rows(plane, part.start, part.weights, rows)
    if channel.across is None:
        out[...] = rows
        return
    start, weights = channel.across
    if channel.runs is None:
        _draw_columns(rows, start, weights, out)
    else:
        _draw_runs(rows, channel.runs, weights, out)


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _weigh_samples(
    line: Line, start: NDArray[np.int32], weights: Plane, first: int, more: bool, out: Line
) -> None:
    """Weight four samples of a line for each pixel, each from its own start."""
    w0, w1, w2, w3 = weights[first], weights[first + 1], weights[first + 2], weights[first + 3]
    a, b, c, d = line[first:], line[first + 1 :], line[first + 2 :], line[first + 3 :]
    if more:
        for x in range(out.shape[0]):
            n = np.uint32(start[x])
            out[x] += (w0[x] * a[n] + w1[x] * b[n]) + (w2[x] * c[n] + w3[x] * d[n])
    else:
        for x in range(out.shape[0]):
            n = np.uint32(start[x])
            out[x] = (w0[x] * a[n] + w1[x] * b[n]) + (w2[x] * c[n] + w3[x] * d[n])


@numba.njit(nogil=True, cache=True)
def _draw_columns(rows: Plane, start: NDArray[np.int32], weights: Plane, out: Plane) -> None:
    """Lines drawn by taps; `weights` has shape (taps, width)."""
    taps, width = weights.shape
    line = new_line(width + taps)
    line[:] = 0  # taps that weigh nothing may lie beyond the edge
    for i in range(out.shape[0]):
        for x in range(width):
            line[x] = rows[i, x]
        for t in range(0, taps, 4):
            _weigh_samples(line, start, weights, t, t > 0, out[i])


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _weighed_alike(
    line: Line, w0: np.float32, w1: np.float32, w2: np.float32, w3: np.float32, out: Line
) -> None:
    """Weight four samples of a line that begin where the pixel does, or copy one."""
    a, b, c, d = line, line[1:], line[2:], line[3:]
    if w1 == 1:
        for x in range(out.shape[0]):
            out[x] = b[x]
    else:
        for x in range(out.shape[0]):
            out[x] = (w0 * a[x] + w1 * b[x]) + (w2 * c[x] + w3 * d[x])


@numba.njit(nogil=True, cache=True)
def _draw_runs(rows: Plane, runs: NDArray[np.int32], weights: Plane, out: Plane) -> None:
    """Lines drawn by taps, run by run; `weights` has shape (4, width)."""
    for i in range(out.shape[0]):
        for n in range(runs.shape[0]):
            begin, end, by = runs[n]
            w0, w1, w2, w3 = weights[:, begin]
            _weighed_alike(rows[i, begin + by :], w0, w1, w2, w3, out[i, begin:end])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _tint_channels(channels: Picture, tints: Plane, out: Picture, out_top: int) -> None:
    for y in range(channels.shape[1]):
        red, green, blue = channels[0, y], channels[1, y], channels[2, y]
        for c in range(3):
            r, g, b = tints[0, c], tints[1, c], tints[2, c]
            to = out[c, out_top + y]
            for x in range(to.shape[0]):
                to[x] = r * red[x] + g * green[x] + b * blue[x]
