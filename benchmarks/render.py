"""Whole renders at 1080p: speed against a bare transcode, and memory against length."""

import subprocess
import sys
import tempfile
from pathlib import Path

import av

from benchmarks.timing import in_turn
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS
from yearning.media.movie import CRF, PRESET

CLIP = MEDIA / "lantern-barge.mp4"
LOOK = LOOKS / "lamps-at-dusk.json"


def transcode(out: Path, frames: int) -> None:
    """Decode and encode the clip with the same encoder settings, nothing between."""
    with av.open(str(CLIP)) as source, av.open(str(out), "w") as target:
        source.streams.video[0].thread_type = "AUTO"
        stream = target.add_stream("libx264", rate=24)
        context = stream.codec_context
        context.width, context.height, context.pix_fmt = 1920, 1080, "yuv420p"
        context.options = {"preset": PRESET, "crf": str(CRF)}
        for n, frame in enumerate(source.decode(video=0)):
            if n == frames:
                break
            frame.pict_type = 0
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))


def _render(clip: Path, out: Path, last: int) -> int:
    """Render in a process of its own; returns its peak memory in MB."""
    words = ["render", clip, "--look", LOOK, "-o", out, "--to", last]
    code = (
        "import resource, sys; from yearning.cli import main; main(sys.argv[1:]);"
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, *map(str, words)], check=True, capture_output=True, text=True
    )
    return int(done.stdout.split()[-1])


def _repeated(clip: Path, out: Path, times: int) -> None:
    """The clip's packets several times over, without encoding."""
    with av.open(str(out), "w") as target:
        stream, shift = None, 0
        for _ in range(times):
            with av.open(str(clip)) as source:
                video = source.streams.video[0]
                stream = stream or target.add_stream_from_template(video)
                for packet in source.demux(video):
                    if packet.size:
                        packet.pts += shift
                        packet.dts += shift
                        packet.stream = stream
                        target.mux(packet)
                shift += video.duration


def run() -> None:
    """Print frames a second, the ratio to a transcode, and peak memory."""
    with tempfile.TemporaryDirectory() as folder:
        out, long = Path(folder) / "out.mp4", Path(folder) / "long.mp4"
        frames = 48
        ours, bare, ratio = in_turn(
            lambda: _render(CLIP, out, frames - 1), lambda: transcode(out, frames), 3
        )
        print(f"a render of {frames} frames at 1920x1080, its process's start counted in")
        print(f"  {frames / ours:.1f} frames/s; a bare transcode {frames / bare:.1f} frames/s")
        print(f"  the render takes {1 / ratio:.2f} times the transcode's time")
        short = _render(CLIP, out, 47)
        _repeated(CLIP, long, 3)
        longer = _render(long, out, 479)
        print(f"  peak memory: {short} MB for 48 frames, {longer} MB for 480")
