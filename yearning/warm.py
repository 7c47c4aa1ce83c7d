"""Compile every numba kernel once, into its cache: `python -m yearning.warm`."""

import hashlib
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple, get_args

import numba
import numpy as np
from llvmlite.binding import get_host_cpu_name

from yearning.core.cache import Cache
from yearning.core.colour.conversion import Light, conversion
from yearning.core.colour.matrices import Coding
from yearning.core.colour.tables import (
    Clamp,
    Grade,
    Lut,
    Lut1D,
    Lut3D,
    Matrix,
    Part,
    apply_table,
)
from yearning.core.compositing.blend import BLENDS, mix
from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.step_weight import step_weight
from yearning.core.image.filters import gaussian
from yearning.core.image.histogram import histogram
from yearning.core.kernel_arrays import new_line
from yearning.core.look.document import STEPS, parse_look
from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.core.measure.scopes import out_of_range, vectorscope, waveform
from yearning.core.measure.steadiness import SteadinessAnalysis
from yearning.core.motion.flow import luma_codes
from yearning.core.motion.frame_interpolation import estimate_motion, interpolate_frame
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scanned_grain import PAIRS, ScannedGrain
from yearning.core.picture import Picture, Size
from yearning.core.treatment.assets import NO_ASSETS
from yearning.media.decode.planes import planes_to_picture
from yearning.media.quantizing import picture_to_planes, quantize

ROOT = Path(__file__).parent


def _ramp(size: Size) -> ArrayClip:
    """Three frames from black to white."""
    ramp = np.linspace(0, 1, 3 * size.width * size.height, dtype=np.float32)
    return ArrayClip([ramp.reshape(3, size.height, size.width)] * 3, "ramp")


class _Plate:
    """A plate without a file."""

    frames = 1
    size = Size(64, 36)
    was_premultiplied = False

    def picture(self, frame: int, size: Size) -> Picture:
        return np.full((3, size.height, size.width), 0.5, np.float32)

    def matte(self, frame: int, size: Size) -> None:
        return None


def _grain(name: str) -> PreparedGrain:
    """Grain of which no pixel is like another."""
    tone = {"luma": 0.5, "rms": (0.03, 0.03, 0.03)}
    correlation = {pair: ((float(a == b),),) for pair, (a, b) in PAIRS.items()}
    return PreparedGrain(
        ScannedGrain.model_validate({"lines": 180, "tones": (tone,), "correlation": correlation})
    )


ASSETS = NO_ASSETS._replace(plate=lambda name: _Plate(), grain=_grain)

TINTS = ("#ff0055", "#00aa55", "#005555")

VARIANTS: dict[str, list[dict[str, Any]]] = {
    "balance": [{}, {"mode": "cdl", "power": [1.2, 1, 1], "saturation": 1.2}],
    "levels": [{"gamma": 2}],
    "sharpen": [{}, {"radius": 20}],
    "soften": [{}, {"shape": "disc"}, {"radius": 1}],
    "tone": [{"contrast": 0.5}],
    "curve": [{"luma": [[0, 0.1], [1, 1]], "red": [[0, 0.1], [1, 1]]}],
    "glow": [{}, {"linear": True}, {"spread": 200}],
    "bend": [{}, {"cover": "black"}],
    "crop": [{"size": 0.5}],
    "focus": [{}, {"regrain": 0.5}],
    "halation": [{}, {"mid_warmth": 1}],
    "dust": [{"specks": 240, "hairs": 24, "blotches": 12, "scratches": 6, "gate_hair": 1}],
    "flurry": [{}, {"glint": 1}],
    "plate": [{"file": "any", "turn": 10, "curve": [[0, 0.1], [1, 1]]}],
    "leak": [{"second": 1}, {"on_pale": 0}],
    "split": [{"red_x": 8.3, "red_magnify": 0.98}, {"red_turn": 2, "tints": TINTS}],
    "slices": [{}, {"shape": "blocks"}],
    "static": [{}, {"colour": 0}],
    "tape": [{}, {"smear": 0}],
    "brush": [{}, {"temporal_smoothing": 0}],
    "halftone": [
        {"roughness": 0.5, "softness": 2, "dot": "line"},
        {"inks": "two", "pitch": 20},
        {"inks": "four", "temporal_smoothing": 0},
    ],
    "grain": [{}, {"colour": 0}, {"gauge": "free", "size": 5}, {"gauge": "scan", "scan": "any"}],
}
"""Settings that between them run all of a treatment's kernels."""


def _parts() -> list[Part]:
    """One of each kind that tables have."""
    none, all_ = np.zeros(3, np.float32), np.ones(3, np.float32)
    return [
        Lut1D(np.zeros((3, 2), np.float32), none, all_),
        Lut3D(np.zeros((2, 2, 2, 3), np.float32), none, all_),
        Matrix(np.eye(3, dtype=np.float32), none),
        Clamp(0.0, 1.0),
        Grade(all_, none, all_, 1.0, True),
    ]


class Job(NamedTuple):
    """Kernels that are compiled together, by running what uses them."""

    name: str
    """What it is for, as the page says it."""
    run: Callable[[], None]


SIZES = (Size(320, 180), Size(128, 72))
"""A picture of several bands, and one of a single band."""

WANTED_FIRST = ("glow", "curve", "grain")
"""The treatments of the demo's own look."""

WANTED_NEXT = ("balance", "tone", "soften")
"""Those of the other looks of the demo's reel."""


def jobs() -> list[Job]:
    """All kernels, those first that are wanted first: of pictures, of the demo's look, the rest."""
    kinds = list(dict.fromkeys([*WANTED_FIRST, *WANTED_NEXT, *STEPS]))
    return [
        Job("footage of 8 bits", partial(_footage, 8)),
        Job("blend modes", _blends),
        *(Job(kind, partial(_treatment, kind)) for kind in kinds[: len(WANTED_FIRST)]),
        Job("readings", _readings),
        *(Job(kind, partial(_treatment, kind)) for kind in kinds[len(WANTED_FIRST) :]),
        Job("masks", _masks),
        Job("footage of more bits", partial(_footage, 10)),
        Job("steadiness", _steadiness),
        Job("look-up tables", _tables),
        Job("slow motion", _in_betweens),
        Job("wide gamut footage", _conversions),
        Job("sound", _sound),
    ]


def _ramps() -> Iterator[tuple[Size, Picture]]:
    ramp = _ramp(SIZES[0])
    for size in SIZES:
        yield size, ramp.picture(0, size)


def _footage(bits: int) -> None:
    for size, picture in _ramps():
        for subsampling in ((2, 2), (2, 1), (1, 1)):
            coding = Coding("bt709", "limited", bits)
            planes = picture_to_planes(picture, coding, subsampling)
            for to in (size, size.with_height(size.height // 2)):
                shown = planes_to_picture(planes, coding, subsampling, to)
        for writeable in (True, False):  # a picture of its own, and one from the cache
            shown.flags.writeable = writeable
            quantize(shown, 8 if bits == 8 else 16)


def _blends() -> None:
    for _, picture in _ramps():
        weights = weight_plane(picture, 0.5, ((0.0, 0.0), (1.0, 1.0)))
        for blend in BLENDS:
            mix(picture, picture, blend, weights, picture.copy())
        gaussian(picture, 12.0)


def _treatment(kind: str) -> None:
    ramp = _ramp(SIZES[0])
    for size in SIZES:
        for settings in VARIANTS.get(kind, [{}]):
            step = {"id": "a", "treatment": kind, "settings": settings}
            look = parse_look({"format": "yearning-look/3", "steps": [step]})
            Evaluator(look, ramp, size, Cache(1 << 24), assets=ASSETS).picture(1)


def _masks() -> None:
    shapes: list[dict[str, Any]] = [
        {"id": "a", "kind": "ellipse", "size": [0.1, 0.1]},
        {"id": "b", "kind": "ellipse", "feather": 20, "join": "take away"},
        {"id": "c", "kind": "ellipse", "feather": 300, "join": "keep common"},
        {"id": "d", "kind": "wash"},
        {"id": "e", "kind": "tones"},
        {"id": "f", "kind": "hue", "of": "footage", "invert": True},
    ]
    step = {"id": "s", "treatment": "exposure", "mix": {"amount": 0.5, "mask": shapes}}
    look = parse_look({"format": "yearning-look/3", "steps": [step]})
    for size in SIZES:
        path = Evaluator(look, _ramp(SIZES[0]), size, Cache(1 << 24))
        path.picture(1)
        step_weight(path, 1, "s")


def _readings() -> None:
    for _, picture in _ramps():
        picture.flags.writeable = False  # they are of pictures from the cache
        waveform(picture, 64, 64)
        vectorscope(picture, 64)
        histogram(picture)
        out_of_range(picture)


def _steadiness() -> None:
    nothing = parse_look({"format": "yearning-look/3"})
    for _ in SteadinessAnalysis(nothing, _ramp(SIZES[0]), 24.0).run():
        pass


def _tables() -> None:
    for _, picture in _ramps():
        for part in _parts():
            apply_table(Lut("", (part,)), picture)


def _in_betweens() -> None:
    for _, picture in _ramps():
        still = estimate_motion(luma_codes(picture), luma_codes(picture))
        if still is not None:
            interpolate_frame(picture, picture, still, 0.5)


def _conversions() -> None:
    for _, picture in _ramps():
        for light in get_args(Light):
            to_bt709 = conversion(light, True)
            if to_bt709 is not None:
                to_bt709.convert(picture)


def _sound() -> None:
    onsets(spectral_flux([np.linspace(0, 1, RATE, dtype=np.float32) ** 8]))


def _sources() -> list[Path]:
    return [file for room in ("core", "media") for file in (ROOT / room).rglob("*.py")]


def _stamp() -> Path:
    """The file that says that all kernels are compiled: as the code is, for this processor."""
    held = hashlib.sha256(f"{numba.__version__} {get_host_cpu_name()}".encode())
    for file in sorted(_sources()):
        stat = file.stat()
        held.update(f"{file} {stat.st_mtime_ns} {stat.st_size}".encode())
    return Path(str(new_line.stats.cache_path)) / f"warm-{held.hexdigest()[:16]}"


def is_warm() -> bool:
    """Whether all kernels have been compiled, so that none is compiled on the way."""
    return _stamp().exists()


def warm(tell: Callable[[int, int, str], None] = lambda done, of, name: None) -> None:
    """Compile all kernels into numba's cache, telling before each job how many are done of all."""
    all_jobs = jobs()
    for done, job in enumerate(all_jobs):
        tell(done, len(all_jobs), job.name)
        job.run()
    for older in (stamp := _stamp()).parent.glob("warm-*"):
        older.unlink(missing_ok=True)
    stamp.touch()


if __name__ == "__main__":
    warm(lambda done, of, name: print(done, of, name, flush=True))
