"""How far the kernels are compiled that pictures need."""

from fastapi import APIRouter

from yearning.api.dependencies import CurrentReadiness
from yearning.api.readiness import ReadinessOut

router = APIRouter(prefix="/api/readiness", tags=["project"])


@router.get("")
def readiness(current: CurrentReadiness) -> ReadinessOut:
    """How many of the jobs are done; ready when all are."""
    return current.state
