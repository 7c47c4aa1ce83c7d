"""Media files gone wrong, made from sound ones by a seeded generator: run as a program, it tries
each on probe, decode and render, and prints what came of it, a line a file, after `ready`."""

import sys
import traceback
from pathlib import Path

import numpy as np

from tests.rendering import render
from yearning.core.look.document import parse_look
from yearning.media.decode.footage import Footage
from yearning.media.errors import MediaError

LOOK = parse_look(
    {
        "format": "yearning-look/3",
        "steps": [{"id": "c", "treatment": "curve", "settings": {"luma": [[0, 0.1], [1, 1]]}}],
    }
)

MAX_FRAMES = 4


def mutate(data: bytes, seed: int) -> bytes:
    """A file's bytes gone wrong in one of several ways."""
    rng = np.random.default_rng(seed)
    codes = np.frombuffer(data, np.uint8).copy()
    head = min(len(codes), 4096)
    match seed % 7:
        case 0:  # a few bits flipped anywhere
            at = rng.integers(0, len(codes), rng.integers(1, 40))
            codes[at] ^= (1 << rng.integers(0, 8, len(at))).astype(np.uint8)
        case 1:  # cut off
            codes = codes[: rng.integers(1, len(codes))]
        case 2:  # numbers in the head made absurd
            at = int(rng.integers(0, head - 4))
            codes[at : at + 4] = rng.choice([0, 0xFF, 0x7F, 0x80], 4)
        case 3:  # a stretch overwritten with noise
            at = int(rng.integers(0, len(codes)))
            part = codes[at : at + int(rng.integers(1, 2000))]
            part[:] = rng.integers(0, 256, len(part), np.uint8)
        case 4:  # a stretch missing
            at = int(rng.integers(0, len(codes)))
            codes = np.delete(codes, np.s_[at : at + int(rng.integers(1, 3000))])
        case 5:  # a stretch doubled
            at, size = int(rng.integers(0, len(codes))), int(rng.integers(1, 3000))
            codes = np.concatenate([codes[:at], codes[at : at + size], codes[at:]])
        case _:  # every byte of a field in the index set to its highest
            at = int(rng.integers(0, len(codes) - 8))
            codes[at : at + 8] = 0xFF
    return codes.tobytes()


def try_file(path: Path, folder: Path) -> str:
    """Use a file as an editor would: `used`, or the reason it was refused with."""
    out = folder / "out.mp4"
    try:
        with Footage(path) as footage:
            count = min(footage.frames, MAX_FRAMES)
            if footage.size.width * footage.size.height > 4096 * 4096:
                return "used: too large to render here"
            for frame in (footage.frames - 1, 0):
                footage.picture(frame, footage.size.with_height(min(64, footage.size.height)))
            render(footage, LOOK, out, last=count - 1)
        return "used"
    except MediaError as error:
        return f"refused: {error}"
    except Exception:
        return "broke: " + traceback.format_exc().replace("\n", " | ")
    finally:
        out.unlink(missing_ok=True)


if __name__ == "__main__":
    folder = Path(sys.argv[1])
    print("ready", flush=True)
    for name in sys.stdin:
        path = Path(name.strip())
        print(f"{path.name}\t{try_file(path, folder)}", flush=True)
