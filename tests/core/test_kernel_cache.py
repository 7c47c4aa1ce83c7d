"""Several processes fill numba's cache at once: each kernel is compiled once, for its types."""

import shutil
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor

from yearning.core import kernel_cache
from yearning.core.kernel_cache import PACKAGE, LockedCacheFile, source_digest

KERNEL = """
import numba

@numba.njit(cache=True)
def slow(x):
    total = x
    for _ in range(3):
        total += x * x
    return total
"""

CALLS = """
import sys
sys.path.insert(0, sys.argv[1])
import yearning.core
from kernel import slow
for value in (2, 2.5, 2j):
    assert slow(value) == 3 * value * value + value
print(sum(slow.stats.cache_misses.values()), flush=True)
"""


def a_cache(folder):
    return LockedCacheFile(str(folder), "kernel", "stamp")


def test_what_many_save_at_once_is_found_under_its_own_key(tmp_path):
    with ThreadPoolExecutor(8) as pool:
        list(pool.map(lambda n: a_cache(tmp_path).save(("types", n), n), range(64)))
    assert [a_cache(tmp_path).load(("types", n)) for n in range(64)] == list(range(64))


def test_who_comes_second_waits_and_has_what_the_first_made(tmp_path):
    first, second = a_cache(tmp_path), a_cache(tmp_path)
    assert first.load("types") is None
    found = []
    waiting = threading.Thread(target=lambda: found.append(second.load("types")))
    waiting.start()
    waiting.join(0.2)
    assert waiting.is_alive()
    first.save("types", "code")
    waiting.join(30)
    assert found == ["code"]


def test_a_compilation_that_failed_holds_nobody_up(tmp_path):
    first = a_cache(tmp_path)
    assert first.load("wrong types") is None  # and nothing is saved
    assert first.load("types") is None
    first.save("types", "code")
    assert a_cache(tmp_path).load("types") == "code"


def test_processes_that_start_together_compile_each_type_once(tmp_path):
    (tmp_path / "kernel.py").write_text(KERNEL)
    words = [sys.executable, "-c", CALLS, str(tmp_path)]
    started = [subprocess.Popen(words, stdout=subprocess.PIPE) for _ in range(3)]
    misses = [int(process.communicate()[0]) for process in started]
    assert sum(misses) == 3
    assert [process.returncode for process in started] == [0, 0, 0]


CALLER = """
import numba
from yearning.core.picture import Size
from {package} import inner

@numba.njit(cache=True)
def outer(x):
    return inner(x) + 1
"""

INNER = """
import numba

@numba.njit(cache=True)
def inner(x):
    return x * {factor}
"""


def test_a_kernel_is_compiled_anew_when_one_that_it_calls_has_changed(tmp_path):
    """In a copy of the package: its own `yearning/inner.py` is called from `caller.py`."""
    package = tmp_path / "yearning"
    shutil.copytree(
        PACKAGE / "core", package / "core", ignore=shutil.ignore_patterns("__pycache__")
    )
    (package / "__init__.py").touch()
    (tmp_path / "caller.py").write_text(CALLER.format(package="yearning.inner"))
    code = (
        "import yearning.core, caller; "
        "print(caller.outer(5), sum(caller.outer.stats.cache_misses.values()))"
    )
    said = []
    for factor in (2, 2, 3):
        (package / "inner.py").write_text(INNER.format(factor=factor))
        done = subprocess.run(
            [sys.executable, "-c", code], cwd=tmp_path, capture_output=True, text=True, check=True
        )
        said.append(done.stdout.split())
    assert said == [["11", "1"], ["11", "0"], ["16", "1"]]


def test_a_file_s_digest_is_of_all_that_it_imports():
    grain = PACKAGE / "core" / "treatments" / "grain.py"
    reached, waiting = set(), [grain]
    while waiting:
        file = waiting.pop()
        if file not in reached:
            reached.add(file)
            waiting += kernel_cache._read(file)[1]
    names = {file.relative_to(PACKAGE).as_posix() for file in reached}
    assert {"core/noise/fields.py", "core/image/resampling.py", "core/smoothstep.py"} <= names
    assert source_digest(grain) != source_digest(PACKAGE / "core" / "noise" / "fields.py")
