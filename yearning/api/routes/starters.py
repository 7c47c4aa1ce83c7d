"""Starter looks: a look to begin with, in one click."""

from fastapi import APIRouter

from yearning.api.schemas.starters import StarterBursts, StarterOut
from yearning.starters import starters

router = APIRouter(prefix="/api", tags=["looks"])


@router.get("/starters")
def starter_looks() -> list[StarterOut]:
    """All starter looks."""
    return [
        StarterOut(
            name=s.look.name,
            summary=s.summary,
            look=s.look.model_dump(mode="json"),
            bursts={step: StarterBursts(**made._asdict()) for step, made in s.bursts.items()},
        )
        for s in starters()
    ]
