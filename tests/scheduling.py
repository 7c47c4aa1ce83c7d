"""How the tests are shared among processes, in which order, and how long each folder took.

`tests/conftest.py` takes these hooks into its own, where pytest looks for them.
"""

from collections import Counter
from typing import Any

import pytest
from xdist.scheduler import LoadScopeScheduling


class ByPlace(LoadScopeScheduling):
    """The tests of a file keep together, in one process.

    The page's come first: they take longest. Renders, which come last, are shared one by one, so
    that no process is left with all of them.
    """

    def _split_scope(self, nodeid: str) -> str:
        return nodeid if nodeid.startswith("tests/farm/") else nodeid.partition("::")[0]


def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> ByPlace:
    """How tests are shared among processes."""
    return ByPlace(config, log)


OWN_PROCESSES = (
    "tests/api/test_server.py",
    "tests/test_cli.py",
    "tests/hostile/test_crash.py",
    "tests/farm/",
)
"""Tests whose workers give way to whatever else the machine does, in their order: one that takes
minutes comes before many that can be shared."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The page's tests first; last those that would wait for them."""

    def place(item: pytest.Item) -> int:
        if item.nodeid.startswith("tests/ui/"):
            return -1
        own = [n for n, name in enumerate(OWN_PROCESSES) if item.nodeid.startswith(name)]
        return 1 + own[0] if own else 0

    items.sort(key=place)


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """Print how many seconds the tests of each folder took, in all processes together."""
    seconds: Counter[str] = Counter()
    for reports in terminalreporter.stats.values():
        for report in reports:
            if isinstance(report, pytest.TestReport):
                path = report.nodeid.partition("::")[0]
                seconds["/".join(path.split("/")[:-1][:3])] += report.duration
    if len(seconds) > 3:
        terminalreporter.section("seconds by folder")
        for folder, of_it in seconds.most_common():
            terminalreporter.write_line(f"{of_it:7.0f}  {folder}")
