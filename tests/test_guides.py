"""The guides' code is run as a reader would: put where they say, and tested as they say."""

import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
GUIDE = (ROOT / "docs" / "adding-a-treatment.md").read_text()
BLOCKS = re.findall(r"```python\n(.*?)```", GUIDE, re.DOTALL)

RUN = """
import runpy, sys
import yearning.core.treatments as catalogue
sys.path.insert(0, sys.argv[1])
import posterize
catalogue.TREATMENTS["posterize"] = posterize.Posterize
for name, value in runpy.run_path(sys.argv[2]).items():
    if name.startswith("test_"):
        value()
        print(name)
"""


def test_the_treatment_of_the_guide_is_in_its_test_what_the_guide_says(tmp_path):
    treatment, test = BLOCKS
    (tmp_path / "posterize.py").write_text(treatment)
    (tmp_path / "check.py").write_text(test)
    words = [sys.executable, "-c", RUN, tmp_path, tmp_path / "check.py"]
    done = subprocess.run(words, capture_output=True, text=True, cwd=ROOT)
    assert done.returncode == 0, done.stderr
    assert done.stdout.split() == ["test_three_levels_are_black_middle_and_white"]


PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").rglob("*.md"))]


@pytest.mark.parametrize("page", PAGES, ids=lambda page: str(page.relative_to(ROOT)))
def test_what_a_page_refers_to_is_there(page):
    text = page.read_text()
    links = [link for link in re.findall(r"\]\(([^)#]+)\)", text) if "://" not in link]
    gone = [link for link in links if not (page.parent / link).exists()]
    named = re.findall(r"`((?:yearning|web|tests|benchmarks|docs)/[\w./-]+)`", text)
    gone += [path for path in named if not (ROOT / path).exists()]
    assert [path for path in gone if path != "yearning/core/treatments/posterize.py"] == []
