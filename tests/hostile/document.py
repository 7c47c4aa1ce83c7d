"""Requests made from the OpenAPI document, right and wrong ones, and in sequences.

`python -m tests.hostile.document [SECONDS]` starts a server and has schemathesis ask it all that
the document describes: no answer may be a failure of the server, have a status or a form that is
not documented, or take for right what the document says is wrong.
"""

import subprocess
import sys
import tempfile
from pathlib import Path

from tests.media.making import moving_clip
from tests.ui.serving import started
from yearning.store.content_store import file_digest
from yearning.store.project import Project

CONFIG = Path(__file__).parent / "schemathesis.toml"


def project_with_something(folder: Path) -> None:
    """A project of one small clip and two looks, so that numbers find something.

    One look has a step of a package that is not installed.
    """
    from yearning.core.look.document import parse_look
    from yearning.media.decode.probe import probe_file

    project, clip = Project(folder), folder.with_name("a.mp4")
    moving_clip(clip)
    project.clips.add(clip, "A", file_digest(clip), probe_file(clip).as_json())
    absent = {"id": "dust", "treatment": "film-tools.dust", "settings": {"amount": 0.5}}
    for name, steps in (("Two", [absent]), ("One", [])):
        document = {"format": "yearning-look/2", "name": name, "steps": steps}
        project.looks.new(parse_look(document, keep_absent=True))


def run(seconds: int, *words: str) -> subprocess.CompletedProcess[str]:
    """Ask a server of its own for so long; the result's return code is 0 where all was right."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "work"
        project_with_something(folder)
        process, address = started(folder, stderr=subprocess.PIPE)
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


if __name__ == "__main__":
    done = run(int(sys.argv[1]) if len(sys.argv) > 1 else 60, *sys.argv[2:])
    print(done.stdout, done.stderr)
    sys.exit(done.returncode)
