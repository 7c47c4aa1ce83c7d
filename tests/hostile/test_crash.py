"""A server killed twice at work loses nothing; `make crash` kills a hundred."""

import pytest

from tests.hostile.crash import main


@pytest.mark.timeout(900)
def test_a_server_that_is_killed_loses_nothing(capsys):
    assert main(2) == 0
    assert "2 servers killed" in capsys.readouterr().out
