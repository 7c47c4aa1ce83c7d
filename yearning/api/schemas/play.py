"""What starts play."""

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import LookInput


class PlayRequest(BaseModel):
    """The client's request to play."""

    clip: int
    look: LookInput
    frame: int = Field(ge=0)
    height: int = Field(540, ge=16, le=2160)
    first: int = Field(0, ge=0, description="The range that is played round and round.")
    last: int | None = Field(None, ge=0, description="Its last frame; None for the clip's.")
    after: str | None = Field(None, description="Play the picture after this step.")
    base: str | None = Field(None, description="Send this step's pictures too, to compare with.")
    change: float | None = Field(
        None,
        ge=1,
        le=64,
        description="Send how the picture differs from that instead, so magnified.",
    )

    def count(self, frames: int) -> int:
        """How many frames are played round and round, of a clip of so many."""
        return (frames if self.last is None else self.last + 1) - self.first

    def frame_at(self, following: int, frames: int) -> int:
        """The frame that is due so many after the first, of a clip of so many."""
        return self.first + (self.frame - self.first + following) % self.count(frames)


class Shown(BaseModel):
    """The client is done with a frame."""

    due: int | None = Field(
        None, ge=0, lt=1 << 31, description="How far its clock is, in frames from the first."
    )
