"""Half a minute of requests from the OpenAPI document; `make hostile` makes a quarter of an hour."""

import pytest

from tests.hostile.document import run


@pytest.mark.timeout(500)
def test_a_server_answers_as_its_document_says():
    done = run(30, "--max-examples", "15")
    assert done.returncode == 0, done.stdout[-6000:]
