"""What is public: listed once, loaded when it is used, and documented."""

import inspect
import subprocess
import sys

import pytest

import yearning as yn
from yearning.core.treatments import TREATMENTS


def test_to_import_it_loads_nothing_starts_nothing_and_sets_up_no_logging():
    code = (
        "import sys; import yearning, logging, threading;"
        "heavy = {'numpy', 'numba', 'cv2', 'av', 'pydantic', 'distributed'} & set(sys.modules);"
        "print(heavy or '', threading.active_count(), logging.root.handlers)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.split() == ["1", "[]"], done.stderr


def test_every_treatment_is_public_under_its_class_s_name():
    for kind in TREATMENTS.values():
        assert getattr(yn, kind.__name__) is kind


@pytest.mark.parametrize("name", sorted(set(yn.__all__) - {"__version__"}))
def test_what_is_public_says_what_it_is(name):
    public = getattr(yn, name)
    assert (inspect.getdoc(public) or "").partition("\n")[0].endswith((".", ":"))
    assert name in dir(yn)
    if inspect.isfunction(public) and inspect.signature(public).parameters:
        said = inspect.getdoc(public)
        names = [n for n in inspect.signature(public).parameters if n not in ("clip", "look")]
        assert all(f"{n}:" in said for n in names), name


def test_a_name_that_is_not_there_is_an_attribute_error():
    with pytest.raises(AttributeError, match="Bloom"):
        _ = yn.Bloom
