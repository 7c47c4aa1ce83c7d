"""`yearning grain`, and looks whose grain is what it writes."""

import json

import cv2
import numpy as np
import pytest

from tests.test_cli import run
from yearning.media.plates.assets import read_grain


@pytest.fixture
def scan(tmp_path):
    """Three patches, the lightest with the least grain."""
    rng = np.random.default_rng(2)
    columns = [0.3 + 0.04 * rng.standard_normal((384, 192, 3)),
               0.5 + 0.03 * rng.standard_normal((384, 192, 3)),
               0.7 + 0.02 * rng.standard_normal((384, 192, 3))]  # fmt: skip
    path = tmp_path / "chart.png"
    codes = np.round(65535 * np.clip(np.concatenate(columns, 1), 0, 1)).astype(np.uint16)
    cv2.imwrite(str(path), codes)
    return path


def test_grain_of_patches_is_measured_and_laid(scan, clip, tmp_path):
    out = tmp_path / "chart.grain"
    done = run("grain", scan, "-o", out, "--json")
    assert done.returncode == 0, done.stderr
    tones = json.loads(done.stdout)["tones"]
    assert [tone["luma"] for tone in tones] == pytest.approx([0.3, 0.5, 0.7], abs=0.005)
    for tone, rms in zip(tones, (0.04, 0.03, 0.02), strict=True):
        assert tone["rms"] == pytest.approx([rms] * 3, rel=0.05)
    assert read_grain(out).name == "chart"
    assert "0.500  3.0" in run("grain", scan, "-o", out).stdout
    pictures = []
    for strength in (0, 1):
        settings = {"gauge": "scan", "scan": "chart.grain", "scan_strength": strength}
        step = {"id": "g", "treatment": "grain", "settings": settings}
        look = tmp_path / "a.look.json"
        look.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
        still = tmp_path / f"{strength}.png"
        done = run("frame", clip, 0, "--look", look, "-o", still)
        assert done.returncode == 0, done.stderr
        pictures.append(cv2.imread(str(still)).astype(float))
    assert 2 < np.std(pictures[1] - pictures[0]) < 12


@pytest.mark.parametrize(
    ("name", "out", "why"),
    [
        ("chart.png", "a.json", "ends in .grain"),
        ("gone.png", "a.grain", "can't be read"),
        ("flat.png", "a.grain", "no grain on this scan"),
    ],
)
def test_what_can_t_be_measured_is_told_in_a_line(scan, tmp_path, name, out, why):
    cv2.imwrite(str(tmp_path / "flat.png"), np.full((200, 200, 3), 128, np.uint8))
    done = run("grain", tmp_path / name, "-o", tmp_path / out)
    assert done.returncode != 0
    assert why in done.stderr
    assert "Traceback" not in done.stderr
    assert not (tmp_path / out).exists()
