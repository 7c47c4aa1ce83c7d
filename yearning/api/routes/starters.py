"""Starter looks: a look to begin with, in one click."""

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yearning.starters import starters

router = APIRouter(prefix="/api", tags=["looks"])


class StarterBursts(BaseModel):
    """Frames of each burst of a step, and of its coming and going; and what counts as a beat."""

    length: int
    ramp: int
    threshold: float


class StarterOut(BaseModel):
    """A starter look, and what it is for."""

    name: str
    says: str
    look: dict[str, Any]
    bursts: dict[str, StarterBursts] = Field(
        description="Steps that are to be active in bursts, made for the clip."
    )


@router.get("/starters")
def starter_looks() -> list[StarterOut]:
    """All starter looks."""
    return [
        StarterOut(
            name=s.look.name,
            says=s.says,
            look=s.look.model_dump(mode="json"),
            bursts={step: StarterBursts(**made._asdict()) for step, made in s.bursts.items()},
        )
        for s in starters()
    ]
