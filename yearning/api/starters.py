"""Starter looks: a look to begin with, in one click."""

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel

from yearning.starters import starters

router = APIRouter(prefix="/api", tags=["looks"])


class StarterOut(BaseModel):
    """A starter look, and what it is for."""

    name: str
    says: str
    look: dict[str, Any]


@router.get("/starters")
def starter_looks() -> list[StarterOut]:
    """All starter looks."""
    return [
        StarterOut(name=s.look.name, says=s.says, look=s.look.model_dump(mode="json"))
        for s in starters()
    ]
