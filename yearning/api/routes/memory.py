"""How much memory the server takes."""

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yearning.api.addresses import V1
from yearning.api.dependencies import Limit, Preview
from yearning.api.memory_limit import resident_bytes

router = APIRouter(prefix=f"{V1}/memory", tags=["project"])


class MemoryOut(BaseModel):
    """Memory in bytes."""

    kept: int = Field(description="What pictures, played frames and the like are kept in.")
    budget: int = Field(description="What they are kept in at the most.")
    process: int = Field(description="All that the server takes now, the kept included.")
    limit: int = Field(
        description="What the server takes at the most, unless work in hand needs more by itself; "
        "before it takes more, what is kept goes."
    )


@router.get("")
def read_memory(preview: Preview, limit: Limit) -> MemoryOut:
    """How much is kept, of how much, and what the server takes in all."""
    return MemoryOut(
        kept=preview.cache.used_bytes,
        budget=preview.cache.max_bytes,
        process=resident_bytes(),
        limit=limit.max_bytes,
    )
