"""Requests from the OpenAPI document for seconds; `make hostile` goes on for fifteen minutes."""

import pytest

from tests.hostile.document import run


@pytest.mark.timeout(900)
def test_a_server_answers_as_its_document_says():
    done = run(15, "--max-examples", "15", "--seed", "1")
    assert done.returncode == 0, done.stdout[-6000:]
