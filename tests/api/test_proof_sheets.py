"""Proof sheets over HTTP: kept beside a look, and saved with their captions."""

import io

import cv2
import numpy as np
import pypdf
import pytest

from tests.api.conftest import problem
from tests.conftest import THREE_STEPS
from tests.media.stills.test_contact_sheet import places_in

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}
SPAN = {
    "kind": "span",
    "step": "g",
    "name": "spread",
    "span": {"low": 8, "high": 40, "count": 4, "way": "by ratio"},
}
BLENDS = {"kind": "choices", "step": "g", "name": "mix.blend", "values": ["add", "screen"]}


@pytest.fixture
def look_id(client):
    return client.post("/api/v1/looks", json=LOOK).json()["id"]


def sheets(look_id, sheet_id=""):
    return f"/api/v1/looks/{look_id}/proof-sheets" + (f"/{sheet_id}" if sheet_id else "")


@pytest.mark.parametrize(
    "subject",
    [
        SPAN,
        BLENDS,
        {"kind": "pair", "rows": SPAN, "columns": BLENDS},
        {"kind": "looks", "ids": [1, 2]},
        {"kind": "snapshots"},
        {"kind": "clips"},
        {
            "kind": "match",
            "step": {"id": "match", "treatment": "bundle", "settings": {"steps": []}},
            "place": "before",
            "like": {"kind": "frame", "clip": 2, "frame": 3},
            "distance": 0.2,
            "remains": 0.01,
            "held": [{"kind": "skin", "share": 0.1, "off": 0.01, "unheld": 0.2}],
        },
        {
            "kind": "even",
            "step": "g",
            "effect": "light",
            "wanted": 0.01,
            "clips": [
                {"clip": 1, "amount": 0.5, "reached": 1.0},
                {"clip": 2, "amount": None, "reached": 0.0},
            ],
        },
    ],
)
def test_a_sheet_is_kept_as_it_was_with_the_look_it_was_of(subject, client, look_id):
    sheet = {"subject": subject, "shots": [{"clip": 1, "frame": 7}]}
    client.put(sheets(look_id, "a"), json={"name": "First", "sheet": sheet})
    look = client.get(f"/api/v1/looks/{look_id}").json()
    [kept] = client.get(sheets(look_id)).json()
    assert kept == {"id": "a", "name": "First", "sheet": sheet, "digest": look["digest"]}
    change = {"revision": look["revision"], "look": LOOK | {"steps": THREE_STEPS[:1]}}
    assert client.put(f"/api/v1/looks/{look_id}", json=change).json()["digest"] != kept["digest"]


def test_sheets_stay_in_order_give_way_and_go(client, look_id):
    sheet = {"subject": BLENDS, "shots": []}
    for id, name in (("a", "A"), ("b", "B"), ("a", "A again")):
        client.put(sheets(look_id, id), json={"name": name, "sheet": sheet})
    assert [each["name"] for each in client.get(sheets(look_id)).json()] == ["B", "A again"]
    assert client.delete(sheets(look_id, "b")).status_code == 204
    assert [each["id"] for each in client.get(sheets(look_id)).json()] == ["a"]


@pytest.mark.parametrize(
    ("sheet", "said"),
    [
        ({"subject": {"kind": "mood"}, "shots": []}, "mood"),
        ({"subject": SPAN | {"span": SPAN["span"] | {"count": 65}}, "shots": []}, "64"),
        ({"subject": SPAN | {"more": 1}, "shots": []}, "more"),
    ],
)
def test_what_is_no_sheet_is_refused(sheet, said, client, look_id):
    answer = client.put(sheets(look_id, "a"), json={"name": "A", "sheet": sheet})
    assert said in problem(answer, 422)
    assert client.get(sheets(look_id)).json() == []


def test_no_look_no_sheets(client):
    assert client.get(sheets(99)).status_code == 404


def ask(clip_id, **more):
    looks = [LOOK, LOOK | {"steps": THREE_STEPS[:1]}]
    cells = [
        {"clip": clip_id, "frame": n, "look": look, "caption": f"frame {n}"}
        for look in looks
        for n in (3, 9)
    ]
    return {"title": "Lamps: two/looks", "cells": cells, "columns": 2, "height": 54} | more


def test_its_cells_are_the_pages_pictures(client, clip_id):
    answer = client.post("/api/v1/contact-sheets", json=ask(clip_id))
    assert answer.headers["content-disposition"] == 'attachment; filename="Lamps--two-looks.png"'
    sheet = cv2.imdecode(np.frombuffer(answer.content, np.uint8), 1)
    places = []
    for cell in ask(clip_id)["cells"]:
        body = {"clip": clip_id, "frame": cell["frame"], "look": cell["look"], "height": 54}
        window = {"x": 0.5, "y": 0.5, "width": 8192, "height": 8192}  # of all of it: without loss
        whole = client.post("/api/v1/pictures", json=body | {"crop": window})
        places.append(places_in(sheet, cv2.imdecode(np.frombuffer(whole.content, np.uint8), 1)))
    (left, top), (right, same), (_, below), _ = places
    assert (right > left, same == top, below > top) == (True, True, True)


def test_a_page_has_the_captions(client, clip_id):
    rows = {"row_captions": ["whole", "first step"], "column_captions": ["a", "b"]}
    answer = client.post("/api/v1/contact-sheets", json=ask(clip_id, file="pdf", **rows))
    assert answer.headers["content-type"] == "application/pdf"
    [page] = pypdf.PdfReader(io.BytesIO(answer.content)).pages
    words = page.extract_text()
    assert all(said in words for said in ("Lamps: two/looks", "first step", "frame 9"))


@pytest.mark.parametrize(
    ("change", "status", "said"),
    [
        ({"cells": []}, 422, "cells"),
        ({"cells": ask(1)["cells"] * 17}, 422, "cells"),
        ({"row_captions": ["only one"]}, 422, "row_captions: 2 are needed, not 1"),
        ({"columns": 65}, 422, "columns"),
        ({"title": "x" * 201}, 422, "title"),
    ],
)
def test_what_is_no_contact_sheet_is_refused(change, status, said, client, clip_id):
    answer = client.post("/api/v1/contact-sheets", json=ask(clip_id, **change))
    assert said in problem(answer, status)
