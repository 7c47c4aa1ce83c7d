"""Folders for renders."""

import pytest


@pytest.fixture
def make_folder(tmp_path):
    """Makes folders."""

    def make(name):
        (tmp_path / name).mkdir()
        return tmp_path / name

    return make
