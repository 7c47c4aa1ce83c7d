"""Make the demo's footage, music and plates: `python -m yearning.demo.make [NAME …]`."""

import sys
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import NamedTuple

import av
import numpy as np
from numpy.typing import NDArray
from rich.progress import track

from yearning.core.colour.matrices import Coding
from yearning.core.picture import Picture, Size
from yearning.demo import (
    MEDIA,
    PLATES,
    SOUNDS,
    glasshouse,
    lamplighter,
    lantern_barge,
    reed_walker,
    signal_tower,
    sound,
)
from yearning.demo.paint import HEIGHT, RATE, WIDTH
from yearning.media.encode.encoder import video_frame
from yearning.media.plates.plate_writer import plate_suffix, write_generated_plate
from yearning.media.quantizing import picture_to_planes

CODING = Coding("bt709", "limited", 8)


class Shot(NamedTuple):
    """A clip to make: its pictures, its sound, and x264's constant rate factor."""

    picture: Callable[[int], Picture]
    frames: int
    hears: Callable[[float], NDArray[np.float32]]
    crf: float


SHOTS = {
    "lantern barge": Shot(lantern_barge.picture, lantern_barge.FRAMES, sound.water_and_bell, 24),
    "glasshouse": Shot(glasshouse.picture, glasshouse.FRAMES, sound.birds_and_drips, 19),
    "reed walker": Shot(reed_walker.picture, reed_walker.FRAMES, sound.steps_and_reeds, 21),
    "lamplighter": Shot(lamplighter.picture, lamplighter.FRAMES, sound.evening_lane, 20),
    "signal tower": Shot(signal_tower.picture, signal_tower.FRAMES, sound.drum_and_horn, 23),
}


def make(name: str) -> Path:
    """Paint, hear and encode one clip; returns where it was written."""
    shot = SHOTS[name]
    path = MEDIA / f"{name.replace(' ', '-')}.mp4"
    MEDIA.mkdir(exist_ok=True)
    with av.open(str(path), "w", options={"movflags": "+faststart"}) as out:
        video = out.add_stream("libx264", rate=RATE)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        context.options = {"preset": "slower", "crf": str(shot.crf), "g": "48", "aq-mode": "3"}
        context.color_primaries = context.color_trc = context.colorspace = context.color_range = 1
        audio = out.add_stream("aac", rate=sound.SAMPLE_RATE, layout="stereo")
        audio.bit_rate = 128_000
        samples = shot.hears(shot.frames / RATE)
        per_frame = sound.SAMPLE_RATE // RATE
        for n in track(range(shot.frames), description=name):
            planes = picture_to_planes(shot.picture(n), CODING, (2, 2))
            frame = video_frame(planes, "yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, RATE)
            out.mux(video.encode(frame))
            heard = av.AudioFrame.from_ndarray(
                np.ascontiguousarray(samples[:, n * per_frame : (n + 1) * per_frame]),
                format="fltp",
                layout="stereo",
            )
            heard.sample_rate, heard.pts = sound.SAMPLE_RATE, n * per_frame
            heard.time_base = Fraction(1, sound.SAMPLE_RATE)
            out.mux(audio.encode(heard))
        out.mux(video.encode(None))
        out.mux(audio.encode(None))
    return path


MUSIC = "evening waltz"


def make_music() -> Path:
    """Write the music; returns where it was written."""
    path = SOUNDS / f"{MUSIC.replace(' ', '-')}.ogg"
    SOUNDS.mkdir(exist_ok=True)
    samples = sound.evening_waltz(len(sound.WALTZ) * sound.BAR)
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libopus", rate=sound.SAMPLE_RATE, layout="stereo")
        stream.bit_rate = 112_000
        for first in range(0, samples.shape[1], sound.SAMPLE_RATE):
            packed = samples[:, first : first + sound.SAMPLE_RATE].T.reshape(1, -1)
            heard = av.AudioFrame.from_ndarray(
                np.ascontiguousarray(packed), format="flt", layout="stereo"
            )
            heard.sample_rate, heard.pts = sound.SAMPLE_RATE, first
            heard.time_base = Fraction(1, sound.SAMPLE_RATE)
            out.mux(stream.encode(heard))
        out.mux(stream.encode(None))
    return path


PLATE_SIZES = {
    "grain field": (Size(1280, 720), 23),
    "dust and hairs": (Size(1920, 1080), 20),
    "light burn": (Size(1280, 720), 16),
    "film border": (Size(1920, 1080), 0),
    "lens dirt": (Size(1920, 1080), 0),
}
"""Of each plate: its size, and x264's constant rate factor."""


def make_plate(kind: str) -> Path:
    """Make one plate; returns where it was written."""
    size, crf = PLATE_SIZES[kind]
    PLATES.mkdir(exist_ok=True)
    path = PLATES / f"{kind.replace(' ', '-')}{plate_suffix(kind)}"
    write_generated_plate(kind, path, 7, size, crf=crf)
    return path


if __name__ == "__main__":
    for wanted in sys.argv[1:] or (*SHOTS, MUSIC, *PLATE_SIZES):
        if wanted == MUSIC:
            made = make_music()
        else:
            made = make(wanted) if wanted in SHOTS else make_plate(wanted)
        print(f"{made}: {made.stat().st_size / 1e6:.2f} MB")
