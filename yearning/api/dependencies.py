"""What routes ask for, as FastAPI dependencies."""

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from yearning.analysis.analyzer import Analyzer
from yearning.analysis.boundary_finder import BoundaryFinder
from yearning.analysis.matte_finder import MatteFinder
from yearning.analysis.track_finder import TrackFinder
from yearning.api.memory_limit import MemoryLimit
from yearning.api.preview import PreviewService
from yearning.api.readiness import Readiness
from yearning.farm.queue import RenderQueue
from yearning.library.reel_measurer import ReelMeasurer
from yearning.library.reel_movies import MovieMaker
from yearning.media.plates.assets import asset_path
from yearning.store.errors import NotThere
from yearning.store.project import Project


def _preview(connection: HTTPConnection) -> PreviewService:
    service: PreviewService = connection.app.state.preview
    return service


def _project(connection: HTTPConnection) -> Project:
    return _preview(connection).project


def _asset_file(connection: HTTPConnection, file: str) -> Path:
    path = asset_path(_project(connection).assets, file)
    try:
        if path.is_file():
            return path
    except OSError:  # such a name none can have
        pass
    raise NotThere(f"the project has no file {file[:80]}")


def _render_queue(connection: HTTPConnection) -> RenderQueue:
    queue: RenderQueue = connection.app.state.render_queue
    return queue


def _analyzer(connection: HTTPConnection) -> Analyzer:
    analyzer: Analyzer = connection.app.state.analyzer
    return analyzer


def _track_finder(connection: HTTPConnection) -> TrackFinder:
    finder: TrackFinder = connection.app.state.track_finder
    return finder


def _matte_finder(connection: HTTPConnection) -> MatteFinder:
    finder: MatteFinder = connection.app.state.matte_finder
    return finder


def _boundary_finder(connection: HTTPConnection) -> BoundaryFinder:
    finder: BoundaryFinder = connection.app.state.boundary_finder
    return finder


def _movie_maker(connection: HTTPConnection) -> MovieMaker:
    maker: MovieMaker = connection.app.state.movie_maker
    return maker


def _reel_measurer(connection: HTTPConnection) -> ReelMeasurer:
    measurer: ReelMeasurer = connection.app.state.reel_measurer
    return measurer


def _readiness(connection: HTTPConnection) -> Readiness:
    readiness: Readiness = connection.app.state.readiness
    return readiness


def _memory_limit(connection: HTTPConnection) -> MemoryLimit:
    limit: MemoryLimit = connection.app.state.memory_limit
    return limit


def _media_folders(connection: HTTPConnection) -> Sequence[Path]:
    folders: Sequence[Path] = connection.app.state.media_folders
    return folders


Preview = Annotated[PreviewService, Depends(_preview)]
Limit = Annotated[MemoryLimit, Depends(_memory_limit)]
CurrentProject = Annotated[Project, Depends(_project)]
AssetFile = Annotated[Path, Depends(_asset_file)]
"""The path of the table, plate, track or grain that an address names."""

MediaFolders = Annotated[Sequence[Path], Depends(_media_folders)]
"""Folders that were named at the start, in which media of timelines are looked for."""

Renders = Annotated[RenderQueue, Depends(_render_queue)]
Analysis = Annotated[Analyzer, Depends(_analyzer)]
Boundaries = Annotated[BoundaryFinder, Depends(_boundary_finder)]
Mattes = Annotated[MatteFinder, Depends(_matte_finder)]
Movies = Annotated[MovieMaker, Depends(_movie_maker)]
ReelMeasurements = Annotated[ReelMeasurer, Depends(_reel_measurer)]
Tracks = Annotated[TrackFinder, Depends(_track_finder)]
CurrentReadiness = Annotated[Readiness, Depends(_readiness)]
