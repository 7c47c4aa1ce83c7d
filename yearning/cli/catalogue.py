"""What looks are made of."""

import typer

from yearning.cli.options import JsonOption, ProjectOption, app, print_json, project_in
from yearning.core.look.document import Look, look_schema
from yearning.core.treatments import LEFT_OUT
from yearning.starters import starters


@app.command()
def treatments(
    as_json: JsonOption = False,
) -> None:
    """List the treatments and their settings."""
    from yearning.api.schemas.catalogue import catalogue

    known = catalogue().treatments
    for name, why in LEFT_OUT.items():
        typer.echo(f"{name} is left out: {why}", err=True)
    if as_json:
        print_json([treatment.model_dump() for treatment in known])
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
    print_json(look_schema())


@app.command()
def looks(project: ProjectOption = None, as_json: JsonOption = False) -> None:
    """List the looks that --look takes by their names: a project's, and the starter looks."""
    opened = project_in(project)
    own = [] if opened is None else opened.looks
    found = [{"name": look.name, "summary": _steps_of(look), "of": "project"} for look in own]
    found += [
        {"name": each.look.name, "summary": each.summary, "of": "starters"} for each in starters()
    ]
    if as_json:
        print_json(found)
        return
    for each in found:
        print(f"{each['name']}: {each['summary']}")


def _steps_of(look: Look) -> str:
    return ", ".join(step.treatment for step in look.steps) or "the footage as shot"
