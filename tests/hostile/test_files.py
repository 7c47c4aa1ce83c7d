"""Files that mean no good, brought into a server; `make hostile` tries five hundred."""

import pytest

from tests.hostile.bringing_in import try_files
from tests.hostile.files import hostile_files

COUNT = 72


@pytest.mark.timeout(900)
def test_a_server_stands_files_that_mean_no_good(tmp_path):
    made, within = tmp_path / "made", tmp_path / "within"
    for folder in (made, within):
        folder.mkdir()
    said = [what for _, what, _, _ in try_files(hostile_files(made, COUNT), within)]
    assert len(said) == COUNT
    assert {"taken", "refused"} == set(said)
