"""What a clip's file holds, or its folder of stills, and whether it has changed."""

import hashlib
import os

import pytest

from yearning.store import content_store


@pytest.fixture
def stills(tmp_path):
    for n in (3, 1, 2):
        (tmp_path / f"a.{n}.png").write_bytes(bytes([n]) * 10)
    (tmp_path / "a.strip16.jpg").write_bytes(b"not a still")
    return tmp_path / "a.%d.png"


def test_a_file_is_known_by_its_bytes(tmp_path):
    path = tmp_path / "a.mp4"
    path.write_bytes(b"some bytes")
    assert content_store.files(path) == [path]
    assert content_store.file_digest(path) == hashlib.sha256(b"some bytes").hexdigest()


def test_stills_are_known_by_their_names_and_bytes(stills):
    assert [file.name for file in content_store.files(stills)] == ["a.1.png", "a.2.png", "a.3.png"]
    before = content_store.file_digest(stills)
    (stills.parent / "a.2.png").rename(stills.parent / "a.4.png")
    moved = content_store.file_digest(stills)
    (stills.parent / "a.4.png").write_bytes(b"other")
    assert len({before, moved, content_store.file_digest(stills)}) == 3


@pytest.mark.parametrize("kind", ["file", "stills"])
def test_a_clip_is_intact_while_its_bytes_are_whatever_its_times(kind, stills, tmp_path):
    path = stills
    if kind == "file":
        path = tmp_path / "a.mp4"
        path.write_bytes(b"some bytes")
    digest, stamp = content_store.file_digest(path), content_store.stamp(path)
    assert content_store.intact(path, digest, stamp)
    first = content_store.files(path)[0]
    data = first.read_bytes()
    os.utime(first, (2**32, 2**32))
    assert content_store.stamp(path) != stamp
    assert content_store.intact(path, digest, stamp)
    first.write_bytes(data[::-1] + b"!")
    assert not content_store.intact(path, digest, stamp)
    for file in content_store.files(path):
        file.unlink()
    assert not content_store.intact(path, digest, stamp)


def test_a_folder_that_is_gone_holds_nothing(tmp_path):
    assert content_store.files(tmp_path / "gone" / "a.%d.png") == []
    assert not content_store.intact(tmp_path / "gone" / "a.%d.png", "", "")
