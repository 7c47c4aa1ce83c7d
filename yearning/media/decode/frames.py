"""Frames in time: when each of a stream's is shown, at which rate, and where decoding can begin."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.container import InputContainer
from av.video.stream import VideoStream
from numpy.typing import NDArray

from yearning.media.errors import MediaError


@dataclass(frozen=True)
class FrameIndex:
    """When each frame is shown, and where decoding can begin."""

    times: NDArray[np.int64]
    """Presentation times in the stream's time base, ascending: frame n is at `times[n]`."""
    keys: NDArray[np.int64]
    """Presentation times of key frames, ascending."""
    time_base: Fraction
    timed: bool
    """Whether the packets carry presentation times; otherwise frames can only be counted."""

    @property
    def frames(self) -> int:
        """Number of frames."""
        return len(self.times)

    def key_for(self, frame: int, earlier: int = 0) -> int:
        """Return the time of the last key frame at or before a frame, or of one before that.

        Args:
            frame: of the stream.
            earlier: key frames before that one.
        """
        at = int(np.searchsorted(self.keys, self.times[frame], side="right")) - 1
        return int(self.keys[max(at - earlier, 0)])


def frame_index(container: InputContainer, stream: VideoStream, path: Path) -> FrameIndex:
    """Read every packet of the stream, without decoding, and note times and key frames.

    Args:
        container: open.
        stream: of it.
        path: what messages name.

    Raises:
        MediaError: there are no frames, or fewer than the container's header says.
    """
    times: list[int] = []
    keys: list[int] = []
    count = 0
    timed = True
    try:
        for packet in container.demux(stream):
            if packet.size == 0 or packet.is_discard:
                continue
            count += 1
            if packet.pts is None:
                timed = False
                continue
            times.append(packet.pts)
            if packet.is_keyframe:
                keys.append(packet.pts)
    except av.error.FFmpegError:
        pass  # what could be read is counted below against what should be there
    if stream.frames > count and not _has_edit_list(stream, count):
        raise MediaError(
            f"{path.name}: cut off: {count} of {stream.frames} frames are there; "
            "copy or export it again"
        )
    if count == 0:
        raise MediaError(f"{path.name}: it holds no frames; copy or export it again")
    base = stream.time_base or Fraction(1)
    if not timed or not keys:
        return FrameIndex(np.arange(count), np.zeros(1, np.int64), base, False)
    return FrameIndex(np.unique(times), np.unique(keys), base, True)


def _has_edit_list(stream: VideoStream, count: int) -> bool:
    """Whether an edit list, not a loss, makes fewer frames show than the header counts."""
    if stream.duration is None or stream.time_base is None or not stream.average_rate:
        return False
    shown = round(float(stream.duration * stream.time_base * stream.average_rate))
    return shown <= count + 1


TRADE_RATES = [
    Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120)
] + [Fraction(n) for n in (12, 15, 24, 25, 30, 48, 50, 60, 90, 100, 120, 240)]  # fmt: skip
"""Frame rates that a varying one is taken to when it is near. Common practice, no source."""

NEAR_RATE = 0.015
"""Part by which a spacing may be off a trade rate's: one counted in milliseconds is, by 1 %."""


def stream_rate(index: FrameIndex, stream: VideoStream) -> tuple[Fraction, bool]:
    """Return a stream's rate in frames a second, and whether its frames come unevenly.

    Uneven ones have the rate of their commonest spacing.

    Args:
        index: of its frames.
        stream: of an open container.

    Raises:
        MediaError: they lie too far apart to be footage.
    """
    said = [Fraction(r) for r in (stream.average_rate, stream.guessed_rate) if r]
    if not index.timed or index.frames < 3:
        return (said or [Fraction(25)])[0], False
    for rate in said:
        if _is_even(index, rate):
            return rate, False
    spacing = float(np.median(np.diff(index.times)) * index.time_base)
    near = min(TRADE_RATES, key=lambda rate: abs(float(rate) * spacing - 1))
    if abs(float(near) * spacing - 1) > NEAR_RATE:
        near = Fraction(1 / spacing).limit_denominator(1001)
    if near == 0:
        raise MediaError(f"its times are absurd: its frames lie {spacing:.0f} s apart")
    return near, not _is_even(index, near)


def _numbers(index: FrameIndex, rate: Fraction) -> NDArray[np.float64]:
    """Return times in frames of `rate` from the first frame."""
    return np.asarray((index.times - index.times[0]) * float(index.time_base * rate))


def _is_even(index: FrameIndex, rate: Fraction) -> bool:
    return bool(np.all(np.rint(_numbers(index, rate)) == np.arange(index.frames)))


def shown_frames(index: FrameIndex, rate: Fraction) -> NDArray[np.int64]:
    """Return, for each frame of a clip at a constant `rate`, the stream's frame shown then.

    It is the one on screen at the middle of the frame's time, so frames drop out or stand longer
    and none is early or late by more than half a frame.

    Args:
        index: of the stream's frames.
        rate: frames a second of the clip.

    Raises:
        MediaError: the clip would have absurdly many frames.
    """
    if not index.timed or _is_even(index, rate):
        return np.arange(index.frames)
    numbers = _numbers(index, rate)
    last = float(np.median(np.diff(numbers))) if index.frames > 1 else 1.0
    count = max(1, round(numbers[-1] + last))
    if count > MAX_STRETCH * (index.frames + 1000):
        raise MediaError(
            f"its times are absurd: {index.frames} frames over {float(count / rate):.0f} s"
        )
    middles = np.arange(count) + 0.5
    return np.maximum(np.searchsorted(numbers, middles, side="right") - 1, 0)


MAX_STRETCH = 1000
"""Frames that one of the stream may stand for on average."""
