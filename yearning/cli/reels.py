"""Reels: cuts of many shots, in as timelines and out again with results."""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.interrupts import interrupts
from yearning.cli.measuring import flash_words
from yearning.cli.options import (
    CommandError,
    JsonOption,
    app,
    chosen_look,
    print_json,
)
from yearning.cli.progress import progress_of
from yearning.cli.result_options import (
    BitsOption,
    ClusterOption,
    CodecOption,
    HeightOption,
    QualityOption,
    WorkersOption,
)
from yearning.core.look.reel import Shot
from yearning.core.measure.shot_boundaries import THRESHOLD
from yearning.library.look import Look
from yearning.library.reel_measuring import reel_flashes, reel_steadiness
from yearning.library.reel_rendering import NAMES, RenderedReel, render_reel
from yearning.library.reels import NAME, NUMBER, Reel, read_reel, write_reel
from yearning.library.shot_finding import cut_clip, shot_boundaries
from yearning.media.decode.clip import open_clip
from yearning.media.encode.results import AS_FOOTAGE
from yearning.media.timecode import Timecode

MAX_HANDLES = 1000


@app.command("reel")
def reel_command(
    file: Annotated[
        Path,
        typer.Argument(help="A timeline, .otio or .edl, or a reel, .json.", show_default=False),
    ],
    out: Annotated[
        Path | None,
        typer.Option(
            "-o",
            "--out",
            help="The folder of the results; or .mp4, .webm or .mkv for all in one, with sound.",
            show_default=False,
        ),
    ] = None,
    look: Annotated[
        str | None,
        typer.Option(help="A look of shots that have none: a file or a starter's name."),
    ] = None,
    media: Annotated[
        list[Path] | None,
        typer.Option(help="A folder in which media are looked for by name; also several."),
    ] = None,
    rate: Annotated[str, typer.Option(help="Frames a second of an edit list.")] = "24",
    write: Annotated[
        Path | None,
        typer.Option(help="Write the reel as a file, .json, in which shots are given looks."),
    ] = None,
    handles: Annotated[
        int, typer.Option(help="Frames more before and after a shot.", min=0, max=MAX_HANDLES)
    ] = 0,
    names: Annotated[
        str, typer.Option(help=f"Names of the results: {NUMBER}, {NAME} and an ending.")
    ] = NAMES,
    timeline: Annotated[
        str, typer.Option(help="The timeline of the results in that folder: .otio or .edl.")
    ] = "",
    flashes: Annotated[
        bool,
        typer.Option("--flashes", help="Look for flashes that can harm, also those cuts make."),
    ] = False,
    steady: Annotated[
        bool,
        typer.Option("--steady", help="Measure each shot's steadiness, and look for flashes."),
    ] = False,
    quality: QualityOption = AS_FOOTAGE.quality,
    codec: CodecOption = None,
    bits: BitsOption = None,
    height: HeightOption = None,
    workers: WorkersOption = None,
    cluster: ClusterOption = None,
    as_json: JsonOption = False,
) -> None:
    """Render a cut's shots and write it anew with the results in place; or all of it as one movie.

    Shots whose results are there as they would be made are left. Without --out it only says what
    the reel holds.
    """
    reel = read_reel(file, media=media or [], rate=_checked_rate(rate))
    for note in (*reel.notes, *reel.missing):
        typer.echo(note, err=True)
    if write is not None:
        write_reel(reel, write)
    chosen = None if look is None else chosen_look(look)

    def on_note(note: str) -> None:
        typer.echo(note, err=True)

    if flashes or steady:
        _say_measured(reel, chosen, on_note, steady, as_json)
    if out is None:
        if not flashes and not steady:
            _say(reel, as_json)
        return
    with interrupts() as interrupted, progress_of(reel.document.name) as on_frame:
        done = render_reel(
            reel,
            out,
            look=chosen,
            handles=handles,
            names=names,
            timeline=timeline or f"{file.stem.removesuffix('.reel')}.otio",
            quality=quality,  # type: ignore[arg-type]
            codec=codec,  # type: ignore[arg-type]
            bits=bits,
            height=height,
            workers=workers,
            cluster=cluster,
            on_progress=lambda done, total: on_frame(done, total=total, speed=""),
            on_note=on_note,
            stop=interrupted,
        )
    if done.frames:
        print(f"{out}: {len(reel.document.shots)} shots, {done.frames} frames")
        return
    if done.shots:
        _say_results(done, as_json)
    if done.refused:
        total = len(reel.document.shots) + len(reel.missing)
        why = "; ".join(done.refused[:5])
        raise CommandError(f"{len(done.refused)} of {total} shots not rendered: {why}")


@app.command()
def cuts(
    file: Annotated[Path, typer.Argument(help="A clip of several shots.", show_default=False)],
    out: Annotated[
        Path | None,
        typer.Option("-o", "--out", help="A reel of its shots, .json.", show_default=False),
    ] = None,
    threshold: Annotated[
        float,
        typer.Option(help="By how much a cut is more of a change than the frames beside it."),
    ] = THRESHOLD,
    as_json: JsonOption = False,
) -> None:
    """Find the cuts of a long clip, and make a reel of its shots.

    Fades and dissolves are not found; what they join stays one shot.
    """
    with open_clip(file) as clip, progress_of(file.name, clip.frames) as on_frame:
        found = shot_boundaries(clip, threshold=threshold, on_frame=on_frame)
    reel = cut_clip(file, [each.frame for each in found])
    if out is not None:
        write_reel(reel, out)
    if as_json:
        print_json({"cuts": [each._asdict() for each in found]})
        return
    rate = Fraction(*reel.document.rate)
    for each in found:
        print(f"{each.frame:7}  {Timecode(each.frame, rate, False)}  {each.jump:.2f}")
    print(f"{file.name}: {len(reel.document.shots)} shots")


def _checked_rate(rate: str) -> Fraction:
    try:
        found = Fraction(rate)
        if 1 <= found <= 1000:
            return found
    except (ValueError, ZeroDivisionError):
        pass
    raise CommandError(f"--rate {rate}: write it like 24, 25 or 30000/1001")


def _say(reel: Reel, as_json: bool) -> None:
    """What a reel holds."""
    shots = reel.document.shots
    if as_json:
        missing = list(reel.missing)
        sounds = [sound.model_dump() for sound in reel.document.sounds]
        print_json({"shots": [s.model_dump() for s in shots], "sounds": sounds, "missing": missing})
        return
    for number, shot in enumerate(shots, start=1):
        print(f"{number:4}  {_words(shot)}")
    for sound in reel.document.sounds:
        level = f", {sound.level:g} dB" if sound.level else ""
        part = f"frame {sound.at} on, {sound.frames} frames{level}"
        print(f"  under  {sound.name}: {Path(sound.media).name}, {part}")
    print(f"{reel.document.name}: {len(shots)} shots, {len(reel.missing)} without media")


def _say_measured(
    reel: Reel, look: Look | None, on_note: Callable[[str], object], steady: bool, as_json: bool
) -> None:
    measure = reel_steadiness if steady else reel_flashes
    with progress_of(reel.document.name) as on_frame:
        report = measure(
            reel,
            look=look,
            on_frame=lambda done, total: on_frame(done, total=total, speed=""),
            on_note=on_note,
        )
    if as_json:
        print_json(report)
        return
    print("passes" if report["passes"] else f"fails: {report['seconds']:.2f} s at fault")
    for fault in report["faults"]:
        shots = ", ".join(map(str, fault["shots"]))
        print(
            f"frames {fault['from']} to {fault['to']}, shots {shots}: {flash_words(fault)}, by the "
            f"{fault['by']}"
        )
    for shot in report.get("shots", ()):
        said = [f"{flag['frame']} ({flag['why']} by {flag['step']})" for flag in shot["flags"]]
        flagged = f"; not steady at {', '.join(said)}" if said else ""
        print(f"shot {shot['shot']}: {100 * shot['added_steady']:.3f} % added{flagged}")


def _words(shot: Shot) -> str:
    speed = f", {shot.speed:g} times as fast" if shot.speed != 1 else ""
    look = f", {shot.look}" if shot.look else ""
    unheard = "" if shot.heard else ", not heard"
    part = f"{shot.first} to {shot.last}{speed}{look}{unheard}"
    return f"{shot.name}: {Path(shot.media).name}, {part}"


def _say_results(done: RenderedReel, as_json: bool) -> None:
    if as_json:
        results = [
            {"shot": shot.name, "file": str(shot.file), "made": shot.made} for shot in done.shots
        ]
        print_json({"timeline": str(done.file), "results": results})
        return
    made = sum(shot.made for shot in done.shots)
    print(f"{done.file}: {made} shots rendered, {len(done.shots) - made} there already")
