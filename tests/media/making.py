"""Clips with whatever a camera may do to them, made frame by frame."""

from fractions import Fraction
from itertools import islice

import av
import numpy as np

from yearning.core.picture import Size

SMALL = Size(192, 112)


def write_clip(
    path, frames, *, codec="libx264", pixel_format="yuv420p", rate=Fraction(25), times=None,
    time_base=None, options=None, tags=None, aspect=None, turn=None, timecode=None,
):  # fmt: skip
    """Encode `frames`, functions or arrays of one PyAV format; `times` in the time base."""
    with av.open(str(path), "w") as out:
        if timecode:
            out.metadata["timecode"] = timecode
        stream = out.add_stream(codec, rate=rate)
        context = stream.codec_context
        context.width, context.height = frames[0].width, frames[0].height
        context.pix_fmt = pixel_format
        context.options = options or {}
        if time_base:
            context.time_base = time_base
        if aspect:
            context.sample_aspect_ratio = aspect
        if tags:
            context.color_primaries, context.color_trc, context.colorspace = tags
            context.color_range = 1
        if turn:
            stream.set_display_rotation(turn)
        for n, frame in enumerate(frames):
            frame.pts = times[n] if times else n
            frame.time_base = time_base or 1 / rate
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def yuv_frame(codes, pixel_format="yuv420p", size=SMALL):
    """A frame of flat Y', CB, CR codes, or of arrays."""
    frame = av.VideoFrame(*size, pixel_format)
    for plane, code in zip(frame.planes, codes, strict=True):
        kind = np.uint8 if plane.line_size < 2 * plane.width else np.uint16
        np.frombuffer(plane, kind).reshape(plane.height, -1)[:, : plane.width] = code
    return frame


def small_copy(source, path, frames, size):
    """Encode the first frames of a clip at another size, without its sound."""
    with av.open(str(source)) as container:
        video = container.streams.video[0]
        taken = [
            frame.reformat(*size, "yuv420p") for frame in islice(container.decode(video), frames)
        ]
        return write_clip(path, taken, rate=video.average_rate, options={"crf": "14"})


def counted_frame(n, size=SMALL):
    """A frame whose luma tells its number."""
    return yuv_frame([np.uint8(20 + 4 * n), np.uint8(128), np.uint8(128)], size=size)


MOVING = Size(480, 270)
"""The size of a clip with a part that moves."""

STEP_X, STEP_Y = 4, 2
"""Pixels by which its part moves from frame to frame."""

CUT_AT = 14
"""The frame with which another shot begins."""


def moving_clip(path, frames=18):
    """A clip in which a speckled disc of 60 pixels about (120, 110) moves evenly, until a cut."""
    rng = np.random.default_rng(5)
    speckles = rng.integers(0, 2, (MOVING.height // 6, MOVING.width // 6)) * 120 + 60
    part = np.kron(speckles, np.ones((6, 6)))
    ground = np.kron(rng.integers(90, 130, (15, 27)), np.ones((18, 18)))[
        : MOVING.height, : MOVING.width
    ]
    y, x = np.mgrid[0 : MOVING.height, 0 : MOVING.width]
    made = []
    for n in range(frames):
        dx, dy = STEP_X * n, STEP_Y * n
        inside = (x - 120 - dx) ** 2 + (y - 110 - dy) ** 2 < 60**2
        luma = np.where(inside, np.roll(part, (dy, dx), (0, 1)), ground)
        if n >= CUT_AT:
            luma = 235 - 0.5 * x + 0.1 * y
        made.append(yuv_frame([luma.astype(np.uint8), 128, 128], size=MOVING))
    return write_clip(path, made, rate=Fraction(24), options={"crf": "8"})
