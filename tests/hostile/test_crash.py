"""A server that is killed at work loses nothing. `make crash` kills many, and workers and commands.

What becomes of workers and commands that are killed, `tests/farm/test_run.py` has too.
"""

import pytest

from tests.hostile.crash import Rounds


@pytest.mark.timeout(900)
def test_a_server_killed_in_one_render_and_begun_with_the_next_loses_nothing(tmp_path):
    work = Rounds(tmp_path, seed=1, codecs=["H.264"], frames=64)
    assert work.one(1) == "begun ahead"
    work.migration()
    assert work.finish() == 2  # each, byte for byte, an undisturbed server's
    assert work.edits > 1 < len(work.clips)
