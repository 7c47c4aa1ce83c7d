"""Kinds of problems, each at the address that problems of it have as their type."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.problem_kinds import KINDS
from yearning.api.schemas.problems import ProblemKindOut
from yearning.store.errors import NotThere

router = APIRouter(prefix=f"{V1}/problems", tags=["problems"])


@router.get("")
def list_problems() -> list[ProblemKindOut]:
    """All kinds of problems."""
    return [ProblemKindOut.of(kind) for kind in KINDS]


@router.get("/{name}")
def read_problem(name: str) -> ProblemKindOut:
    """What a kind of problem means, and what a client does about it."""
    found = [kind for kind in KINDS if kind.name == name]
    if not found:
        raise NotThere(f"there is no kind of problem called '{name}'")
    return ProblemKindOut.of(found[0])
