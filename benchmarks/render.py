"""Whole renders at 1920x1080, through five steps.

The peers encode with the same settings. The workers' start is not counted.
"""

import json
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import av

from benchmarks.report import Effort, Row, Target, against
from yearning.core.look.document import look_from_json
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS
from yearning.farm.cluster import Cluster
from yearning.farm.job import Job
from yearning.farm.run import run as run_job
from yearning.media.codecs import CODECS
from yearning.media.decode.footage import Footage
from yearning.media.encode.results import AS_FOOTAGE

CLIP = MEDIA / "lantern-barge.mp4"
LOOK = LOOKS / "lamps-at-dusk.json"


def transcode(clip: Path, out: Path, frames: int) -> None:
    """Decode and encode a clip with the same encoder settings, nothing between.

    Args:
        clip: a file.
        out: the new one.
        frames: of it.
    """
    with av.open(str(clip)) as source, av.open(str(out), "w") as target:
        source.streams.video[0].thread_type = "AUTO"
        stream = target.add_stream("libx264", rate=24)
        context = stream.codec_context
        context.width, context.height, context.pix_fmt = 1920, 1080, "yuv420p"
        context.options = CODECS["H.264"].encoder_options(AS_FOOTAGE.quality)
        for n, frame in enumerate(source.decode(video=0)):
            if n == frames:
                break
            frame.pict_type = 0
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))


def _time_render(clip: Path, look: Path, out: Path, frames: int, workers: int) -> tuple[float, int]:
    """Render by new workers; returns frames a second and the peak memory of one, in MB.

    The workers' start is not counted: they stay for the renders that follow.
    """
    with Cluster(workers) as cluster, Footage(clip) as footage:
        job = Job.of(footage, look_from_json(look.read_bytes()), out, last=frames - 1)
        while cluster.threads() < workers:
            time.sleep(0.1)
        began = time.monotonic()
        run_job(job, out.with_suffix(".pieces"), cluster)
        seconds = time.monotonic() - began
        return frames / seconds, max(cluster.on_each(_peak))


def _peak() -> int:
    """This process's peak memory in MB; `ru_maxrss` would count its parent's, too."""
    status = Path("/proc/self/status").read_text()
    return int(status.partition("VmHWM:")[2].split()[0]) // 1024


def repeat_clip(clip: Path, out: Path, times: int) -> None:
    """Write a clip's packets several times over, without encoding.

    Args:
        clip: a file.
        out: the new one.
        times: how often.
    """
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


def _larger(clip: Path, out: Path, frames: int) -> None:
    """The clip at 3840x2160."""
    with av.open(str(clip)) as source, av.open(str(out), "w") as target:
        stream = target.add_stream("libx264", rate=24, options={"preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = 3840, 2160, "yuv420p"
        for _, frame in zip(range(frames), source.decode(video=0), strict=False):
            larger = frame.reformat(3840, 2160)
            larger.pict_type = 0
            target.mux(stream.encode(larger))
        target.mux(stream.encode(None))


FIVE_STEPS = {
    "format": "yearning-look/3",
    "name": "Five steps",
    "steps": [
        {"id": "lift", "treatment": "curve", "settings": {"luma": [[0, 0.04], [1, 1]]}},
        {"id": "glow", "treatment": "glow"},
        {"id": "warm", "treatment": "curve", "settings": {"red": [[0, 0], [0.5, 0.53], [1, 1]]}},
        {"id": "cool", "treatment": "curve", "settings": {"blue": [[0, 0.05], [1, 0.95]]}},
        {"id": "grain", "treatment": "grain"},
    ],
}


def run(effort: Effort) -> Iterator[Row]:
    """Frames a second beside those of transcodes, the use of workers, and peak memory."""
    frames = max(2, 96 // min(48, effort.divisor))
    with tempfile.TemporaryDirectory() as folder:
        out, long, large = (Path(folder) / f"{name}.mp4" for name in ("out", "long", "large"))
        bare, five = Path(folder) / "bare.mp4", Path(folder) / "five.json"
        five.write_text(json.dumps(FIVE_STEPS))
        found: dict[str, list[float]] = {"two": [], "one": [], "clip": [], "result": []}
        for _ in range(effort.rounds(3)):
            found["two"].append(_time_render(CLIP, five, out, frames, 2)[0])
            found["one"].append(_time_render(CLIP, five, out, frames, 1)[0])
            for what, source in (("clip", CLIP), ("result", out)):
                began = time.monotonic()
                transcode(source, bare, frames)
                found[what].append(frames / (time.monotonic() - began))
        rate = {what: median(rates) for what, rates in found.items()}
        for peer, what, target in (
            ("a bare transcode of the result", "result", Target("at least", 0.7, "ratio")),
            ("a bare transcode of the clip, which has no grain", "clip", None),
            ("one worker, on two frames at a time", "one", None),
        ):
            ratio = median(a / b for a, b in zip(found["two"], found[what], strict=True))
            yield against(
                "two workers", rate["two"], peer, rate[what], "frames/s", ratio, target
            )  # fmt: skip
        if effort.name != "full":
            return
        repeat_clip(CLIP, long, 3)
        short = _time_render(CLIP, LOOK, out, 48, 1)[1]
        longer = _time_render(long, LOOK, out, 480, 1)[1]
        yield against(
            "peak memory of a worker, 480 frames", longer, "48 frames", short, "MB",
            target=Target("at most", 1.05, "ratio"),
        )  # fmt: skip
        _larger(CLIP, large, 48)
        peak = _time_render(large, LOOK, out, 48, 2)[1]
        yield Row("the same at 3840x2160", peak, "MB", target=Target("at most", 2500, "found"))
