"""Requests made from the OpenAPI document, right and wrong ones, and in sequences.

`python -m tests.hostile.document [SECONDS]` starts a server and has schemathesis ask it all that
the document describes: no answer may be a failure of the server, have a status or a form that is
not documented, or take for right what the document says is wrong.
"""

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from tests.media.making import moving_clip
from tests.packages import packages_in
from tests.ui.serving import start_server
from yearning.store.content_store import file_digest
from yearning.store.project import Project

CONFIG = Path(__file__).parent / "schemathesis.toml"


KINDS = {"gone": "film-tools.dust", "broken": "broken.odd", "fails": "failing.failing"}
"""Treatments of other packages: not installed, not to be loaded, and one that raises."""


def project_with_something(folder: Path) -> None:
    """A project of one small clip and some looks, so that numbers find something.

    But one, the looks have each a step of another package, as it may be installed or not.
    """
    from yearning.core.look.document import parse_look
    from yearning.media.decode.probe import probe_file

    project, clip = Project(folder), folder.with_name("a.mp4")
    moving_clip(clip)
    project.clips.add(clip, "A", file_digest(clip), probe_file(clip).as_json())
    for name, kind in KINDS.items():
        steps = [{"id": "one", "treatment": kind, "settings": {}}]
        document = {"format": "yearning-look/3", "name": name, "steps": steps}
        project.looks.new(parse_look(document, keep_absent=True))
    project.looks.new(parse_look({"format": "yearning-look/3", "name": "One", "steps": []}))


def run(seconds: int, *words: str, site: Path | None = None) -> subprocess.CompletedProcess[str]:
    """Ask a server of its own for so long; the result's return code is 0 where all was right.

    Args:
        seconds: how long.
        words: for schemathesis.
        site: a folder of packages that the server has besides.
    """
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "work"
        project_with_something(folder)
        more = {} if site is None else {"env": os.environ | {"PYTHONPATH": str(site)}}
        process, address = start_server(folder, stderr=subprocess.PIPE, **more)
        try:
            done = subprocess.run(
                [
                    *(str(Path(sys.executable).with_name("st")), "--no-color"),
                    *("--config-file", str(CONFIG), "run", f"{address}/api/v1/openapi.json"),
                    *("--max-time", str(seconds), "--continue-on-failure", *words),
                ],
                capture_output=True,
                text=True,
                cwd=place,
                timeout=seconds * 3 + 300,
            )
            assert process.poll() is None, "the server ended"
            return done
        finally:
            process.terminate()
            said = process.communicate(timeout=60)[1]
            if "Traceback" in said:
                print(said[-4000:])


def main(seconds: int, *words: str) -> int:
    """Ask for so long, half of it with packages of others; 0 where all was right."""
    with tempfile.TemporaryDirectory() as folder:
        site = packages_in(Path(folder))
        done = [run(seconds // 2, *words), run(seconds // 2, *words, site=site)]
    for each in done:
        print(each.stdout, each.stderr)
    return max(each.returncode for each in done)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 60, *sys.argv[2:]))
