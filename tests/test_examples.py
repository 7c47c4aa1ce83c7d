"""The examples in docstrings are run."""

import doctest
import importlib
import pkgutil
import re
from pathlib import Path

import numpy as np
import pytest

import yearning

EXAMPLE = re.compile(r"^\s*>>> ", re.MULTILINE)

MODULES = [
    info.name
    for info in pkgutil.walk_packages(yearning.__path__, "yearning.")
    if not info.name.endswith("__main__")
    and EXAMPLE.search(Path(info.module_finder.find_spec(info.name).origin).read_text())
]


@pytest.mark.parametrize("name", MODULES)
def test_a_modules_examples_give_what_they_say(name):
    module = importlib.import_module(name)
    found = doctest.testmod(module, extraglobs={"np": np}, optionflags=doctest.ELLIPSIS)
    assert found.attempted > 0
    assert found.failed == 0
