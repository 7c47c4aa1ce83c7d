"""How the page was left, kept with the project: it opens so again, in any browser."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.page import PageMemory

NAME = "page"

router = APIRouter(prefix=f"{V1}/page", tags=["project"])


@router.get("")
def read_page(project: CurrentProject) -> PageMemory:
    """How the page was left; as it is made where it never was."""
    return PageMemory.model_validate(project.setting(NAME))


@router.put("")
def keep_page(project: CurrentProject, memory: PageMemory) -> PageMemory:
    """Keep how the page is now."""
    project.set_setting(NAME, memory.model_dump(mode="json"))
    return memory
