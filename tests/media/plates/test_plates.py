"""Plates from files: pictures with and without a matte, clips, and stand-ins that are made."""

import cv2
import numpy as np
import pytest

from tests.conftest import GLASSHOUSE, a_look, step
from yearning.core.picture import Size
from yearning.core.plates.generated_plates import GENERATED_PLATES, UGLY_FRAME
from yearning.media.decode.footage import Footage
from yearning.media.errors import MediaError
from yearning.media.plates.assets import assets_in, check_assets, forgiving_assets_in, open_plate
from yearning.media.plates.plate_writer import plate_suffix, write_generated_plate

SMALL = Size(192, 108)


def write_codes(path, codes):
    path.write_bytes(cv2.imencode(path.suffix, codes)[1].tobytes())
    return path


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
@pytest.mark.parametrize("planes", [1, 3, 4])
def test_a_picture_is_read_as_it_is_with_its_matte(kind, planes, tmp_path):
    most = np.iinfo(kind).max
    codes = np.random.default_rng(3).integers(0, most, (40, 60, planes), kind, endpoint=True)
    plate = open_plate(write_codes(tmp_path / "p.png", codes))
    assert (plate.frames, plate.size, plate.rate) == (1, Size(60, 40), None)
    found = plate.picture(0, plate.size)
    for n in range(3):
        wanted = codes[..., 2 - n if planes > 1 else 0] / most
        np.testing.assert_allclose(found[n], wanted, atol=1e-6)
    matte = plate.matte(0, plate.size)
    if planes == 4:
        np.testing.assert_allclose(matte, codes[..., 3] / most, atol=1e-6)
    else:
        assert matte is None
    half, cover = plate.picture(0, Size(30, 20)), np.ones((40, 60)) if matte is None else matte
    seen, whole = (
        (part * cover).reshape(3, 20, 2, 30, 2).mean(axis=(2, 4))
        for part in (found, np.ones_like(found))
    )
    np.testing.assert_allclose(half, seen / whole, atol=1e-5)


def test_a_picture_that_is_clear_nowhere_has_no_matte(tmp_path):
    codes = np.full((8, 8, 4), 255, np.uint8)
    assert open_plate(write_codes(tmp_path / "p.png", codes)).matte(0, Size(8, 8)) is None


def test_a_clip_is_a_plate_with_its_frames():
    plate = open_plate(GLASSHOUSE)
    size = plate.size.with_height(108)
    with Footage(GLASSHOUSE) as footage:
        assert (plate.frames, plate.rate) == (footage.frames, 24.0)
        np.testing.assert_array_equal(plate.picture(17, size), footage.picture(17, size))


def test_a_changed_file_is_read_anew(tmp_path):
    path = write_codes(tmp_path / "p.png", np.zeros((8, 8, 3), np.uint8))
    assert open_plate(path).picture(0, Size(8, 8)).max() == 0
    write_codes(path, np.full((9, 9, 3), 255, np.uint8))
    assert open_plate(path).picture(0, Size(9, 9)).min() == 1


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("gone.png", None, "can't be read"),
        ("broken.png", b"\x89PNG nothing", "is no picture that can be read"),
        ("empty.png", b"", "is no picture that can be read"),
        ("broken.mp4", b"nothing at all", "broken.mp4"),
        ("../other.png", b"", "leads out of"),
    ],
)
def test_a_plate_that_can_t_be_used_is_said_by_step_and_the_rest_can_be_looked_at(
    name, data, says, tmp_path
):
    folder = tmp_path / "looks"
    folder.mkdir()
    if data is not None:
        (folder / name).resolve().write_bytes(data)
    look = a_look({"id": "tone", "treatment": "tone"}, step("plate", {"file": name}))
    with pytest.raises(MediaError, match=rf"steps\[1\]\.settings\.file: .*{says}"):
        check_assets(look, folder)
    if says != "leads out of":
        assert forgiving_assets_in(folder).plate(name).frames == 0


def test_a_plate_of_which_all_is_skipped_is_not_rendered(tmp_path):
    write_codes(tmp_path / "p.png", np.zeros((8, 8, 3), np.uint8))
    look = a_look(step("plate", {"file": "p.png", "exclude": [[0, 5]]}))
    with pytest.raises(MediaError, match=r"steps\[0\].*all of its frames are left out"):
        check_assets(look, tmp_path)


@pytest.mark.parametrize("kind", GENERATED_PLATES)
def test_a_stand_in_is_a_plate_of_the_size_asked_for(kind, tmp_path):
    path = tmp_path / f"plate{plate_suffix(kind)}"
    on_frame = []
    write_generated_plate(
        kind, path, 3, SMALL, on_frame=lambda done, of: on_frame.append((done, of))
    )
    plate = assets_in(tmp_path).plate(path.name)
    assert (plate.frames, plate.size) == (GENERATED_PLATES[kind].frames, SMALL)
    shown = UGLY_FRAME if plate.frames > UGLY_FRAME else plate.frames // 2
    seen, made = plate.picture(shown, SMALL), GENERATED_PLATES[kind].picture(3, shown, SMALL)
    assert np.sqrt(np.mean((seen - np.clip(made, 0, 1)) ** 2)) < 0.03
    if plate.frames > 1:
        assert on_frame[-1] == (plate.frames, plate.frames)
    assert np.abs(made - GENERATED_PLATES[kind].picture(4, shown, SMALL)).max() > 0.01


def test_the_dust_loop_has_one_ugly_scratch_at_a_known_place():
    lit = [GENERATED_PLATES["dust and hairs"].picture(7, n, SMALL)[1] > 0.4 for n in range(72)]
    across = [np.ptp(np.flatnonzero(frame.any(axis=0))) if frame.any() else 0 for frame in lit]
    covered = np.array([frame.mean() for frame in lit])
    assert int(np.argmax(covered)) == UGLY_FRAME
    assert across[UGLY_FRAME] > 0.6 * SMALL.width
    assert covered[UGLY_FRAME] > 3 * np.delete(covered, UGLY_FRAME).max()


def test_the_film_border_is_clear_in_its_opening_and_holes_alone():
    matte = GENERATED_PLATES["film border"].matte(3, Size(960, 540))
    assert matte[100:440, 120:840].max() < 0.01
    assert matte[:, 60:75].min() > 0.9  # between holes and opening
    column = matte[:, 34] < 0.5
    assert np.count_nonzero(np.diff(column.astype(int)) == 1) == 4


@pytest.mark.parametrize(
    ("kind", "name", "size", "says"),
    [
        ("fog", "a.mp4", SMALL, "'fog' is no kind of plate; known are grain field"),
        ("paper", "a.mp4", SMALL, "a plate of 'paper' is written as .png"),
        ("scratches", "a.mp4", Size(4, 4), "a plate has 16 to 8192 pixels a side"),
    ],
)
def test_what_can_t_be_made_is_said(kind, name, size, says, tmp_path):
    with pytest.raises(MediaError, match=says):
        write_generated_plate(kind, tmp_path / name, 1, size)
    assert list(tmp_path.iterdir()) == []
