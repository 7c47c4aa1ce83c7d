"""The project's name, and the catalogue that looks are made from."""

from fastapi import APIRouter

from yearning import __version__
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.catalogue import CatalogueOut, ProjectOut, catalogue

router = APIRouter(prefix="/api", tags=["project"])


@router.get("/project")
def project(project: CurrentProject) -> ProjectOut:
    """Which project is open."""
    return ProjectOut(name=project.name, version=__version__, read_only=project.read_only)


@router.get("/catalogue")
def treatments() -> CatalogueOut:
    """Treatments with their settings, blend modes, and stages."""
    return catalogue()
