"""The project's name, and the catalogue that looks are made from."""

from functools import cache

from fastapi import APIRouter, Response

from yearning import __version__
from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.catalogue import CatalogueOut, ProjectOut, TreatmentOut, catalogue
from yearning.core.treatments import TREATMENTS
from yearning.store.errors import NotThere

router = APIRouter(prefix=V1, tags=["project"])


@router.get("/project")
def read_project(project: CurrentProject) -> ProjectOut:
    """Which project is open."""
    return ProjectOut(name=project.name, version=__version__, read_only=project.read_only)


@router.get("/catalogue", response_model=CatalogueOut)
def read_catalogue() -> Response:
    """Treatments with their settings, blend modes, and stages."""
    return Response(_catalogue_json(), media_type="application/json")


@cache
def _catalogue_json() -> str:
    """Written once: it is the same for as long as the server runs, and each page begins with it."""
    return catalogue().model_dump_json(by_alias=True)


@router.get("/treatments/{kind}")
def read_treatment(kind: str) -> TreatmentOut:
    """One treatment with its settings."""
    if kind not in TREATMENTS:
        raise NotThere(f"no treatment is called '{kind}'; there are {', '.join(TREATMENTS)}")
    return TreatmentOut.of(TREATMENTS[kind])
