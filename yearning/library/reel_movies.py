"""A project's reel as one movie: its shots rendered by the queue, then joined with their sound."""

import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory

from yearning.analysis.background import LatestWork, Progress
from yearning.farm.settings import ResultSpec
from yearning.farm.state import State
from yearning.library.movies_made import note_movie
from yearning.library.project_reels import sound_path
from yearning.library.reel_renders import Results, add_renders, clip_of, shot_render
from yearning.media.audio.joined import HeardShot
from yearning.media.audio.mixing import MixInput, mix_input
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.probe import Probe
from yearning.media.disk import reason_of
from yearning.media.encode.joined_shots import JoinedShot, black_gap, check_alike, join_shots
from yearning.media.encode.results import check_output
from yearning.media.encode.segment import SEGMENT, Piece
from yearning.media.errors import MediaError
from yearning.store.errors import NotThere
from yearning.store.project import Project
from yearning.store.reel_body import ReelBody, ReelShot, ReelSound
from yearning.store.renders import Render

LOOK_SECONDS = 0.5
"""Between two looks how far the renders of the shots are."""


@dataclass
class MovieStatus(Progress):
    """How far a movie of a reel is, in frames of it that are rendered."""

    reel: int = 0


class MovieMaker(LatestWork[MovieStatus]):
    """Makes one movie at a time: what was asked for last. `close` it at the end.

    Its shots are renders of the project, which go on whatever becomes of the movie; what is
    rendered already is taken as it is.

    Args:
        project: whose reels they are.
    """

    def __init__(self, project: Project) -> None:
        super().__init__("movie")
        self._project = project

    def make(
        self, reel_id: int, body: ReelBody, result: ResultSpec
    ) -> tuple[list[int], MovieStatus]:
        """Begin to make a movie, in place of one that is being made.

        Args:
            reel_id: the reel's.
            body: the reel as it is to be seen.
            result: as what; its frames are left aside.

        Returns:
            the renders that were added for it, and how far it is.

        Raises:
            MediaError: it can't be one movie; the message says what to do.
        """
        if result.is_stills or result.overlay:
            kind = "stills are" if result.is_stills else "a look alone is"
            raise MediaError(f"{body.name}: {kind} rendered shot by shot; choose a movie")
        check_output(result.ending, result.output)
        shots = [item for item in body.items if isinstance(item, ReelShot)]
        if not shots:
            raise MediaError(f"{body.name}: has no shot to render")
        wanted = {shot.id: shot_render(self._project, shot, result) for shot in shots}
        probes = [(f"'{shot.name}'", self._probe(shot)) for shot in shots]
        check_alike(probes, result.ending, result.output)
        inputs = [self._mix_input(sound) for sound in body.sounds]
        asked = add_renders(self._project, body, result)
        added = [render.id for render in asked if isinstance(render, Render)]
        known = Results(self._project)
        found = {shot: known.same(each) for shot, each in wanted.items()}
        renders = {shot: render.id for shot, render in found.items() if render is not None}
        status = MovieStatus(None, body.name, total=body.frames, reel=reel_id)
        work = partial(self._make, body, result, renders, probes[0][1], inputs)
        return added, self.start(status, work)

    def _probe(self, shot: ReelShot) -> Probe:
        clip = clip_of(self._project, shot)
        with open_clip(clip.path, InputOverrides.of(clip.reading), clip.digest) as footage:
            return footage.probe

    def _mix_input(self, sound: ReelSound) -> MixInput:
        path = sound_path(self._project, sound)
        return mix_input(path, sound.at, sound.start, sound.frames, sound.level)

    def _make(
        self,
        body: ReelBody,
        result: ResultSpec,
        renders: Mapping[str, int],
        first: Probe,
        inputs: Sequence[MixInput],
        status: MovieStatus,
        cancelled: threading.Event,
    ) -> None:
        try:
            made = self._finished_renders(body, renders, status, cancelled)
            if made is None:
                return
            folder = self._project.folder / "renders"
            with TemporaryDirectory(dir=self._project.folder / "incoming") as gaps:
                shots = [
                    self._shot(item, made[item.id])
                    if isinstance(item, ReelShot)
                    else black_gap(
                        Path(gaps, f"{n}{SEGMENT}"),
                        first,
                        item.frames,
                        result.ending,
                        result.output,
                    )
                    for n, item in enumerate(body.items)
                ]
                path = _free_name(folder, body.name, result.ending)
                join_shots(path, shots, first, first.rate, result.output, inputs)
            note_movie(self._project, status.reel, path.name, body.name, body.frames)
            status.done = status.total
            status.file = path.name
        except (MediaError, NotThere, OSError) as error:
            status.error = reason_of(error)
        finally:
            status.running = False

    def _finished_renders(
        self,
        body: ReelBody,
        renders: Mapping[str, int],
        status: MovieStatus,
        cancelled: threading.Event,
    ) -> dict[str, Render] | None:
        """The finished renders by the ids of their shots; None where it was given up before.

        Raises:
            MediaError: one failed, or was stopped.
        """
        names = {item.id: item.name for item in body.items if isinstance(item, ReelShot)}
        made: dict[str, Render] = {}
        while not cancelled.is_set():
            coming = 0
            for shot in renders.keys() - made.keys():
                render = self._project.renders.get(renders[shot])
                if render.state in (State.FAILED, State.STOPPED):
                    why = render.message or f"its render was {render.state}"
                    raise MediaError(f"{names[shot]}: {why}")
                if render.state == State.DONE:
                    made[shot] = render
                else:
                    coming += render.done
            status.done = sum(render.total for render in made.values()) + coming
            if len(made) == len(renders):
                return made
            cancelled.wait(LOOK_SECONDS)
        return None

    def _shot(self, shot: ReelShot, render: Render) -> JoinedShot:
        if not shot.heard:
            silence = HeardShot.silence(render.total)
            return JoinedShot([Piece(render.path, render.total)], silence)
        clip = clip_of(self._project, shot)
        with open_clip(clip.path, InputOverrides.of(clip.reading), clip.digest) as footage:
            heard = HeardShot.of(footage, shot.begins, render.total)
        return JoinedShot([Piece(render.path, render.total)], heard)


def _free_name(folder: Path, name: str, ending: str) -> Path:
    """A name in the folder that no file has."""
    plain = "".join(c if c.isalnum() or c in "-_ " else "-" for c in name).strip() or "reel"
    number = 1
    while (path := folder / f"{plain}{'' if number == 1 else f' {number}'}{ending}").exists():
        number += 1
    return path
