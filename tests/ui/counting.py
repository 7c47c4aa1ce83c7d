"""What of the page's code runs in a tab, counted by Chromium where `make coverage` asks for it."""

import json
import os
from pathlib import Path
from uuid import uuid4
from weakref import WeakKeyDictionary

FOLDER = os.environ.get("PAGE_COVERAGE")
"""Where the counts go; none are made without it."""

_profilers = WeakKeyDictionary()


def start_counting(tab):
    """Have Chromium count how often each part of each function runs."""
    if FOLDER:
        profiler = _profilers[tab] = tab.context.new_cdp_session(tab)
        profiler.send("Profiler.enable")
        profiler.send("Profiler.startPreciseCoverage", {"callCount": True, "detailed": True})


def write_counts(tab):
    """Write down what was counted since the last time: a page that is left takes it along."""
    if profiler := _profilers.get(tab):
        scripts = profiler.send("Profiler.takePreciseCoverage")["result"]
        own = [script for script in scripts if "/assets/" in script["url"]]
        (Path(FOLDER) / f"{uuid4()}.json").write_text(json.dumps(own))
