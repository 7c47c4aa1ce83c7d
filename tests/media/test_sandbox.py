"""Files are tried where they can do no harm."""

import signal
import subprocess
import sys

import pytest

from yearning.media import sandbox
from yearning.media.decode.probe import probe_file
from yearning.media.errors import MediaError

HARM = {
    "a crash": "import os, signal; os.kill(os.getpid(), signal.SIGSEGV)",
    "too much memory": "x = bytearray(5 << 30)",
}


def test_a_sound_file_is_what_probing_says(clip):
    assert sandbox.probe_sandboxed(clip, "x.mp4") == probe_file(clip).as_json()


def test_a_file_that_can_not_be_used_is_refused_under_its_own_name(clip, tmp_path):
    place = tmp_path / "123456.mp4"
    place.write_bytes(clip.read_bytes()[:3000])
    with pytest.raises(MediaError, match=r"holiday\.mp4: ") as refused:
        sandbox.probe_sandboxed(place, "holiday.mp4")
    assert "123456" not in str(refused.value)


@pytest.fixture
def instead(monkeypatch):
    """Runs `code`, under the trial's own limits, where the file would be read."""
    run = subprocess.run

    def instead(code):
        begin = "import sys; from yearning.media import sandbox; from pathlib import Path\n"
        footage = f"class Harm:\n    def __init__(self, path):\n        {code}\n"
        rest = "sandbox.open_clip = Harm; sandbox._try('clip', Path('x'))"
        words = [sys.executable, "-c", begin + footage + rest]
        monkeypatch.setattr(sandbox.subprocess, "run", lambda _, **how: run(words, **how))

    return instead


@pytest.mark.parametrize("what", HARM)
def test_a_file_that_ends_the_decoder_is_refused(what, instead, tmp_path):
    instead(HARM[what])
    with pytest.raises(MediaError, match=r"x\.mp4: it ended the decoder, or wanted more than 4 GB"):
        sandbox.probe_sandboxed(tmp_path / "x.mp4", "x.mp4")


def test_a_file_that_hangs_the_decoder_is_given_up(instead, monkeypatch, tmp_path):
    monkeypatch.setattr(sandbox, "SECONDS", 4)
    instead("import time; time.sleep(60)")
    with pytest.raises(MediaError, match="took more than 4 s"):
        sandbox.probe_sandboxed(tmp_path / "x.mp4", "x.mp4")


def test_the_limits_end_what_spins(tmp_path):
    code = (
        "from yearning.media import sandbox; from pathlib import Path\n"
        "sandbox.SECONDS = 2\n"
        "class Harm:\n    def __init__(self, path):\n        while True: pass\n"
        "sandbox.open_clip = Harm; sandbox._try('clip', Path('x'))"
    )
    done = subprocess.run([sys.executable, "-c", code], timeout=60)
    assert done.returncode in (-signal.SIGXCPU, -signal.SIGKILL)
