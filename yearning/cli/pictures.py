"""Clips, frames, tables and plates."""

from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.options import (
    Clip,
    CommandError,
    FittingOption,
    JsonOption,
    LookOption,
    ProjectOption,
    ReadOption,
    app,
    chosen_clip,
    chosen_look,
    fitted_look,
    fitting_in,
    own_reading,
    parse_reading,
    print_json,
    project_in,
)
from yearning.core.engine.baking import SIDES
from yearning.core.picture import Size
from yearning.core.plates.generated_plates import GENERATED_PLATES
from yearning.core.treatment.settings import MAX_SEED
from yearning.core.validation import is_count
from yearning.library.grains import measure_grain
from yearning.library.measuring import bake
from yearning.library.pictures import save
from yearning.media.decode.clip import open_clip
from yearning.media.plates.asset_notes import asset_notes
from yearning.media.plates.plate_writer import write_generated_plate
from yearning.media.stills.stills import STILLS, check_still_name, still_bits


@app.command()
def probe(
    file: Clip,
    read: ReadOption = None,
    project: ProjectOption = None,
    as_json: JsonOption = False,
) -> None:
    """Say what a clip is."""
    chosen = chosen_clip(file, parse_reading(read), project_in(project))
    with open_clip(chosen.path, chosen.reading) as clip:
        found = clip.probe
    if as_json:
        print_json(found.as_json())
        return
    size, coding = found.size, found.coding
    tagged = "" if found.tagged else ", guessed from its size"
    even = ", taken to that from an uneven rate" if found.variable else ""
    rate = f"{float(found.rate):g} frames/s{even}"
    print(f"{size.width}x{size.height}, {rate}, {found.frames} frames")
    print(f"{found.duration:.3f} s, {found.codec} in {found.container}")
    print(f"{found.pixel_format}, {coding.range} range, matrix {coding.matrix}{tagged}")
    if found.light != "SDR" or found.wide:
        print(f"{found.light}, {'BT.2020' if found.wide else 'BT.709'}: shown as BT.709")
    if found.fields != "progressive":
        print(f"{found.fields}: made whole")
    if found.size != found.coded and found.rotation % 180 == 0:
        print(f"stored as {found.coded.width}x{found.coded.height} of pixels that are not square")
    if found.timecode:
        print(f"timecode {found.timecode}")
    if found.rotation:
        print(f"turned by {found.rotation} degrees")
    for sound in found.sounds:
        print(f"sound: {sound.codec}, {sound.rate} Hz, {sound.channels} channels")


@app.command()
def frame(
    file: Clip,
    number: Annotated[int, typer.Argument(metavar="N", help="Frame, from 0.")],
    look: LookOption,
    out: Annotated[Path, typer.Option("-o", "--out", help=f"A still: {', '.join(STILLS)}.")],
    height: Annotated[int | None, typer.Option(help="Lines of the picture.", min=1)] = None,
    after: Annotated[str | None, typer.Option(help="The step's id after which to stop.")] = None,
    bits: Annotated[int | None, typer.Option(help="Bits a channel.")] = None,
    read: ReadOption = None,
    project: ProjectOption = None,
    fitting: FittingOption = None,
    as_json: JsonOption = False,
) -> None:
    """Write one frame of a clip through a look."""
    check_still_name(out)
    still_bits(out.suffix.lower(), bits)
    opened = project_in(project)
    if opened is not None:
        opened.check_outside(out)
    own = fitting_in(fitting)
    found = chosen_clip(file, parse_reading(read) or own_reading(own), opened)
    with open_clip(found.path, found.reading) as clip:
        chosen = fitted_look(
            chosen_look(look, clip, opened, found.fits(own)), clip, own, found.name
        )
        picture = chosen.picture(clip, number, height=height, after=after)
        for note in asset_notes(chosen.document, chosen.folder, clip, number, number):
            typer.echo(note, err=True)
    save(picture, out, bits)
    if as_json:
        lines, columns = picture.shape[1:]
        print_json({"file": str(out), "frame": number, "width": columns, "height": lines})


@app.command("bake")
def bake_command(
    look: LookOption,
    out: Annotated[Path, typer.Option("-o", "--out", help="A .cube file.")],
    side: Annotated[int, typer.Option(help=f"Points a side: {', '.join(map(str, SIDES))}.")] = 33,
    project: ProjectOption = None,
    as_json: JsonOption = False,
) -> None:
    """Bake a look that works on colours alone as a look-up table, and say how near it comes."""
    opened = project_in(project)
    if opened is not None:
        opened.check_outside(out)
    error = bake(chosen_look(look, project=opened), out, side)
    if as_json:
        print_json({"file": str(out), "side": side, "error": error})
        return
    print(f"{out.name}: {side}³ points; no channel is off by more than {100 * error:.3f} %")


@app.command("grain")
def grain_command(
    scan: Annotated[Path, typer.Argument(help="A still or a clip of even film.")],
    out: Annotated[Path, typer.Option("-o", "--out", help="A .grain file.", show_default=False)],
    as_json: JsonOption = False,
) -> None:
    """Measure the grain on a scan, so that a look's grain is like it."""
    tones = measure_grain(scan, out)
    if as_json:
        measured = [{"luma": luma, "rms": list(rms)} for luma, rms in tones]
        print_json({"file": str(out), "tones": measured})
        return
    print("luma   rms of R, G, B, in % of white")
    for luma, rms in tones:
        print(f"{luma:.3f}  " + "  ".join(f"{100 * each:.2f}" for each in rms))


LEAST_SIDE, MOST_SIDE = 16, 8192
"""Of a plate that is made, in pixels."""


@app.command()
def plate(
    kind: Annotated[
        str,
        typer.Argument(
            help=f"{', '.join(GENERATED_PLATES)}.",
            show_default=False,
        ),
    ],
    out: Annotated[Path, typer.Option("-o", "--out", help="A .mp4 file; of one picture, .png.")],
    seed: Annotated[
        int, typer.Option(help="Another seed, another plate.", min=0, max=MAX_SEED)
    ] = 1,
    size: Annotated[str, typer.Option(help="Width and height in pixels.")] = "1920x1080",
    as_json: JsonOption = False,
) -> None:
    """Make a plate for those who have none: grain, dust, a burn, a border, dirt, paper."""
    sides = size.lower().split("x")
    if len(sides) != 2 or not all(map(is_count, sides)):
        raise CommandError(f"--size {size}: write it like 1920x1080")
    width, height = map(int, sides)
    if not all(LEAST_SIDE <= side <= MOST_SIDE for side in (width, height)):
        raise CommandError(f"--size {size}: sides are {LEAST_SIDE} to {MOST_SIDE} pixels")
    write_generated_plate(kind, out, seed, Size(width, height))
    summary = GENERATED_PLATES[kind].summary
    if as_json:
        print_json({"file": str(out), "kind": kind, "seed": seed, "summary": summary})
        return
    print(f"{out}: {summary}")
