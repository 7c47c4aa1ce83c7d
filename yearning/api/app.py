"""The application: routes, the built pages, and what they share."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import APIRouter, FastAPI, Request
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles

from yearning import __version__
from yearning.api import (
    clips,
    curves,
    examining,
    looks,
    marks,
    measure,
    pictures,
    plates,
    play,
    readings,
    renders,
    starters,
    tables,
    timing,
)
from yearning.api.guard import Guard
from yearning.api.preview import Desk
from yearning.api.problems import add_problems
from yearning.api.schemas.base import CatalogueOut, ProjectOut, catalogue
from yearning.farm.queue import RenderQueue
from yearning.store.project import Project

PAGES = Path(__file__).parent.parent / "web"

router = APIRouter(prefix="/api", tags=["project"])


@router.get("/project")
def project(request: Request) -> ProjectOut:
    """Which project is open."""
    return ProjectOut(name=request.app.state.desk.project.name, version=__version__)


@router.get("/catalogue")
def treatments() -> CatalogueOut:
    """Treatments with their settings, blend modes, and stages."""
    return catalogue()


def _operation_name(route: APIRoute) -> str:
    return route.name


def create_app(project: Project | None, token: str | None = None) -> FastAPI:
    """The application on a project; without one, only its OpenAPI document can be asked for."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        if project is None:
            yield
            return
        app.state.desk = Desk(project)
        app.state.renders = RenderQueue(project)
        app.state.examiner = examining.Examiner(app.state.desk)
        yield
        app.state.examiner.close()
        app.state.renders.close()
        app.state.desk.close()

    app = FastAPI(
        title="Yearning",
        version=__version__,
        lifespan=lifespan,
        generate_unique_id_function=_operation_name,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    add_problems(app)
    for part in (
        clips,
        curves,
        examining,
        looks,
        marks,
        measure,
        pictures,
        plates,
        play,
        readings,
        renders,
        starters,
        tables,
        timing,
    ):
        app.include_router(part.router)
    app.include_router(renders.farm_router)
    app.include_router(router)
    if PAGES.is_dir():
        app.mount("/", StaticFiles(directory=PAGES, html=True))
    app.add_middleware(Guard, token=token)
    return app
