"""Boundaries between the shots of a clip, found in the background."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import Boundaries, CurrentProject
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.boundaries import BoundariesOut, BoundariesRequest

router = APIRouter(prefix=f"{V1}/boundaries", tags=["boundaries"])


@router.post("/finding", status_code=202, responses=OF_CLIP)
def find_boundaries(
    project: CurrentProject, finder: Boundaries, ask: BoundariesRequest
) -> BoundariesOut:
    """Begin to look through a clip for its cuts; `GET` the same says how far that is."""
    clip = project.clips.get(ask.clip)
    end = clip.probe["frames"] - 1
    last = end if ask.last is None else ask.last
    if not ask.first <= last <= end:
        raise IndexError(f"frames {ask.first} to {last}: {clip.name} has frames 0 to {end}")
    return BoundariesOut.model_validate(finder.find(clip, range(ask.first, last + 1)))


@router.get("/finding")
def read_boundary_finding(finder: Boundaries) -> BoundariesOut | None:
    """What is being looked through or was last, and what is found."""
    return None if finder.status is None else BoundariesOut.model_validate(finder.status)


@router.post("/finding/stop", status_code=204)
def stop_boundary_finding(finder: Boundaries) -> None:
    """Stop looking; what was found till then is kept in mind."""
    finder.stop()
