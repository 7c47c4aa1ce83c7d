"""Fill a project with the demo's clips, plates and looks."""

import shutil
from pathlib import Path

from yearning.core.look.document import look_from_json
from yearning.demo import MEDIA, PLATES
from yearning.media.decode.probe import probe_file
from yearning.store.assets import keep
from yearning.store.content_store import file_digest
from yearning.store.project import Project

LOOKS = Path(__file__).parent / "looks"
ORDER = ("lantern-barge", "glasshouse", "reed-walker", "signal-tower", "lamplighter")


def seed(project: Project) -> None:
    """Add what is missing; an editor's own clips and looks stay as they are."""
    if project.clips.all():
        return
    for name in ORDER:
        path = MEDIA / f"{name}.mp4"
        title = name.replace("-", " ").capitalize()
        project.clips.add(path, title, file_digest(path), probe_file(path).as_json())
    for path in sorted(PLATES.iterdir()):
        place = project.incoming(path.name)
        shutil.copyfile(path, place)
        keep(place, project.assets, path.stem.replace("-", " "))
    for path in sorted(LOOKS.glob("*.json")):
        project.looks.new(look_from_json(path.read_bytes()))
