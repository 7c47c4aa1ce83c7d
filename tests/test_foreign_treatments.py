"""Treatments of other packages: taken as our own are, or left out with a word."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from tests.openapi import DOCUMENT
from tests.packages import EXAMPLE, packages_in

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def site(tmp_path_factory):
    """A folder of packages: the example as it installs, some that are broken, one that fails."""
    return packages_in(tmp_path_factory.mktemp("site"))


def ran(words, site=None, **how):
    place = os.environ | ({"PYTHONPATH": str(site)} if site else {})
    words = [sys.executable, "-m", *map(str, words)]
    return subprocess.run(words, capture_output=True, text=True, env=place, cwd=ROOT, **how)


def look(path, kind, **settings):
    step = {"id": "a", "treatment": kind, "settings": settings}
    path.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
    return path


def test_it_is_in_the_catalogue_and_the_schema_and_what_is_broken_is_left_out_with_a_line(site):
    listed = ran(["yearning.cli", "treatments", "--json"], site)
    (found,) = [t for t in json.loads(listed.stdout) if t["kind"] == "darkroom-glass.graduated"]
    assert found["stage"] == "glass"
    assert {s["unit"] for s in found["settings"]} > {"stops", "colour", "place", "px@1080"}
    lines = listed.stderr.splitlines()
    assert [line.partition(":")[0] for line in lines] == [
        "broken.odd is left out",
        "plain.odd is left out",
    ]
    assert "No module named 'nothing_of_that_name'" in lines[0]
    assert "darkroom-glass.graduated" in ran(["yearning.cli", "schema"], site).stdout


def test_the_api_document_stays_as_it_is_with_one_open_kind_for_them(site):
    code = "import json; from yearning.api.app import create_app; print(json.dumps(%s))"
    words = [sys.executable, "-c", code % "create_app(None).openapi()"]
    with_it = subprocess.run(
        words, capture_output=True, text=True, env=os.environ | {"PYTHONPATH": str(site)}, cwd=ROOT
    )
    assert json.loads(with_it.stdout) == DOCUMENT


def test_it_passes_its_own_tests(site):
    done = ran(["pytest", "-q", "-c", os.devnull, "-n0", EXAMPLE / "tests"], site)
    assert "4 passed" in done.stdout, done.stdout


def test_a_render_of_workers_has_it_as_a_frame_has(site, clip, tmp_path):
    file = look(tmp_path / "a.json", "darkroom-glass.graduated", stops=2)
    asked = [clip, "--look", file, "-o"]
    numbered = tmp_path / "out" / "%05d.png"
    render = ["yearning.cli", "render", *asked, numbered, "--to", 4, "--workers", 1]
    assert ran(render, site).returncode == 0
    one = tmp_path / "one.png"
    frame = ["yearning.cli", "frame", clip, 4, "--look", file, "-o", one]
    assert ran(frame, site).returncode == 0
    assert one.read_bytes() == (tmp_path / "out" / "00004.png").read_bytes()
    away = ran(frame)
    assert away.returncode == 2
    assert "'darkroom-glass', which is not installed here; install it" in away.stderr
    broken = ["yearning.cli", "frame", clip, 0, "--look", look(tmp_path / "b.json", "broken.odd")]
    assert "could not be loaded (ModuleNotFoundError" in ran([*broken, "-o", one], site).stderr


def test_one_that_fails_in_a_render_is_told_with_its_frame_and_the_other_clip_is_made(
    site, clip, make_clip, tmp_path
):
    short = make_clip("short.mp4", "libx264", frames=3)
    file = look(tmp_path / "a.json", "failing.failing")
    out = tmp_path / "{name}-out.mp4"
    render = ["yearning.cli", "render", clip, short, "--look", file, "-o", out, "--workers", 1]
    done = ran(render, site)
    assert done.returncode == 2
    assert "failing.failing failed at frame 3: ZeroDivisionError: no light" in done.stderr
    assert "1 of 2 not rendered" in done.stderr
    assert (tmp_path / "short-out.mp4").exists()
