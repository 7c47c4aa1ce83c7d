"""Footage and looks the tests share. Clips are made here, by the encoders they stand for."""

import os
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from functools import partial
from pathlib import Path
from typing import Any

import av
import hypothesis
import numpy as np
import pytest
from numpy.typing import NDArray

from tests.scheduling import pytest_collection_modifyitems as pytest_collection_modifyitems
from tests.scheduling import pytest_terminal_summary as pytest_terminal_summary
from tests.scheduling import pytest_xdist_make_scheduler as pytest_xdist_make_scheduler
from yearning.core.colour.tables import Lut, Matrix, PreparedTable
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.image.filters import area_resized
from yearning.core.look.document import Look, parse_look
from yearning.core.motion.tracks import Track
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scanned_grain import PAIRS, ScannedGrain
from yearning.core.picture import Picture, Size
from yearning.core.treatment.assets import Assets
from yearning.core.treatment.capabilities import is_lively
from yearning.core.treatments import TREATMENTS
from yearning.demo import MEDIA
from yearning.farm.cluster import Cluster
from yearning.media.codecs import steady_x264
from yearning.testing import lamps as lamps

hypothesis.settings.register_profile(
    "any machine", deadline=None, suppress_health_check=[hypothesis.HealthCheck.too_slow]
)
hypothesis.settings.load_profile("any machine")  # one that does much else is slow now and then


@pytest.fixture(autouse=True)
def shares_the_machine() -> Iterator[None]:
    """An encoder begun by root may leave real-time priority, which all that is started later has:
    browsers and servers of other tests would stand still."""
    yield
    assert os.sched_getscheduler(0) == os.SCHED_OTHER


@pytest.fixture(scope="session", autouse=True)
def workers_in_this_process() -> Iterator[None]:
    """Commands and servers within a test have threads for workers, as processes take seconds to
    start. Tests of the farm start those themselves, and whole programs have them."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("yearning.farm.cluster.Cluster", partial(Cluster, processes=False))
        yield


@pytest.fixture(scope="session")
def browser() -> Iterator[Any]:
    """Debian's Chromium, one for all tests of a process: Playwright runs once in each."""
    from tests.ui.serving import browsing

    with browsing() as started:
        yield started


BARGE = MEDIA / "lantern-barge.mp4"
GLASSHOUSE = MEDIA / "glasshouse.mp4"
SIGNAL_TOWER = MEDIA / "signal-tower.mp4"

THREE_STEPS = [
    {"id": "g", "treatment": "glow"},
    {"id": "c", "treatment": "curve", "settings": {"luma": [[0, 0.06], [0.25, 0.22], [1, 1]]}},
    {"id": "n", "treatment": "grain"},
]


def a_look(*steps: dict[str, Any]) -> Look:
    """A look of the steps given."""
    return parse_look({"format": "yearning-look/3", "name": "Test", "steps": list(steps)})


def step(kind: str, settings: dict[str, Any] | None = None, **mix: Any) -> dict[str, Any]:
    """A step of a treatment."""
    return {"id": kind, "treatment": kind, "settings": settings or {}, "mix": mix}


def another_value(kind: str, name: str) -> Any:
    """Another value of a setting than its default."""
    field = TREATMENTS[kind].model_fields[name]
    extra: Any = field.json_schema_extra
    low, high = extra.get("soft_minimum"), extra.get("soft_maximum")
    match extra["unit"]:
        case "choice":
            choices = TREATMENTS[kind].model_json_schema()["properties"][name]["enum"]
            return next(c for c in choices if c != field.default)
        case "switch":
            return not field.default
        case "points":
            return [[0, 0.1], [0.5, 0.4], [1, 1]]
        case "tones":
            return [[0.2, 0.1], [0.9, 0.7]]
        case "ramp":
            return [[0, "#204060"], [1, "#ffffff"]]
        case "colour":
            return "#402090"
        case "file":
            return "inverse.cube"
        case "frames" | "seed":
            return field.default + 1
        case "place":
            return [0.3, 0.7]
        case "plate":
            return "spots.mp4"
        case "grain":
            return "scanned.grain"
        case "track":
            return "drifting.json"
        case "spans":
            return [[0, 2]]
        case "frame":
            return 3
        case "tints":
            return ["#ff0080", "#008040", "#007f3f"]
        case "blocks":
            return [{"left": 0.2, "top": 0.3, "width": 0.4, "height": 0.3, "throw": 160}]
        case "lobes":
            return [PLACED_LOBE, PLACED_LOBE | {"from_edge": "bottom right"}]
        case "marks":
            return ["gate hair 0"]
        case "channels" | "bands":
            return [*field.default[:-1], high]
        case _:
            far = high if field.default < (low + high) / 2 else low
            return far if far not in (0, 1) else 0.75 * far + 0.25 * field.default


PLACED_LOBE = {"from_edge": "top", "position": 0.4, "reach": 0.6, "width": 0.3, "light": 1}

SEEN_WITH: dict[tuple[str, str], dict[str, Any]] = {
    ("balance", "mode"): {"mids_lightness": 0.5},
    ("sharpen", "strength"): {"radius": 20},
    ("sharpen", "floor"): {"radius": 20},
    ("dust", "removed"): {"gate_hair": 1},
    ("plate", "first"): {"loop": "repeat"},
    ("plate", "exclude"): {"loop": "repeat"},
    ("plate", "seam"): {"speed": 6},
    ("plate", "seed"): {"loop": "shuffle"},
    ("plate", "loop"): {"speed": 6},
    ("halftone", "dot"): {"pitch": 40},
    ("halftone", "softness"): {"pitch": 40},
    ("halftone", "roughness"): {"pitch": 40},
    ("lines", "softness"): {"pitch": 40},
    ("lines", "roll"): {"pitch": 40},
    ("dust", "polarity"): {"specks": 2000},
    ("dust", "size"): {"specks": 2000},
    ("dust", "brightness"): {"specks": 2000},
    ("dust", "softness"): {"specks": 2000},
    ("dust", "strength"): {"specks": 2000},
    ("leak", "lobes"): {"placed": [PLACED_LOBE]},
    ("levels", "keep_beyond"): {"black": 0.3},
    ("crop", "align"): {"place": [0.4, 0.5]},
    ("letterbox", "align"): {"place": [0.5, 0.4]},
    ("grain", "scan_size"): {"scan": "scanned.grain"},
    ("grain", "scan_strength"): {"scan": "scanned.grain"},
    ("plate", "align"): {"scale": 0.5, "place": [0.3, 0.3]},
}
"""What must stand for a setting's effect to be seen on small pictures."""


def with_asset(kind: str) -> dict[str, Any]:
    """Settings under which a treatment that needs a file has an effect."""
    return {"table": {"file": "inverse.cube"}, "plate": {"file": "spots.mp4"}}.get(kind, {})


def lively(kind: str) -> bool:
    """Whether a treatment changes from frame to frame by intent, at its defaults."""
    return is_lively(TREATMENTS[kind](**with_asset(kind)))


def changed_settings(kind: str) -> Iterator[tuple[str, Any, dict[str, Any]]]:
    """Each setting of a treatment with another value, and what else must stand for it to count."""
    for name, field in TREATMENTS[kind].model_fields.items():
        extra: Any = field.json_schema_extra
        others = {key: values[0] for key, values in extra.get("visible_if", {}).items()}
        if other := extra.get("enabled_by"):
            others[other] = another_value(kind, other)
        others |= SEEN_WITH.get((kind, name), {})
        if kind == "plate" and name != "file":
            others["file"] = "spots.mp4"
        yield name, another_value(kind, name), others


def inverse(name: str) -> PreparedTable:
    """Finds one look-up table under every name: black for white."""
    turned = Matrix(-np.eye(3, dtype=np.float32), np.ones(3, np.float32))
    return PreparedTable(Lut(name, (turned,)))


class Spots:
    """A plate: some frames of bright spots on black, clear along its right edge."""

    frames = 24
    size = Size(120, 80)
    was_premultiplied = False

    def picture(self, frame: int, size: Size) -> Picture:
        rng = np.random.default_rng(frame)
        light = 0.1 + 0.8 * rng.random((3, 8, 12)).astype(np.float32)
        whole = np.repeat(np.repeat(light, 10, axis=1), 10, axis=2)
        return area_resized(whole, size)

    def matte(self, frame: int, size: Size) -> Any:
        clear = np.ones((3, self.size.height, self.size.width), np.float32)
        clear[..., 110:] = 0
        return area_resized(clear, size)[0]


def drifting(name: str) -> Track:
    """Finds one track under every name: a part that slowly moves, turns and comes nearer."""
    frames = []
    for n in range(8):
        c, s = 1.01**n * np.cos(0.012 * n), 1.01**n * np.sin(0.012 * n)
        rows = ((c, -s, 0.004 * n * 1920), (s, c, 0.006 * n * 1080), (0.0, 0.0, 1.0))
        frames.append({"frame": n, "matrix": rows})
    return Track.model_validate({"size": (1920, 1080), "from": 0, "frames": frames})


SCANNED = ScannedGrain.model_validate(
    {
        "lines": 1080,
        "tones": [
            {"luma": 0.1, "rms": [0.02, 0.025, 0.03]},
            {"luma": 0.6, "rms": [0.04, 0.03, 0.05]},
        ],
        "correlation": {
            pair: [[0.1, 0.3, 0.1], [0.4, 1.0 if a == b else 0.5, 0.4], [0.1, 0.3, 0.1]]
            for pair, (a, b) in PAIRS.items()
        },
    }
)

GRAIN = PreparedGrain(SCANNED)

ASSETS = Assets(inverse, lambda name: Spots(), drifting, lambda name: GRAIN)
"""One table, one plate, one track and one grain under every name."""


class RecordingClip(ArrayClip):
    """Pictures in memory as footage that notes which frames are asked for."""

    def __init__(self, pictures: list[Picture], id: str = "pictures") -> None:
        super().__init__(pictures, id)
        self.asked: list[int] = []

    def picture(self, frame: int, size: Size) -> Picture:
        self.asked.append(frame)
        return super().picture(frame, size)

    def rows(self, frame: int) -> Callable[[int, int], Picture]:
        self.asked.append(frame)
        return super().rows(frame)


def with_hues(picture: Picture) -> Picture:
    """The picture with every hue, from pale to full, along its lowest third."""
    height, width = picture.shape[1:]
    rows = height // 3
    hue = np.linspace(0, 6, width, endpoint=False)
    away = np.abs((hue - np.array([[0], [2], [4]]) + 3) % 6 - 3)
    pure = np.clip(2 - away, 0, 1)[:, None]
    full = np.linspace(0.2, 1, rows)[:, None]
    out = picture.copy()
    out[:, height - rows :] = 0.15 + 0.7 * (full * pure + (1 - full) * 0.5)
    return out


def moving_codes(size: Size, n: int, top: int = 255) -> NDArray[Any]:
    """Luma codes that tell every frame from every other: a drifting texture and a counter."""
    y, x = np.mgrid[0 : size.height, 0 : size.width]
    wave = np.sin((x + 5 * n) / 9.0) + np.cos((y - 3 * n) / 7.0)
    codes = (wave + 2) / 4 * 0.7 * top + 0.1 * top
    for bit in range(8):
        codes[:16, 16 * bit : 16 * bit + 12] = 0.9 * top if n >> bit & 1 else 0.1 * top
    return codes.astype(np.uint8 if top < 256 else np.uint16)


def encode(
    path: Path,
    codec: str,
    *,
    frames: int = 40,
    size: Size = Size(192, 112),
    pixel_format: str = "yuv420p",
    options: dict[str, str] | None = None,
    tone: bool = False,
    tag: int | None = None,
    rate: int = 25,
) -> Path:
    """Encode a moving clip; with a tone, if asked; `tag` is the H.273 matrix."""
    bits = 10 if "10" in pixel_format else 8
    with av.open(str(path), "w") as out:
        video = out.add_stream(codec, rate=rate)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = *size, pixel_format
        context.options = options or {}
        if tag is not None:
            context.colorspace = tag
        audio = out.add_stream("aac", rate=48000, layout="mono") if tone else None
        for n in range(frames):
            frame = av.VideoFrame(*size, pixel_format)
            for i, plane in enumerate(frame.planes):
                kind = np.uint8 if bits == 8 else np.uint16
                lines = np.frombuffer(plane, kind).reshape(plane.height, -1)
                shape = Size(plane.width, plane.height)
                top = (1 << bits) - 1
                codes = moving_codes(shape, n, top) if i == 0 else 0
                lines[:, : plane.width] = codes if i == 0 else (1 << (bits - 1)) + 10 * i + n % 16
            frame.pts, frame.time_base = n, Fraction(1, rate)
            out.mux(video.encode(frame))
            if audio:
                wave = 0.2 * np.sin(np.arange(1920 * n, 1920 * (n + 1)) * 0.05, dtype=np.float32)
                heard = av.AudioFrame.from_ndarray(
                    wave[None].astype(np.float32), format="fltp", layout="mono"
                )
                heard.sample_rate, heard.pts = 48000, 1920 * n
                out.mux(audio.encode(heard))
        out.mux(video.encode(None))
        if audio:
            out.mux(audio.encode(None))
    return path


def encode_grey(path: Path, levels: Sequence[int], size: Size = Size(160, 90)) -> Path:
    """Encode frames of plain greys, without loss."""
    with av.open(str(path), "w") as out:
        video = out.add_stream("ffv1", rate=25)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = *size, "yuv420p"
        for n, level in enumerate(levels):
            frame = av.VideoFrame.from_ndarray(
                np.full((size.height, size.width), level, np.uint8), format="gray"
            ).reformat(format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, 25)
            out.mux(video.encode(frame))
        out.mux(video.encode(None))
    return path


@pytest.fixture(scope="session")
def clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A small H.264 clip with B-frames and sound."""
    path = tmp_path_factory.mktemp("clips") / "small.mp4"
    options = {"bf": "3", "g": "12", "preset": "fast"} | steady_x264()
    return encode(path, "libx264", options=options, tone=True, tag=1)


@pytest.fixture(scope="session")
def make_clip(tmp_path_factory: pytest.TempPathFactory) -> Callable[..., Path]:
    """Makes clips, each once a session; one name with other settings is another clip."""
    made: dict[str, Path] = {}

    def make(name: str, codec: str, **how: Any) -> Path:
        key = repr((name, codec, sorted(how.items())))
        if key not in made:
            made[key] = encode(tmp_path_factory.mktemp("made") / name, codec, **how)
        return made[key]

    return make
