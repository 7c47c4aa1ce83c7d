"""Movies of reels: all shots in one file, with their sound."""

from dataclasses import asdict
from pathlib import Path

from fastapi import APIRouter
from fastapi.responses import FileResponse

from yearning.api.addresses import V1
from yearning.api.attachments import answers
from yearning.api.dependencies import CurrentProject, Movies, Renders
from yearning.api.paging import CurrentPage
from yearning.api.problems import problems
from yearning.api.schemas.movies import MadeMovieOut, MovieOut, MovieRequest
from yearning.core.validation import Whole
from yearning.library.movies_made import movies_of
from yearning.media.containers import CONTAINERS
from yearning.store.errors import NotThere

router = APIRouter(prefix=f"{V1}/movies", tags=["movies"])


@router.get("")
def list_movies(project: CurrentProject, page: CurrentPage, reel: Whole) -> list[MadeMovieOut]:
    """The movies that were made of a reel and are there, the last one first."""
    return page.of_all(
        [
            MadeMovieOut(**asdict(movie), bytes=movie.path(project).stat().st_size)
            for movie in movies_of(project, reel)
        ]
    )


@router.post("/making", status_code=202, responses=problems(404))
def make_movie(
    project: CurrentProject, queue: Renders, movies: Movies, ask: MovieRequest
) -> MovieOut:
    """Begin to make a reel one movie: shots that are not rendered so are, then all are joined.

    `GET` the same says how far that is.
    """
    added, status = movies.make(ask.reel, project.reels.get(ask.reel).body, ask.result)
    for render in added:
        queue.wake(render)
    return MovieOut.model_validate(status)


@router.get("/making")
def read_movie_making(movies: Movies) -> MovieOut | None:
    """The movie that is being made or was made last, and how far it is."""
    return None if movies.status is None else MovieOut.model_validate(movies.status)


@router.post("/making/stop", status_code=204)
def stop_movie_making(movies: Movies) -> None:
    """Make no movie; the renders of its shots go on."""
    movies.stop()


@router.get(
    "/{file}/file", response_class=FileResponse, responses=answers("application/octet-stream")
)
def read_movie_file(project: CurrentProject, file: str) -> FileResponse:
    """A movie, as its file."""
    path = project.folder / "renders" / Path(file).name
    container = CONTAINERS.get(path.suffix.lower())
    if container is None or not path.is_file():
        raise NotThere(f"the project has no movie {file[:80]}")
    return FileResponse(path, media_type=container.media_type, filename=path.name)
