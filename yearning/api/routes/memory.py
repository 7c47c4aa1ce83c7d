"""How much memory the server takes."""

import os
from pathlib import Path

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview

router = APIRouter(prefix=f"{V1}/memory", tags=["project"])


class MemoryOut(BaseModel):
    """Memory in bytes."""

    kept: int = Field(description="What pictures, played frames and the like are kept in.")
    budget: int = Field(description="What they are kept in at the most.")
    process: int = Field(description="All that the server takes now, the kept included.")


@router.get("")
def read_memory(preview: Preview) -> MemoryOut:
    """How much is kept, of how much, and what the server takes in all."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])  # resident: proc(5)
    return MemoryOut(
        kept=preview.cache.used_bytes,
        budget=preview.cache.max_bytes,
        process=pages * os.sysconf("SC_PAGE_SIZE"),
    )
