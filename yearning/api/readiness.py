"""Kernels that are compiled while the page is already open, by a process of their own."""

import os
import subprocess
import sys
import threading

from pydantic import BaseModel, Field

from yearning.warm import is_warm

NICE = 5
"""How far compiling gives way to pictures that are asked for meanwhile."""


class ReadinessOut(BaseModel):
    """How far kernels are compiled; until all are, a picture may wait for one."""

    done: int
    of: int = Field(description="0 where nothing has to be compiled.")
    now: str = Field(description="What is being compiled; empty at the end.")


class Readiness:
    """Compiles all kernels where they are not, and knows how far that is."""

    def __init__(self, compiles: bool) -> None:
        self._state = ReadinessOut(done=0, of=0, now="")
        self._process: subprocess.Popen[str] | None = None
        if not compiles or is_warm():
            return
        command = [sys.executable, "-m", "yearning.warm"]
        self._process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)  # noqa: S603
        os.setpriority(os.PRIO_PROCESS, self._process.pid, NICE)
        self._state = ReadinessOut(done=0, of=1, now="the first kernels")
        threading.Thread(target=self._follow, args=(self._process,), daemon=True).start()

    @property
    def state(self) -> ReadinessOut:
        """How far it is now."""
        return self._state

    def close(self) -> None:
        """Stop compiling; what is compiled stays."""
        if self._process is not None:
            self._process.terminate()
            self._process.wait()

    def _follow(self, process: "subprocess.Popen[str]") -> None:
        assert process.stdout is not None
        for line in process.stdout:
            done, of, name = line.rstrip("\n").split(" ", 2)
            self._state = ReadinessOut(done=int(done), of=int(of), now=name)
        process.wait()
        # what it left, if it was stopped or failed, is compiled by whatever meets it first
        self._state = self._state.model_copy(update={"done": self._state.of, "now": ""})
