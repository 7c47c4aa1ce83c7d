"""Media files gone wrong: no crash, no hang, a reason for each that can't be used.

`make hostile` brings some hundreds more into a server.
"""

import subprocess
import sys
import threading

import pytest

from tests.conftest import encode
from tests.media.mutations import mutate

SOURCES = {
    "mp4": ("libx264", {"options": {"bf": "2", "g": "8"}, "frames": 16, "tone": True, "tag": 1}),
    "mkv": ("ffv1", {"frames": 6}),
    "webm": ("libvpx-vp9", {"frames": 10}),
    "ts": ("mpeg2video", {"frames": 16}),
    "avi": ("mpeg4", {"frames": 16}),
}
EACH = 14
MAX_SECONDS = 20


def _verdicts(files, folder):
    """What comes of each file, in a process of their own."""
    worker = subprocess.Popen(
        [sys.executable, "-m", "tests.media.mutations", str(folder)],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    worker.stdin.write("".join(f"{path}\n" for path in files))
    worker.stdin.close()
    assert worker.stdout.readline() == "ready\n"  # however long a busy machine takes to start it
    said = []
    for path in files:
        alarm = threading.Timer(MAX_SECONDS, worker.kill)
        alarm.start()
        line = worker.stdout.readline()
        alarm.cancel()
        assert line, f"{path.name} crashed it, or took over {MAX_SECONDS} s"
        name, _, what = line.partition("\t")
        assert name == path.name
        assert what.startswith(("used", "refused: ")), what
        said.append(what)
    assert worker.wait(timeout=MAX_SECONDS) == 0
    return said


@pytest.mark.parametrize("kind", SOURCES)
def test_a_broken_file_is_used_or_refused_with_a_reason(kind, tmp_path):
    codec, how = SOURCES[kind]
    sound = encode(tmp_path / f"sound.{kind}", codec, **how).read_bytes()
    files = [tmp_path / f"{n}.{kind}" for n in range(EACH)]
    for n, path in enumerate(files):
        path.write_bytes(mutate(sound, n))
    said = _verdicts(files, tmp_path)
    refused = [what for what in said if what.startswith("refused")]
    assert 0 < len(refused) < EACH
    assert not list(tmp_path.glob("out*"))


def test_a_broken_file_does_no_harm_however_often_it_is_read(tmp_path):
    """Of FFV1: decoders that work on several frames at once spoilt memory, in one of a hundred."""
    codec, how = SOURCES["mkv"]
    path = tmp_path / "broken.mkv"
    path.write_bytes(mutate(encode(tmp_path / "sound.mkv", codec, **how).read_bytes(), 38))
    assert {what[:7] for what in _verdicts([path] * 200, tmp_path)} == {"refused"}
