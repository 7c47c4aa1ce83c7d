"""How far the kernels are compiled that pictures need."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentReadiness
from yearning.api.readiness import ReadinessOut

router = APIRouter(prefix=f"{V1}/readiness", tags=["project"])


@router.get("")
def read_readiness(current: CurrentReadiness) -> ReadinessOut:
    """How many of the jobs are done; ready when all are."""
    return current.state
