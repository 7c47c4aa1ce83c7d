"""Steadiness and flashes of whole reels, measured in the background."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject, ReelMeasurements
from yearning.api.problems import problems
from yearning.api.schemas.reel_steadiness import ReelSteadinessOut, ReelSteadinessRequest

router = APIRouter(prefix=f"{V1}/reel-steadiness", tags=["reels"])


@router.post("/measuring", status_code=202, responses=problems(404))
def measure_reel(
    project: CurrentProject, measurer: ReelMeasurements, ask: ReelSteadinessRequest
) -> ReelSteadinessOut:
    """Begin to measure a reel as it is; `GET` the same says how far it is, and what was found."""
    return ReelSteadinessOut.model_validate(measurer.measure(project.reels.get(ask.reel)))


@router.get("/measuring")
def read_reel_measuring(measurer: ReelMeasurements) -> ReelSteadinessOut | None:
    """The reel that is being measured or was last, and what was found."""
    status = measurer.status
    return None if status is None else ReelSteadinessOut.model_validate(status)


@router.post("/measuring/stop", status_code=204)
def stop_reel_measuring(measurer: ReelMeasurements) -> None:
    """Stop measuring; nothing of it is kept."""
    measurer.stop()
