"""Packages of treatments that others might write: sound ones, broken ones, one that fails."""

import subprocess
import sys
import tempfile
from pathlib import Path

EXAMPLE = Path(__file__).parents[1] / "examples" / "treatment-package"

FAILING = """
from yearning.plugin import Treatment

class Failing(Treatment[None]):
    kind, stage, summary = "failing", "colour", "fails at frame 3"

    def prepare(self, context):
        if context.frame == 3:
            raise ZeroDivisionError("no light")

    def apply(self, band):
        band.copy_through()
"""


def package(site: Path, name: str, code: str, entry: str) -> None:
    """A package with one treatment, as an installer leaves it."""
    (site / f"{name}.py").write_text(code)
    info = site / f"{name}-1.0.dist-info"
    info.mkdir()
    (info / "METADATA").write_text(f"Metadata-Version: 2.1\nName: {name}\nVersion: 1.0\n")
    (info / "entry_points.txt").write_text(f"[yearning.treatments]\n{entry}\n")


def packages_in(site: Path) -> Path:
    """A folder of packages: the example as it installs, some that are broken, one that fails."""
    pip = [sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--no-build-isolation"]
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder, "package")
        subprocess.run(["cp", "-r", EXAMPLE, source], check=True)
        subprocess.run([*pip, "--target", site, source], check=True)
    package(site, "broken", "import nothing_of_that_name", "odd = broken:Odd")
    package(site, "plain", "Odd = 3", "odd = plain:Odd")
    package(site, "failing", FAILING, "failing = failing:Failing")
    return site
