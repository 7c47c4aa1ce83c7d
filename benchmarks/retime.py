"""Frames dropped and made again, at 1080p."""

from collections.abc import Iterator
from fractions import Fraction

import av
import numpy as np
from numpy.typing import NDArray

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import seconds
from yearning.core.motion.flow import luma_codes
from yearning.core.motion.frame_interpolation import estimate_motion, interpolate_frame
from yearning.core.picture import Picture
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage
from yearning.media.decode.retimed import FLOW_LINES
from yearning.media.quantizing import quantize

FIRST, PAIRS = 20, 8
CLIPS = ("glasshouse.mp4", "lantern-barge.mp4")
PEER = "minterpolate of libavfilter (mci)"

Codes = NDArray[np.uint8]


def _psnr(a: Codes, b: Codes) -> float:
    return float(10 * np.log10(255**2 / np.mean((a.astype(float) - b) ** 2)))


def _ours(footage: Footage, kept: list[int]) -> Iterator[Picture]:
    """The frame between each two."""
    small = footage.size.with_height(FLOW_LINES)
    codes = [luma_codes(footage.picture(frame, small)) for frame in kept]
    pictures = [footage.picture(frame).copy() for frame in kept]
    for i in range(len(kept) - 1):
        motion = estimate_motion(codes[i], codes[i + 1])
        assert motion is not None
        yield interpolate_frame(pictures[i], pictures[i + 1], motion, 0.5)


def _theirs(frames: list[Codes], rate: Fraction) -> list[Codes]:
    """What minterpolate makes of every other frame, at the full rate."""
    graph = av.filter.Graph()
    height, width = frames[0].shape[:2]
    source = graph.add(
        "buffer",
        f"video_size={width}x{height}:pix_fmt=bgr24:time_base={2 / rate}:frame_rate={rate / 2}",
    )
    chain = [
        graph.add("format", "yuv420p"),
        graph.add("minterpolate", f"fps={rate}:mi_mode=mci:scd=none"),
        graph.add("format", "bgr24"),
        graph.add("buffersink"),
    ]
    last = source
    for each in chain:
        last.link_to(each)
        last = each
    graph.configure()
    made = []
    for n, codes in enumerate(frames):
        frame = av.VideoFrame.from_ndarray(codes, "bgr24")
        frame.pts, frame.time_base = n, 2 / rate
        source.push(frame)
    source.push(None)
    while True:
        try:
            made.append(last.pull().to_ndarray())
        except (av.error.EOFError, av.error.BlockingIOError):
            return made


def _clip(name: str, pairs: int) -> Iterator[Row]:
    with Footage(MEDIA / name) as footage:
        kept = [FIRST + 2 * n for n in range(pairs + 1)]
        left_out = [quantize(footage.picture(frame + 1), 8) for frame in kept[:-1]]
        codes = [quantize(footage.picture(frame), 8) for frame in kept]
        list(_ours(footage, kept[:2]))
        made: list[Codes] = []
        ours = seconds(lambda: made.extend(quantize(p, 8) for p in _ours(footage, kept)))
        theirs: list[Codes] = []
        rate = Fraction(footage.probe.rate)
        other = seconds(lambda: theirs.extend(_theirs(codes, rate)))
    # theirs come at times of their own: each stands for the left-out frame it is nearest to
    best: dict[int, float] = {}
    for their in theirs:
        psnr, n = max((_psnr(their, frame), n) for n, frame in enumerate(left_out))
        best[n] = max(best.get(n, 0.0), psnr)
    mine = [_psnr(made[n], left_out[n]) for n in best]
    yield against(
        f"a frame of {name}", 1e3 * ours / pairs, PEER, 1e3 * other / pairs,
        target=Target("at most", 0.33, "ratio"),
    )  # fmt: skip
    yield against(
        f"PSNR of {name}", float(np.mean(mine)), PEER, float(np.mean(list(best.values()))), "dB",
        target=Target("at least", 1, "ratio"),
    )  # fmt: skip


def run(effort: Effort) -> Iterator[Row]:
    """Time and PSNR of both, on frames that were left out."""
    for name in CLIPS:
        yield from _clip(name, max(2, effort.rounds(PAIRS)))
