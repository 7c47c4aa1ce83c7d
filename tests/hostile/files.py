"""Files that mean no good, made by a seeded generator: sound ones gone wrong, and crafted ones.

Crafted are those that declare more than they hold, lead elsewhere, or have no end.
"""

import io
import json
import struct
import tarfile
import wave
import zipfile
import zlib
from collections.abc import Iterator
from fractions import Fraction
from itertools import count
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np

from tests.conftest import encode
from tests.hostile.timelines import crafted_timelines, mutated_timeline, sound_timeline
from tests.media.making import counted_frame, write_clip
from tests.media.mutations import mutate
from yearning.core.picture import Size
from yearning.media.stills.stills import write_still

CUBE = "LUT_3D_SIZE 2\n" + "".join(f"{r} {g} {b}\n" for b in (0, 1) for g in (0, 1) for r in (0, 1))
CLF = (
    '<ProcessList id="a" compCLFversion="3"><Range inBitDepth="32f" outBitDepth="32f">'
    "<minInValue>0</minInValue><minOutValue>0.1</minOutValue></Range></ProcessList>"
)
CDL = (
    '<ColorCorrection id="a"><SOPNode><Slope>1 1 1</Slope><Offset>0 0 0</Offset>'
    "<Power>1 1 1</Power></SOPNode></ColorCorrection>"
)
LOOK = {
    "format": "yearning-look/3",
    "name": "A",
    "steps": [
        {"id": "g", "treatment": "glow", "keys": {"spread": [{"frame": 0, "value": 20}]}},
        {"id": "n", "treatment": "grain", "mix": {"mask": [{"id": "e", "kind": "ellipse"}]}},
    ],
}
FITTING = {
    "format": "yearning-fitting/2",
    "steps": {"g": {"settings": {"spread": 30}, "keys": {"light": [{"frame": 3, "value": 0.5}]}}},
}
EDIT_LIST = """TITLE: Cut
FCM: NON-DROP FRAME

001  AX       V     C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00
* FROM CLIP NAME: a.mp4
M2   AX       048.0                00:00:00:00
002  AX       V     D    012 00:00:00:00 00:00:04:00 01:00:02:00 01:00:06:00
* TO CLIP NAME: b.mkv
003  BL       V     C        00:00:00:00 00:00:01:00 01:00:06:00 01:00:07:00
004  AX       B     W001 024 00:00:00:00 00:00:01:00 01:00:07:00 01:00:08:00
"""
TRACK = {
    "format": "yearning-track/1",
    "clip": "0" * 64,
    "size": [64, 36],
    "from": 0,
    "frames": [{"frame": n, "matrix": np.eye(3).tolist(), "sure": 1} for n in range(4)],
}


class Hostile(NamedTuple):
    """A file: what it is called, and its bytes."""

    name: str
    data: bytes


def sound_files(folder: Path) -> list[Hostile]:
    """One file of each kind that can be brought in, in order."""
    small = np.random.default_rng(1).random((3, 36, 64), np.float32)
    for name, codec, how in (
        ("a.mp4", "libx264", {"options": {"bf": "2", "g": "8"}, "frames": 12, "tone": True}),
        ("b.mkv", "ffv1", {"frames": 6}),
        ("c.webm", "libvpx-vp9", {"frames": 8}),
        ("d.avi", "mpeg4", {"frames": 8}),
    ):
        encode(folder / name, codec, **how)
    write_still(small, folder / "e.png", 8)
    write_still(small, folder / "f.tif", 16)
    write_still(small, folder / "g.exr", 16)
    cv2.imwrite(str(folder / "h.jpg"), (small * 255).astype(np.uint8).transpose(1, 2, 0))
    with wave.open(str(folder / "i.wav"), "wb") as sound:
        sound.setnchannels(1), sound.setsampwidth(2), sound.setframerate(8000)
        sound.writeframes(bytes(4000))
    with zipfile.ZipFile(folder / "j.zip", "w") as packed:
        packed.write(folder / "e.png", "e.png")
    texts = {"k.cube": CUBE, "l.clf": CLF, "m.cdl": CDL}
    texts |= {"q.otio": json.dumps(sound_timeline()), "r.edl": EDIT_LIST}
    texts["s.fitting.json"] = json.dumps(FITTING)
    texts |= {"n.look.json": json.dumps(LOOK), "o.track.json": json.dumps(TRACK)}
    for name, text in texts.items():
        (folder / name).write_text(text)
    still = (folder / "e.png").read_bytes()
    (folder / "p.%04d.png").write_bytes(_tar({f"p.{n:04}.png": still for n in range(1, 4)}))
    return [Hostile(path.name, path.read_bytes()) for path in sorted(folder.iterdir())]


def _tar(members: dict[str, bytes], **fields: object) -> bytes:
    made = io.BytesIO()
    with tarfile.open(fileobj=made, mode="w") as packed:
        for name, data in members.items():
            member = tarfile.TarInfo(name)
            member.size = len(data)
            for field, value in fields.items():
                setattr(member, field, value)
            packed.addfile(member, io.BytesIO(data))
    return made.getvalue()


def _png(width: int, height: int, *chunks: tuple[bytes, bytes], lines: int = 1) -> bytes:
    """A PNG that declares its size, and holds few lines of zeros, compressed (ISO/IEC 15948)."""
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    pixels = zlib.compress(bytes((3 * width + 1) * lines), 9)
    made = b"\x89PNG\r\n\x1a\n"
    for kind, data in ((b"IHDR", head), *chunks, (b"IDAT", pixels), (b"IEND", b"")):
        made += struct.pack(">I", len(data)) + kind + data
        made += struct.pack(">I", zlib.crc32(kind + data))
    return made


def _movie(folder: Path, name: str, **how: object) -> bytes:
    path = folder / name
    frames = how.pop("frames", None) or [counted_frame(n) for n in range(6)]
    return write_clip(path, frames, **how).read_bytes()  # type: ignore[arg-type]


def crafted_files(folder: Path, sound: dict[str, bytes]) -> Iterator[Hostile]:
    """Files of which each was made to do harm."""
    late = 1000 * 3600 * 90_000  # a thousand hours
    times = [0, 1, 2, late, late + 1, late + 3600 * 90_000]
    how = {"time_base": Fraction(1, 90_000), "times": times}
    yield Hostile("gap.mkv", _movie(folder, "gap.mkv", **how))
    yield Hostile("slow.mkv", _movie(folder, "slow.mkv", rate=Fraction(1, 100_000)))
    yield Hostile("fast.mkv", _movie(folder, "fast.mkv", rate=Fraction(100_000, 1)))
    yield Hostile("narrow.mkv", _movie(folder, "narrow.mkv", aspect=Fraction(1, 65_535)))
    yield Hostile("wide.mkv", _movie(folder, "wide.mkv", aspect=Fraction(65_535, 1)))
    for name, size in (("flat.mkv", Size(16_384, 16)), ("line.mkv", Size(2000, 2))):
        path = encode(folder / name, "ffv1", frames=2, size=size)
        yield Hostile(name, path.read_bytes())
    yield Hostile("large.png", _png(11_000, 11_000, lines=11_000))
    yield Hostile("vast.png", _png(60_000, 60_000))
    yield Hostile("flat.png", _png(16_384, 1, lines=1))
    yield Hostile("no pixels.png", _png(0, 0))
    text = b"Comment\0\0" + zlib.compress(bytes(200 << 20), 9)
    yield Hostile("long text.png", _png(64, 36, (b"zTXt", text), lines=36))
    exr = bytearray(sound["g.exr"])
    at = exr.index(b"dataWindow\0box2i\0") + len(b"dataWindow\0box2i\0") + 4
    exr[at : at + 16] = struct.pack("<4i", -(2**31), -(2**31), 2**31 - 1, 2**31 - 1)
    yield Hostile("vast.exr", bytes(exr))
    tiff = struct.pack("<2sHI", b"II", 42, 8) + struct.pack("<H", 0) + struct.pack("<I", 8)
    yield Hostile("circle.tif", tiff)
    riff = struct.pack("<4sI4s4sIHHIIHH4sI", b"RIFF", 2**32 - 1, b"WAVE", b"fmt ", 16, 1, 65535, 0,
                       0, 0, 0, b"data", 2**32 - 1)  # fmt: skip
    yield Hostile("endless.wav", riff)
    slow = struct.pack("<4sI4s4sIHHIIHH4sI", b"RIFF", 80_036, b"WAVE", b"fmt ", 16, 1, 1, 1, 2, 2,
                       16, b"data", 80_000)  # fmt: skip
    yield Hostile("a sample a second.wav", slow + bytes(80_000))
    still = sound["e.png"]
    yield Hostile("up.%04d.png", _tar({"../../up.0001.png": still}))
    yield Hostile("root.%04d.png", _tar({"/tmp/root.0001.png": still}))
    yield Hostile("link.%04d.png", _tar({"link.0001.png": b""}, type=tarfile.SYMTYPE,
                                        linkname="/etc/passwd"))  # fmt: skip
    yield Hostile("twice.%04d.png", _tar({"twice.0001.png": still}) * 2)
    yield Hostile("mixed.%04d.png", _tar({"mixed.0001.png": still, "mixed.0002.png": b"GIF89a"}))
    yield Hostile("gap.%09d.png", _tar({"gap.000000001.png": still, "gap.999999999.png": still}))
    yield Hostile("deep.cdl", b"<a>" * 100_000)
    yield Hostile("laughs.clf", b'<!DOCTYPE a [<!ENTITY a "aa"><!ENTITY b "&a;&a;">]><a>&b;</a>')
    yield Hostile("bogus.clf", b'<?xml version="1.0" encoding="bogus"?>' + CLF.encode())
    yield Hostile("vast.cube", b"LUT_3D_SIZE 999999999\n0 0 0\n")
    yield Hostile("long.cube", b"LUT_1D_SIZE 2\n" + b"0" * (2 << 20))
    yield Hostile("deep.look.json", b'{"format": "yearning-look/3", "steps": ' + b"[" * 60_000)
    for setting, value in (("spread", "1e999"), ("spread", "-" + "9" * 5000), ("light", '"²"')):
        steps = f'[{{"id": "g", "treatment": "glow", "settings": {{"{setting}": {value}}}}}]'
        text = f'{{"format": "yearning-look/3", "name": "\\u0000", "steps": {steps}}}'
        yield Hostile("numbers.look.json", text.encode())
    for name in ("../../../../etc/passwd", "/dev/zero", "/dev/stdin", "\0", "x" * 5000):
        step = {"id": "p", "treatment": "plate", "settings": {"file": name}}
        yield Hostile("leads out.look.json", json.dumps(LOOK | {"steps": [step]}).encode())
    bundle: dict[str, object] = {"id": "x", "treatment": "glow"}
    for n in range(40):
        bundle = {"id": f"b{n}", "treatment": "bundle", "settings": {"steps": [bundle]}}
    yield Hostile("bundles.look.json", json.dumps(LOOK | {"steps": [bundle]}).encode())
    far = TRACK["frames"][0] | {"matrix": [[1e300, 0, 0], [0, 1e-300, 0], [0, 0, 1]]}  # type: ignore[index]
    yield Hostile("far.track.json", json.dumps(TRACK | {"frames": [far]}).encode())
    late = TRACK["frames"][0] | {"frame": 10**12}  # type: ignore[index]
    yield Hostile("late.track.json", json.dumps(TRACK | {"frames": [late]}).encode())
    for name, text in crafted_timelines().items():
        yield Hostile(f"{name}.otio", text.encode())
    for name, data in (("nothing.mp4", b""), ("nothing.png", b""), ("nothing.cube", b"")):
        yield Hostile(name, data)


def hostile_files(folder: Path, wanted: int) -> list[Hostile]:
    """So many files: the crafted ones, then each sound one gone wrong in one way after another."""
    sound = sound_files(folder)
    made = list(crafted_files(folder, dict(sound)))
    for seed in count():
        for name, data in sound:
            if len(made) >= wanted:
                return made
            is_timeline = name.endswith(".otio")
            wrong = mutated_timeline(seed).encode() if is_timeline else mutate(data, seed)
            made.append(Hostile(name, wrong))
    raise AssertionError
