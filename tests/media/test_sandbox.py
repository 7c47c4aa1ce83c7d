"""Files are tried where they can do no harm."""

import os
import signal
import threading

import pytest

from yearning.media import sandbox
from yearning.media.decode.probe import probe_file
from yearning.media.errors import MediaError


def crashes(path):
    os.kill(os.getpid(), signal.SIGSEGV)


def crashes_at_the_end(path):
    threading.Timer(0.2, crashes, [path]).start()
    return "taken"


def takes_too_much_memory(path):
    return str(len(bytearray(5 << 30)))


def hangs(path):
    threading.Event().wait()


def spins(path):
    while True:
        pass


def prints_and_takes(path):
    print("a decoder's complaint")
    return f"{path} of {os.getppid()}"


def test_a_sound_file_is_what_probing_says(clip):
    assert sandbox.probe_in_sandbox(clip, "x.mp4") == probe_file(clip).as_json()


def test_a_file_that_can_not_be_used_is_refused_under_its_own_name(clip, tmp_path):
    place = tmp_path / "123456.mp4"
    place.write_bytes(clip.read_bytes()[:3000])
    with pytest.raises(MediaError, match=r"holiday\.mp4: ") as refused:
        sandbox.probe_in_sandbox(place, "holiday.mp4")
    assert "123456" not in str(refused.value)


@pytest.mark.parametrize("harm", [crashes, crashes_at_the_end, takes_too_much_memory])
def test_a_file_that_ends_the_decoder_is_refused(harm, tmp_path):
    with pytest.raises(
        MediaError, match=r"x\.mp4: it ended what reads it, or wanted more than 4 GB"
    ):
        sandbox.run_in_sandbox(harm, tmp_path / "x.mp4", "x.mp4")


def test_a_file_that_hangs_the_decoder_is_given_up(monkeypatch, tmp_path):
    monkeypatch.setattr(sandbox, "SECONDS", 4)
    with pytest.raises(MediaError, match="took more than 4 s"):
        sandbox.run_in_sandbox(hangs, tmp_path / "x.mp4", "x.mp4")


def test_the_limits_end_what_spins(tmp_path):
    ended = sandbox._processes.Process(
        target=sandbox._answer, args=(spins, tmp_path / "x.mp4", None, 2)
    )
    ended.start()
    ended.join(60)
    assert ended.exitcode in (-signal.SIGXCPU, -signal.SIGKILL)


def test_each_is_forked_off_the_one_that_has_imported(tmp_path, capfd):
    """A second costs no start of Python, and nothing is printed where the program prints."""
    one, other = (sandbox.run_in_sandbox(prints_and_takes, tmp_path / n, n) for n in ("a", "b"))
    assert one.endswith(other.split(" of ")[1])
    assert str(os.getpid()) not in one.split(" of ")[1:]
    assert capfd.readouterr().out == ""
