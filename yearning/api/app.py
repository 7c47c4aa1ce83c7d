"""The application: the routes, the built page, and the services they share."""

from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from functools import cache, partial
from pathlib import Path

from fastapi import Depends, FastAPI
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles

from yearning import __version__
from yearning.analysis.analyzer import Analyzer
from yearning.analysis.boundary_finder import BoundaryFinder
from yearning.analysis.matte_finder import MatteFinder
from yearning.analysis.track_finder import TrackFinder
from yearning.api.addresses import V1
from yearning.api.body_limits import BodyLimits
from yearning.api.document import document
from yearning.api.guard import Guard
from yearning.api.headers import SecurityHeaders
from yearning.api.memory_limit import MemoryLimit
from yearning.api.preview import CACHE_BYTES, PreviewService
from yearning.api.problems import add_problems, add_unknown
from yearning.api.read_only import refuse_changes
from yearning.api.readiness import Readiness
from yearning.api.routes import (
    boundaries,
    catalogue,
    clips,
    contact_sheets,
    curves,
    docs,
    even_amounts,
    frame_maps,
    grains,
    looks,
    marks,
    matches,
    mattes,
    measure,
    memory,
    movies,
    page,
    pictures,
    plates,
    play,
    problems,
    proof_sheets,
    readiness,
    readings,
    reel_steadiness,
    reels,
    renders,
    snapshots,
    sounds,
    starters,
    steadiness,
    steps,
    tables,
    timing,
    tracks,
)
from yearning.farm.queue import RenderQueue
from yearning.library.reel_measurer import ReelMeasurer
from yearning.library.reel_movies import MovieMaker
from yearning.store.project import Project

PAGE = Path(__file__).parent.parent / "web"

ROUTERS = (
    boundaries.router,
    catalogue.router,
    clips.router,
    contact_sheets.router,
    curves.router,
    docs.router,
    frame_maps.router,
    grains.router,
    looks.router,
    marks.router,
    mattes.router,
    matches.router,
    even_amounts.router,
    measure.router,
    memory.router,
    movies.router,
    page.router,
    pictures.router,
    plates.router,
    play.router,
    problems.router,
    proof_sheets.router,
    readiness.router,
    readings.router,
    reel_steadiness.router,
    reels.router,
    renders.router,
    renders.farm_router,
    snapshots.router,
    sounds.router,
    starters.router,
    steadiness.router,
    steps.router,
    tables.router,
    timing.router,
    tracks.router,
)


def _operation_id(route: APIRoute) -> str:
    return route.name


def create_app(
    project: Project | None,
    token: str | None = None,
    *,
    compiles: bool = False,
    cache_bytes: int = CACHE_BYTES,
    schedulers: Sequence[str] = (),
    media_folders: Sequence[Path] = (),
) -> FastAPI:
    """The application on a project; without one, only its OpenAPI document can be asked for.

    Args:
        project: the project that is open.
        token: asked of every request, where the server listens on another address than this
            machine's own.
        compiles: whether kernels that are not compiled yet are compiled meanwhile.
        cache_bytes: how much memory pictures and the like are kept in, all together.
        schedulers: addresses of Dask schedulers that renders may be given to.
        media_folders: in which media that timelines name are looked for.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        if project is None:
            yield
            return
        app.state.project = project
        app.state.media_folders = tuple(media_folders)
        ready = app.state.readiness = Readiness(compiles)
        preview = app.state.preview = PreviewService(project, cache_bytes)
        limit = app.state.memory_limit = MemoryLimit(preview.cache)
        render_queue = app.state.render_queue = RenderQueue(project, schedulers)
        analyzer = app.state.analyzer = Analyzer(project, preview.assets, preview.computing)
        tracks_found = app.state.track_finder = TrackFinder(project, preview.computing)
        mattes_found = app.state.matte_finder = MatteFinder(project, preview.computing)
        measured = app.state.reel_measurer = ReelMeasurer(
            project, preview.assets, preview.computing
        )
        movies_made = app.state.movie_maker = MovieMaker(project)
        boundaries_found = app.state.boundary_finder = BoundaryFinder(project, preview.computing)
        yield
        boundaries_found.close()
        movies_made.close()
        measured.close()
        mattes_found.close()
        tracks_found.close()
        analyzer.close()
        render_queue.close()
        limit.close()
        preview.close()
        ready.close()

    app = FastAPI(
        title="Yearning",
        version=__version__,
        lifespan=lifespan,
        dependencies=[Depends(refuse_changes)],
        generate_unique_id_function=_operation_id,
        docs_url=None,
        redoc_url=None,
        openapi_url=f"{V1}/openapi.json",
    )
    app.openapi = cache(partial(document, app))  # type: ignore[method-assign]
    add_problems(app)
    for router in ROUTERS:
        app.include_router(router)
    app.router.routes.extend(docs.FILES)
    add_unknown(app, [route for router in ROUTERS for route in router.routes])
    if PAGE.is_dir():
        app.mount("/", StaticFiles(directory=PAGE, html=True))
    app.add_middleware(BodyLimits)
    app.add_middleware(Guard, token=token)
    app.add_middleware(SecurityHeaders)
    return app
