"""The queue: renders one after the other, whether a page is open or not."""

import logging
import shutil
import threading
import time
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Any

from peewee import OperationalError

from yearning.farm.errors import DiskFull, FarmError, Halted
from yearning.farm.job import Job
from yearning.farm.progress import Halt, Progress
from yearning.farm.settings import FarmSettings, ResultSpec
from yearning.farm.state import UNENDED, Event, State, next_state
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError
from yearning.store.errors import ClipLost
from yearning.store.project import Project
from yearning.store.renders import Render

if TYPE_CHECKING:
    from yearning.farm.ahead import Coming, Lookahead
    from yearning.farm.cluster import Cluster

NOTED_SECONDS = 2.0
"""Between two notes of a render's progress in the project."""

IDLE_SECONDS = 30.0
"""The workers are let go when nothing was rendered for so long."""

LOOK_SECONDS = 5.0
"""Between two looks for renders that nobody woke this for."""

ROOM_SECONDS = 3.0
"""Between two looks whether a full disk has room again."""

log = logging.getLogger(__name__)


@dataclass
class Live:
    """The render in hand, as it is just now."""

    id: int
    state: State = State.RUNNING
    message: str = ""
    progress: Progress | None = None
    where: str = ""
    starting: bool = False
    """Workers are being started, or come by the first of its chunks."""


class RenderQueue:
    """Takes the project's waiting renders, the lowest rank first, in a thread of its own.

    Of a project that is open for looking it takes none.

    Args:
        project: whose renders they are.
        schedulers: addresses of Dask schedulers that renders may be given to: one exchanges code
            with whoever talks to it, so whoever starts the program names them.
    """

    def __init__(self, project: Project, schedulers: Sequence[str] = ()) -> None:
        self._project = project
        self.schedulers = tuple(schedulers)
        self.live: Live | None = None
        self._changes: list[int] = []
        """The render of each change since the start."""
        self._stop: set[int] = set()
        self._closing = False
        self._woken = threading.Event()
        self._cluster: Cluster | None = None
        self._lookahead: Lookahead | None = None
        """Renders that wait, of which chunks are rendered already; made with the first workers."""
        self._used: FarmSettings | None = None
        self._thread: threading.Thread | None = None
        if project.read_only:
            return
        for left in project.renders.all(UNENDED):  # the server ended, somehow, while they ran
            self._note(left, Event.RESTART, left.done)
        self._thread = threading.Thread(target=self._work, name="renders", daemon=True)
        self._thread.start()

    def wake(self, render_id: int) -> None:
        """Tell the thread that a render was requested, or put before others."""
        self._change(render_id)
        self._woken.set()

    def changed_renders(self, since: int) -> tuple[int, set[int]]:
        """The renders of the changes after the first `since`, and the one in hand.

        Returns:
            how many changes there were, to ask with next, and the renders' ids.
        """
        live, changes = self.live, self._changes[since:]
        return since + len(changes), {*changes, *([live.id] if live else [])}

    def _change(self, render_id: int) -> None:
        self._changes.append(render_id)

    def resume(self, render: Render) -> None:
        """Have a stopped or failed render go on from what is finished of it.

        Raises:
            InvalidTransition: it is neither.
        """
        self._stop.discard(render.id)
        self._note(render, Event.RESUME, render.done)
        self._woken.set()

    def stop(self, render: Render) -> None:
        """Stop a render that runs, waits or is paused; what is finished of it stays.

        Raises:
            InvalidTransition: it has ended.
        """
        next_state(State(render.state), Event.STOP)
        self._stop.add(render.id)
        if self.live is None or self.live.id != render.id:
            self._note(render, Event.STOP, render.done)
        self._woken.set()

    def discard(self, render: Render) -> None:
        """Delete what is finished of a render that is not to go on."""
        if self._lookahead is not None:  # it ends as soon as it sees that it is stopped
            self._lookahead.drop(render.id)
        shutil.rmtree(self._project.renders.pieces(render.id), ignore_errors=True)
        self._project.renders.note(render.id, render.state, 0, render.message, ended=True)
        self._change(render.id)

    def close(self) -> None:
        """Halt what runs, to go on at the next start, and end the thread."""
        self._closing = True
        self._woken.set()
        if self._thread is not None:
            self._thread.join(timeout=20)
        if self._lookahead is not None:
            self._lookahead.close()

    def _work(self) -> None:
        idle = time.monotonic()
        while not self._closing:
            render = self._next_render()
            if render is not None:
                try:
                    self._run(render)
                except Exception:  # how it ended could not be noted: it is taken up again
                    log.exception("render %d was left", render.id)
                    self._woken.wait(timeout=LOOK_SECONDS)
                idle = time.monotonic()
                continue
            if time.monotonic() - idle > IDLE_SECONDS:
                self._let_workers_go()
            self._woken.wait(timeout=LOOK_SECONDS)
            self._woken.clear()  # not before: what woke it may have come after the look around
        self._let_workers_go()

    def _next_render(self, but: Collection[int] = ()) -> Render | None:
        try:
            return self._project.renders.first_of(State.WAITING, but)
        except OperationalError as error:  # a full disk, another that writes: it passes
            log.warning("the renders can't be read now: %s", error)
            return None

    def _coming(self, but: Collection[int]) -> "Coming | None":
        """The render that comes next, but some that are begun."""
        from yearning.farm.ahead import Coming

        render = None if self._closing else self._next_render(but)
        if render is None or render.id in self._stop:
            return None
        return Coming(
            render.id,
            lambda: self._job(render),
            self._project.renders.pieces(render.id),
            lambda: Halt.NOW if render.id in self._stop or self._closing else None,
        )

    def _note(self, render: Render, event: Event, done: int, message: str = "", **how: Any) -> None:
        state = next_state(State(render.state), event)
        ended = state not in UNENDED
        self._keep(render.id, state, done, message, ended=ended, **how)
        if self.live is not None and self.live.id == render.id:
            self.live.state, self.live.message = state, message
        self._change(render.id)

    def _keep(self, render_id: int, *words: Any, **how: Any) -> None:
        """Store a render's state; if the disk is full, the next write or start makes up for it."""
        try:
            self._project.renders.note(render_id, *words, **how)
        except (OperationalError, OSError) as error:
            log.warning("render %d: not noted: %s", render_id, error)

    def _run(self, render: Render) -> None:
        self.live = Live(render.id)
        try:
            self._note(render, Event.BEGIN, render.done)
            while self._run_until_event(render._replace(state=State.RUNNING)) is Event.NO_ROOM:
                pass
        finally:
            self.live = None
            if self._lookahead is not None:
                self._lookahead.end_turn()
            self._change(render.id)
            self._stop.discard(render.id)

    def _run_until_event(self, render: Render) -> Event:
        """Work on a render until an event ends that; return the event."""
        from yearning.farm.ahead import Lookahead
        from yearning.farm.run import run

        live = self.live
        assert live is not None
        noted = time.monotonic()

        def on_progress(progress: Progress) -> None:
            nonlocal noted
            live.progress = progress
            live.starting = live.starting and not progress.rate
            live.where = cluster.summary + progress.memory
            live.message = cluster.note
            if time.monotonic() - noted > NOTED_SECONDS:
                noted = time.monotonic()
                self._keep(render.id, State.RUNNING, progress.done)

        event, message, full = Event.FAIL, "", None
        before = 0.0
        """Seconds that it was worked on since it was begun ahead."""
        try:
            job, folder = self._job(render), self._project.renders.pieces(render.id)
            live.starting = True
            cluster = self._workers()
            live.where = cluster.summary

            def halt() -> Halt | None:
                return self._halt(render)

            lookahead = self._lookahead = self._lookahead or Lookahead(self._coming)
            before = lookahead.take_over(render.id, cluster, on_progress, halt)
            live.progress = run(
                job,
                folder,
                cluster,
                on_progress=on_progress,
                halt=halt,
                on_begin=partial(lookahead.follow, cluster),
            )
            event = Event.FINISH
        except Halted:
            event = Event.STOP if render.id in self._stop else Event.YIELD
        except DiskFull as error:
            event, message, full = Event.NO_ROOM, str(error), error
        except (MediaError, ClipLost, IndexError) as error:
            message = str(error)
        except FarmError as error:
            message = str(error)
            self._let_workers_go()
        except OSError as error:
            message = f"{error.filename or ''} {error.strerror or error}; mend that, then go on"
        except Exception as error:
            log.exception("render %d broke off", render.id)
            message = f"it broke off: {type(error).__name__}: {error}"
        done, seconds = render.done, 0.0
        if live.progress is not None:
            done, seconds = live.progress.kept, before + live.progress.seconds
        self._note(render, event, done, message.strip(), seconds=seconds)
        if full is not None:
            return self._wait_for_room(render._replace(state=State.PAUSED), full)
        return event

    def _wait_for_room(self, render: Render, full: DiskFull) -> Event:
        """Wait until there is room, or the render is wanted no more; returns what came."""
        while not full.has_room():
            if render.id in self._stop or self._closing:
                event = Event.STOP if render.id in self._stop else Event.YIELD
                self._note(render, event, render.done)
                return event
            self._woken.wait(timeout=ROOM_SECONDS)
            self._woken.clear()
        self._note(render, Event.BEGIN, render.done)
        return Event.NO_ROOM

    def _halt(self, render: Render) -> Halt | None:
        if render.id in self._stop or self._closing:
            return Halt.NOW
        if self._woken.is_set():
            self._woken.clear()
            first = self._next_render()
            if first is not None and first.rank < render.rank:
                return Halt.SOON
        return None

    def _job(self, render: Render) -> Job:
        """The render's job.

        Raises:
            ClipLost: the clip's file is not what it was.
            MediaError: it can't be rendered so.
        """
        self._project.clips.check(render.clip)
        reading = InputOverrides.of(render.request.get("reading", {}))
        result = ResultSpec(**render.request.get("result", {}))
        render.path.parent.mkdir(exist_ok=True)
        with open_clip(render.clip.path, reading, render.clip.digest) as footage:
            return Job.of(
                footage,
                render.look,
                render.path,
                assets=self._project.assets,
                output=result.output,
                first=result.first,
                last=result.last,
            )

    def _workers(self) -> "Cluster":
        """The workers that Output's settings say, started if they are not there.

        Raises:
            FarmError: they can't be had.
        """
        from yearning.farm.cluster import Cluster

        wanted = FarmSettings(**self._project.setting("farm"))
        if self._cluster is None or self._used != wanted:
            self._let_workers_go()
            self.check_scheduler(wanted.address)
            self._cluster = Cluster(wanted.workers, wanted.address)
            self._used = wanted
        return self._cluster

    def check_scheduler(self, address: str | None) -> None:
        """Make sure that renders may be given to a scheduler; None stands for this machine.

        Raises:
            FarmError: they may not.
        """
        if address is not None and address not in self.schedulers:
            raise FarmError(
                f"{address}: no scheduler that was named at the start; end the server and start it "
                f"with --cluster {address}, or render on this machine"
            )

    def _let_workers_go(self) -> None:
        cluster, self._cluster = self._cluster, None
        if cluster is None:
            return
        try:
            cluster.close()
        except Exception:  # workers that do not answer: others are started for the next render
            log.exception("the workers did not end as they should")
