"""The project's name, and the catalogue that looks are made from."""

from fastapi import APIRouter

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


@router.get("/catalogue")
def read_catalogue() -> CatalogueOut:
    """Treatments with their settings, blend modes, and stages."""
    return catalogue()


@router.get("/treatments/{kind}")
def read_treatment(kind: str) -> TreatmentOut:
    """One treatment with its settings."""
    if kind not in TREATMENTS:
        raise NotThere(f"no treatment is called '{kind}'; there are {', '.join(TREATMENTS)}")
    return TreatmentOut.of(TREATMENTS[kind])
