"""The documentation page of the API, with its styles and scripts."""

from pathlib import Path

import fastapi_offline
from fastapi import APIRouter
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from starlette.routing import Mount

from yearning.api.addresses import V1

SCRIPTS = Path(fastapi_offline.__file__).parent / "static"
PAGE = Path(__file__).parents[1] / "docs_page"

router = APIRouter(prefix=f"{V1}/docs")


@router.get("", include_in_schema=False)
def docs() -> FileResponse:
    """The page."""
    return FileResponse(PAGE / "index.html")


FILES = (
    Mount(f"{V1}/docs/files", StaticFiles(directory=SCRIPTS)),
    Mount(f"{V1}/docs/page", StaticFiles(directory=PAGE)),
)
"""What the page consists of."""
