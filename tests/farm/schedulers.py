"""Dask's schedulers and workers, started as by hand."""

import json
import os
import subprocess
import sys
from contextlib import contextmanager, suppress

from tests.waiting import wait_for


@contextmanager
def dask(*words, before=(), **environment):
    """A `dask scheduler` or `dask worker`, started as by hand, maybe by another program."""
    program = [*before, sys.executable, "-P", "-m", f"distributed.cli.dask_{words[0]}"]
    started = subprocess.Popen(
        [*program, *words[1:], "--no-dashboard"],
        env=os.environ | environment,
        stderr=subprocess.PIPE,
        text=True,
    )
    try:
        yield started
    finally:
        started.terminate()
        started.wait(timeout=20)


def address_in(text):
    """The scheduler's address, once all of the file is written."""
    with suppress(json.JSONDecodeError):
        return json.loads(text)["address"]


@contextmanager
def scheduler(folder):
    """A `dask scheduler` at a free port, and its address."""
    file = folder / "scheduler.json"
    words = ["--host", "127.0.0.1", "--port", "0", "--scheduler-file", str(file)]
    with dask("scheduler", *words) as process:
        # dask writes it once it listens, and not at once: it is there before its words are
        wait_for(lambda: (file.exists() and file.read_text()) or process.poll() is not None)
        assert process.poll() is None, process.stderr.read()
        yield wait_for(lambda: address_in(file.read_text()))
