"""What looks are made of."""

import json
from typing import Annotated

import typer

from yearning.cli.options import app
from yearning.core.look.document import look_schema
from yearning.core.treatments import LEFT_OUT
from yearning.starters import starters


@app.command()
def treatments(
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """List the treatments and their settings."""
    from yearning.api.schemas.catalogue import catalogue

    known = catalogue().treatments
    for name, why in LEFT_OUT.items():
        typer.echo(f"{name} is left out: {why}", err=True)
    if as_json:
        print(json.dumps([treatment.model_dump() for treatment in known], indent=2))
        return
    for treatment in known:
        print(f"{treatment.kind} ({treatment.stage}): {treatment.summary}")
        for setting in treatment.settings:
            span = (
                ""
                if setting.soft_minimum is None
                else f" {setting.soft_minimum:g}..{setting.soft_maximum:g}"
            )
            choices = "" if not setting.choices else f" {' | '.join(map(str, setting.choices))}"
            unit = {"choice": "", "switch": "on or off", "points": "points"}.get(
                setting.unit, setting.unit
            )
            print(f"  {setting.name}: {setting.help} [{(unit + span + choices).strip()}]")


@app.command()
def schema() -> None:
    """Print the JSON Schema of look files."""
    print(json.dumps(look_schema(), indent=2))


@app.command()
def looks(
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """List the starter looks, which --look takes by their names."""
    known = starters()
    if as_json:
        found = [{"name": each.look.name, "summary": each.summary} for each in known]
        print(json.dumps(found, indent=2))
        return
    for each in known:
        print(f"{each.look.name}: {each.summary}")
