"""Render a folder's clips with one look: `python examples/folder.py FOLDER LOOK OUT_FOLDER`.

LOOK is a look file, or a starter look's name. A clip that can't be used does not keep the others
from their turn; what was rendered before is not rendered again.
"""

import sys
from pathlib import Path

from rich.progress import Progress

import yearning as yn


def render(file: Path, given: str, result: Path, bars: Progress) -> None:
    """Render one clip, with a bar of its own.

    Args:
        file: the clip.
        given: a look file, or the name of a starter look.
        result: the movie to be written.
        bars: gets the bar.
    """
    bar = bars.add_task(file.name, total=None)
    with yn.open_clip(file) as clip:
        look = yn.read_look(given) if Path(given).exists() else yn.starter(given, clip)
        yn.render(
            clip,
            look,
            result,
            on_progress=lambda now: bars.update(bar, completed=now.done, total=now.total),
        )


folder, given, out = Path(sys.argv[1]), sys.argv[2], Path(sys.argv[3])
out.mkdir(parents=True, exist_ok=True)
with Progress() as bars:
    for file in sorted(folder.iterdir()):
        result = out / f"{file.stem}.mp4"
        if file.is_file() and not result.exists():
            try:
                render(file, given, result, bars)
            except yn.YearningError as error:
                bars.console.print(f"{file.name}: {error}")
