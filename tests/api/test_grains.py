"""Grain that is measured on plates of the project, and looks that have it."""

import cv2
import numpy as np
import pytest

from tests.api.conftest import codes_shown, problem
from tests.conftest import SCANNED
from yearning.core.noise.scanned_grain import grain_json, parse_grain


def scan(client, base=0.5, rms=0.04):
    noise = np.random.default_rng(3).normal(base, rms, (300, 400, 3))
    codes = np.clip(np.round(65535 * noise), 0, 65535).astype(np.uint16)
    data = cv2.imencode(".png", codes)[1].tobytes()
    return client.post("/api/v1/plates", params={"name": "grey.png"}, content=data).json()["file"]


def look_with(file, **settings):
    step = {"id": "g", "treatment": "grain", "settings": {"gauge": "scan", "scan": file} | settings}
    return {"format": "yearning-look/3", "steps": [step]}


def test_grain_is_measured_on_a_plate_laid_and_given_out(client, clip_id):
    answer = client.post(f"/api/v1/plates/{scan(client)}/grain")
    assert answer.status_code == 201
    made = answer.json()
    assert (made["title"], made["lines"], len(made["tones"])) == ("grey", 300, 1)
    assert made["tones"][0]["rms"] == pytest.approx([0.04] * 3, rel=0.05)
    assert client.get("/api/v1/grains").json() == [made]
    assert made["file"] not in {plate["file"] for plate in client.get("/api/v1/plates").json()}
    file = client.get(f"/api/v1/grains/{made['file']}/file")
    assert parse_grain(file.content).tones[0].rms == tuple(made["tones"][0]["rms"])
    plain, grainy, strong = (
        codes_shown(client, clip_id, look_with(made["file"], scan_strength=strength))
        for strength in (0, 1, 3)
    )
    added = [np.std(each.astype(float) - plain) for each in (grainy, strong)]
    assert added[0] > 1
    assert 1.5 * added[0] < added[1] < 3.2 * added[0]  # both with the rounding of codes


def test_a_plate_without_even_parts_is_told(client):
    flat = scan(client, rms=0)
    assert "no grain on this scan" in problem(client.post(f"/api/v1/plates/{flat}/grain"), 422)
    problem(client.post("/api/v1/plates/gone.png/grain"), 404)


@pytest.mark.parametrize(
    ("name", "data", "why"),
    [
        ("a.grain", b"{}", "must say"),
        ("a.grain", b"\x00", "no JSON"),
        ("a.json", grain_json(SCANNED).encode(), "ends in .grain"),
    ],
)
def test_a_file_that_is_no_grain_is_told(client, name, data, why):
    answer = client.post("/api/v1/grains", params={"name": name}, content=data)
    assert why in problem(answer, 422)
    assert client.get("/api/v1/grains").json() == []


def test_a_look_whose_grain_is_gone_says_which(client, clip_id):
    ask = {"clip": clip_id, "frame": 0, "look": look_with("gone.grain"), "height": 48}
    assert "gone.grain" in problem(client.post("/api/v1/pictures", json=ask), 422)
