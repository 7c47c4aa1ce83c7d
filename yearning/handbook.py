"""Write the pages made from the program: of treatments, the library's names, and problems.

`python -m yearning.handbook docs`; with `--pictures` each treatment's before and after too; with
`--check` say if the pages are up to date.
"""

import sys
from pathlib import Path

import numpy as np

from yearning.api.problem_kinds import KINDS
from yearning.api.schemas.catalogue import catalogue
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import parse_look
from yearning.core.treatments import TREATMENTS
from yearning.demo import MEDIA
from yearning.figures import figures
from yearning.media.decode.clip import open_clip
from yearning.media.stills.stills import jpeg
from yearning.reference import reference

LINES, FRAME = 180, 60

STAGES = ("glass", "light", "colour", "ink & signal", "film", "gate")

AT_DUSK = (
    *("soften", "glow", "halation", "leak"),
    *("split", "slices", "lines", "static", "tape"),
    *("grain", "flurry", "vignette", "letterbox"),
)
"""Treatments shown on the lantern barge; the others on the glasshouse."""


def page() -> str:
    """The page, in Markdown."""
    said = [
        "# The treatments",
        "",
        "Made from the catalogue by `make schemas`; the pictures, before and after, by "
        "`make pictures`. Every number, colour, curve and point can be keyed, but for seeds, "
        "ratios, paces, tints, drawn blocks, and what is said of a plate's frames.",
    ]
    known = sorted(catalogue().treatments, key=lambda t: STAGES.index(t.stage))
    for treatment in known:
        said += ["", f"## {treatment.kind}", f"*{treatment.stage}*: {treatment.summary}", ""]
        if treatment.kind not in ("table", "plate"):
            said += [f"![before and after](treatments/{treatment.kind}.jpg)", ""]
        said += ["| setting | | what it does |", "|---|---|---|"]
        for setting in treatment.settings:
            span = (
                ""
                if setting.soft_minimum is None
                else f"{setting.soft_minimum:g} to {setting.soft_maximum:g}"
            )
            choices = ", ".join(map(str, setting.choices or []))
            unit = "" if setting.unit in ("choice", "switch") else setting.unit
            words = " ".join(part for part in (span, choices, unit) if part)
            said.append(f"| `{setting.name}` | {words} | {setting.help} |")
    return "\n".join(said) + "\n"


def problem_kinds() -> str:
    """The page of the API's problems, in Markdown."""
    said = [
        "# Problems",
        "",
        "Kinds of problems that [the API](api.md) answers (RFC 9457), made by `make schemas`. The "
        "type of a problem is the address of its kind.",
        "",
        "| type | status | title | |",
        "|---|---|---|---|",
    ]
    said += [f"| `{k.uri}` | {k.status} | {k.title} | {k.summary} |" for k in KINDS]
    return "\n".join(said) + "\n"


def pictures(folder: Path) -> None:
    """Before and after each treatment, side by side."""
    folder.mkdir(exist_ok=True)
    for treatment in catalogue().treatments:
        kind = treatment.kind
        if kind in ("table", "plate"):  # they need a file
            continue
        step = {"id": "a", "treatment": kind, "settings": dict(TREATMENTS[kind].shown)}
        clip = "lantern-barge" if kind in AT_DUSK else "glasshouse"
        with open_clip(MEDIA / f"{clip}.mp4") as footage:
            path = Evaluator(
                parse_look({"format": "yearning-look/3", "steps": [step]}),
                footage,
                footage.size.with_height(LINES),
                Cache(1 << 28),
            )
            both = [path.picture(FRAME, after) for after in (0, 1)]
        joined = np.ascontiguousarray(np.concatenate(both, axis=2))
        (folder / f"{kind}.jpg").write_bytes(jpeg(joined, 85))


def main(arguments: list[str]) -> int:
    """Write what is asked for, or say which pages are not up to date."""
    folder = Path(arguments[-1])
    pages = {
        folder / "treatments.md": page(),
        folder / "reference.md": reference(),
        folder / "problems.md": problem_kinds(),
    }
    if "--check" in arguments:
        stale = [str(p) for p, text in pages.items() if not p.exists() or p.read_text() != text]
        if stale:
            print(f"not up to date: {', '.join(stale)}; run make schemas", file=sys.stderr)
        return 1 if stale else 0
    for place, text in pages.items():
        place.write_text(text)
    if "--pictures" in arguments:
        pictures(folder / "treatments")
        figures(folder / "figures")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
