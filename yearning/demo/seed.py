"""Fill a project with the demo's clips, plates, music, looks and reel."""

import shutil
from pathlib import Path

from yearning.core.look.document import look_from_json
from yearning.demo import MEDIA, PLATES, SOUNDS
from yearning.library.project_reels import keep_sound, read_project_timeline
from yearning.media.decode.probe import probe_file
from yearning.store.assets import keep
from yearning.store.content_store import file_digest
from yearning.store.project import Project

LOOKS = Path(__file__).parent / "looks"
LOOK_ORDER = ("cold-quay", "marsh-mist", "lamps-at-dusk")
"""The last one is what the page opens with."""

CUT = Path(__file__).parent / "tidewater-lamps.otio"
"""Nine shots of the clips with their sound, each with the name of its look in its metadata, and
music under them."""

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
    for path in sorted(SOUNDS.iterdir()):
        place = project.incoming(path.name)
        shutil.copyfile(path, place)
        keep_sound(project, place, path.stem.replace("-", " "))
    for name in LOOK_ORDER:
        project.looks.new(look_from_json((LOOKS / f"{name}.json").read_bytes()))
    place = project.folder / "timelines" / CUT.name
    shutil.copyfile(CUT, place)
    project.reels.new(read_project_timeline(project, place).body)
