"""Starter looks: a look to begin with, in one click."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.schemas.starters import StarterBursts, StarterOut
from yearning.starters import Starter, starters
from yearning.store.errors import NotThere

router = APIRouter(prefix=V1, tags=["looks"])


@router.get("/starters")
def list_starters() -> list[StarterOut]:
    """All starter looks."""
    return [_starter_out(starter) for starter in starters()]


@router.get("/starters/{name}")
def read_starter(name: str) -> StarterOut:
    """One starter look, by its name."""
    found = [starter for starter in starters() if starter.look.name == name]
    if not found:
        known = ", ".join(starter.look.name for starter in starters())
        raise NotThere(f"no starter look is called '{name}'; there are {known}")
    return _starter_out(found[0])


def _starter_out(starter: Starter) -> StarterOut:
    return StarterOut(
        name=starter.look.name,
        summary=starter.summary,
        look=starter.look.model_dump(mode="json"),
        bursts={step: StarterBursts(**made._asdict()) for step, made in starter.bursts.items()},
    )
