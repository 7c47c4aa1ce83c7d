"""Whole frames from interlaced ones, by libavfilter's bwdif."""

from collections.abc import Sequence
from fractions import Fraction

import av
from av.filter import Graph

from yearning.media.decode.input_overrides import Fields

PARITY = {"interlaced": "auto", "top first": "tff", "bottom first": "bff"}


def deinterlace(frames: Sequence[av.VideoFrame], which: int, fields: Fields) -> av.VideoFrame:
    """Return one of neighbouring frames made whole; the rate stays as it was.

    bwdif (Bob Weaver: w3fdif's filter, steered by yadif's decisions) reads the frame before and
    the one after, and no others, so three neighbours give what the whole clip would.

    Args:
        frames: neighbours in time.
        which: of them.
        fields: which field comes first.
    """
    # "interlaced" trusts each frame's flag: those that are whole already stay as they are
    deint = "interlaced" if fields == "interlaced" else "all"
    first = frames[0]
    graph = Graph()
    source = graph.add_buffer(
        width=first.width,
        height=first.height,
        format=first.format,
        time_base=Fraction(1),
    )
    whole = graph.add("bwdif", f"mode=send_frame:parity={PARITY[fields]}:deint={deint}")
    sink = graph.add("buffersink")
    source.link_to(whole)
    whole.link_to(sink)
    graph.configure()
    made: list[av.VideoFrame] = []
    for n, frame in enumerate(frames):
        said = frame.pts
        frame.pts = n
        source.push(frame)
        frame.pts = said
    source.push(None)
    while len(made) <= which:
        pulled = sink.pull()
        assert isinstance(pulled, av.VideoFrame)
        made.append(pulled)
    return made[which]
