"""A client that a generator makes from the OpenAPI document is all that a program needs.

The generator is openapi-python-client, the validator openapi-spec-validator; neither knows us.
"""

import importlib
import json
import os
import subprocess
import sys
from io import BytesIO
from pathlib import Path

import av
import pytest
from jsonschema import Draft202012Validator
from openapi_spec_validator import OpenAPIV31SpecValidator

from tests.openapi import DOCUMENT
from tests.ui.serving import serving
from tests.waiting import wait_for
from yearning.api.schemas.catalogue import catalogue
from yearning.core.look.document import parse_look
from yearning.core.treatments import TREATMENTS
from yearning.starters import starters


def test_the_document_is_valid_openapi():
    OpenAPIV31SpecValidator(DOCUMENT).validate()


def test_a_step_is_a_union_by_its_treatment_with_one_open_kind():
    schemas = DOCUMENT["components"]["schemas"]
    for suffix in ("", "Input"):
        steps = [
            schemas[one["$ref"].rpartition("/")[2]] for one in schemas[f"Step{suffix}"]["oneOf"]
        ]
        kinds = [step["properties"]["treatment"] for step in steps]
        named = {kind["const"] for kind in kinds if "const" in kind}
        assert named == {*TREATMENTS, "bundle"}
        assert [kind.get("pattern") for kind in kinds if "const" not in kind] == [
            r"^[a-z][a-z0-9_-]{0,39}\.[a-z][a-z0-9_]{0,39}$"
        ]


def of_component(name):
    schema = {"$ref": f"#/components/schemas/{name}", "components": DOCUMENT["components"]}
    return Draft202012Validator(schema)


def test_looks_as_they_are_answered_and_sent_are_what_the_document_says():
    every = [{"id": kind, "treatment": kind} for kind in TREATMENTS]
    sent = {"format": "yearning-look/3", "steps": every}
    of_component("LookInput").validate(sent)
    foreign = {"id": "a", "treatment": "glass-works.haze", "settings": {"near": 3, "at": [0, 1]}}
    mixed = foreign | {"mix": {"blend": "normal", "amount": 1}, "on": True}
    of_component("Step").validate(mixed)
    wrong = {"id": "a", "treatment": "glow", "settings": {"spread": "wide"}}
    assert not of_component("StepInput").is_valid(wrong)
    answered = [parse_look(sent), *(starter.look for starter in starters())]
    for look in answered:
        of_component("Look").validate(look.model_dump(mode="json"))
    for treatment in catalogue().treatments:
        for setting in treatment.settings:
            default = setting.model_dump(mode="json")["default"]
            of_component("SettingValue").validate(default)


@pytest.fixture(scope="module")
def generated_client(tmp_path_factory):
    """The generated package, as it can be imported."""
    folder = tmp_path_factory.mktemp("generated")
    document = folder / "openapi.json"
    document.write_text(json.dumps(DOCUMENT))
    program = Path(sys.executable).parent
    made = subprocess.run(
        [
            program / "openapi-python-client",
            "generate",
            *("--path", document, "--output-path", folder / "client"),
        ],
        env=os.environ | {"PATH": f"{program}:{os.environ['PATH']}"},
        capture_output=True,
        text=True,
        check=True,
    )
    assert "removal of" not in made.stdout + made.stderr, made.stdout  # of a schema it can't take
    sys.path.insert(0, str(folder / "client"))
    yield importlib.import_module("yearning_client")
    sys.path.remove(str(folder / "client"))


def call(operation, **given):
    return importlib.import_module(f"yearning_client.api.{operation}").sync(**given)


def test_it_brings_a_clip_in_makes_a_look_and_renders(generated_client, clip, tmp_path):
    models = importlib.import_module("yearning_client.models")
    types = importlib.import_module("yearning_client.types")
    with serving(tmp_path / "work") as address:
        client = generated_client.Client(base_url=address)
        file = types.File(payload=BytesIO(clip.read_bytes()))
        added = call("clips.add_clip", client=client, body=file, name="small.mp4")
        assert call("clips.list_clips", client=client) == [added]

        glow = models.GlowStepInput(
            id="g", treatment="glow", settings=models.GlowInput(spread=20.0, linear=True)
        )
        wanted = models.LookInput(format_="yearning-look/3", name="Made", steps=[glow])
        made = call("looks.add_look", client=client, body=wanted)
        (step,) = made.look.steps
        assert isinstance(step, models.GlowStep)
        assert (step.settings.spread, step.settings.linear) == (20, True)
        assert step.mix.blend == "screen"

        ask = models.RenderRequest(
            clip=added.id, look=wanted, look_id=made.id, result=models.ResultSpec(last=9)
        )
        render = call("renders.add_render", client=client, body=ask)
        now = wait_for(
            lambda: call("renders.read_render", client=client, render_id=render.id),
            lambda told: told.state not in ("waiting", "running"),
        )
        assert now.state == "done", now.message
        got = client.get_httpx_client().get(f"/api/v1/renders/{render.id}/file").content
        with av.open(BytesIO(got)) as container:
            assert sum(1 for _ in container.decode(video=0)) == 10

        refused = call("looks.read_look", client=client, look_id=99)
        assert isinstance(refused, models.Problem)
        assert refused.type_ == "/api/v1/problems/not-there"
