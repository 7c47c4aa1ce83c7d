"""What a project kept under names and hashes of `yearning-look/2`, taken over to those of now.

Looks stay as they were written; they are upgraded whenever they are read. What only a look gives a
meaning to (fittings, proof sheets), and what is found by a hash of one, is rewritten once.
"""

import json
from collections.abc import Iterator
from typing import Any

from yearning.core.errors import InvalidLookError
from yearning.core.look.document import (
    Look,
    former_steps_digest,
    look_from_json,
    steps_alone,
    steps_digest,
    walk_steps,
)
from yearning.core.look.fitting import (
    FIRST_FITTING_FORMAT,
    ClipOverrides,
    apply_fitting,
    upgrade_fitting,
)
from yearning.core.look.former_names import (
    former_steps,
    former_treatment,
    rename_setting,
    rename_steps,
    rename_value,
)
from yearning.store import reports
from yearning.store.renders import result_digest
from yearning.store.tables import Tables


def rename_fields(tables: Tables) -> None:
    """Rewrite fittings, reels, proof sheets, reports and results for the names of now."""
    _rename_fittings(tables)
    _rename_in_reels(tables)
    _rename_in_sheets(tables)
    _find_reports_again(tables)
    _find_results_again(tables)


def _look_of(body: str) -> Look | None:
    """The look in a text; None where it can't be read."""
    try:
        return look_from_json(body, keep_absent=True)
    except InvalidLookError:
        return None


def _current_look(tables: Tables, number: Any) -> Look | None:
    """The look of a number as it is now; None where there is none."""
    row = tables.Look.get_or_none(tables.Look.id == number)
    head = row and tables.Revision.get_or_none(tables.Revision.id == row.head)
    return _look_of(head.body) if head else None


def _upgrade_own(look: Look, own: dict[str, Any]) -> dict[str, Any]:
    former = ClipOverrides.model_validate({**own, "format": FIRST_FITTING_FORMAT})
    return upgrade_fitting(look, former).model_dump(mode="json", exclude_defaults=True)


def _rename_fittings(tables: Tables) -> None:
    for row in tables.Revision.select().where(tables.Revision.fittings != "{}"):
        look = _look_of(row.body)
        if look is not None:
            fittings = json.loads(row.fittings)
            row.fittings = json.dumps({c: _upgrade_own(look, own) for c, own in fittings.items()})
            row.save()


def _rename_in_reels(tables: Tables) -> None:
    for row in tables.ReelRevision.select():
        body = json.loads(row.body)
        fitted = [item for item in body.get("items", []) if item.get("fitting")]
        for item in fitted:
            look = _current_look(tables, item.get("look"))
            if look is not None:
                item["fitting"] = _upgrade_own(look, item["fitting"])
        if fitted:
            row.body = json.dumps(body)
            row.save()


SHEETS = "proof sheets of "
"""What the names of settings begin with that hold the proof sheets of a look."""


def _rename_in_sheets(tables: Tables) -> None:
    for row in tables.Setting.select().where(tables.Setting.name.startswith(SHEETS)):
        number = row.name.removeprefix(SHEETS)
        look = _current_look(tables, number)
        if look is None:
            continue
        kinds = {step.id: step.treatment for _, _, step in walk_steps(look.steps)}
        revisions = tables.Revision.select().where(tables.Revision.look == number)
        looks = [found for each in revisions if (found := _look_of(each.body)) is not None]
        digests = {former_steps_digest(each): steps_digest(each) for each in looks}
        value = json.loads(row.value)
        for sheet in value.get("kept", []):
            _rename_subject(sheet["sheet"]["subject"], kinds)
            sheet["digest"] = digests.get(sheet["digest"], sheet["digest"])
        row.value = json.dumps(value)
        row.save()


def _rename_subject(subject: dict[str, Any], kinds: dict[str, str]) -> None:
    """Rename what a sheet varies, in place."""
    for axis in ("rows", "columns"):
        if axis in subject:
            _rename_subject(subject[axis], kinds)
    if subject["kind"] in ("span", "choices"):
        treatment = former_treatment(kinds.get(subject["step"], ""))
        subject["name"] = rename_setting(treatment, subject["name"])
    if subject["kind"] == "choices":
        subject["values"] = [rename_value(subject["name"], each) for each in subject["values"]]
    if subject["kind"] == "match":
        (subject["step"],) = rename_steps([subject["step"]])


def _find_reports_again(tables: Tables) -> None:
    """Reports on steadiness are found by how a clip is read and the steps on it."""
    reported = tables.Clip.select(tables.Clip.id, tables.Clip.reading).join(tables.Steadiness)
    for clip in reported.distinct():
        reading = json.loads(clip.reading)
        for look in _looks_on(tables, clip.id):
            former = {"steps": former_steps(steps_alone(look))}
            found = tables.Steadiness.get_or_none(
                tables.Steadiness.clip == clip.id,
                tables.Steadiness.digest == reports.steps_digest(reading, former),
            )
            if found is not None:
                tables.Steadiness.replace(
                    clip=clip.id,
                    digest=reports.digest_of(reading, look),
                    report=found.report,
                    made=found.made,
                ).execute()


def _looks_on(tables: Tables, clip: int) -> Iterator[Look]:
    """Every revision of every look as it stood on a clip."""
    for row in tables.Revision.select():
        look = _look_of(row.body)
        if look is None:
            continue
        own = json.loads(row.fittings).get(str(clip))
        yield apply_fitting(look, ClipOverrides.model_validate(own)).look if own else look


def _find_results_again(tables: Tables) -> None:
    """Results of a reel's shots are found by what they were made of."""
    for row in tables.Render.select().join(tables.Clip):
        request, look = json.loads(row.request), _look_of(row.look)
        made_of = request.pop("made_of", None)
        if look is None or made_of != result_digest(row.clip.digest, json.loads(row.look), request):
            continue
        now = result_digest(row.clip.digest, look.model_dump(mode="json"), request)
        row.request = json.dumps({**request, "made_of": now})
        row.save()
