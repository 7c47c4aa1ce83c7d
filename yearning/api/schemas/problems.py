"""Kinds of problems as responses."""

from pydantic import BaseModel, Field

from yearning.api.problem_kinds import ProblemKind


class ProblemKindOut(BaseModel):
    """A kind of problem."""

    type: str = Field(description="What problems of it have as their type.")
    status: int
    title: str
    summary: str = Field(description="What has happened, and what a client does about it.")

    @staticmethod
    def of(kind: ProblemKind) -> "ProblemKindOut":
        """From the kind."""
        return ProblemKindOut(
            type=kind.uri, status=kind.status, title=kind.title, summary=kind.summary
        )
