"""What starts play."""

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import LookInput


class _Range(BaseModel):
    """Which frames are played, and how large."""

    frame: int = Field(ge=0)
    height: int = Field(540, ge=16, le=2160)
    first: int = Field(0, ge=0, description="The range that is played round and round.")
    last: int | None = Field(None, ge=0, description="Its last frame; None for the last of all.")

    def count(self, frames: int) -> int:
        """How many frames are played round and round, of so many."""
        return (frames if self.last is None else self.last + 1) - self.first

    def frame_at(self, following: int, frames: int) -> int:
        """Return the frame that is due so many after the first, round and round.

        Args:
            following: how many after.
            frames: of the clip.
        """
        return self.first + (self.frame - self.first + following) % self.count(frames)

    def check(self, frames: int, whose: str) -> None:
        """Make sure that there are such frames.

        Args:
            frames: of the clip.
            whose: what errors begin with.

        Raises:
            IndexError: there are not.
        """
        last = frames - 1 if self.last is None else self.last
        if not self.first <= self.frame <= last < frames:
            raise IndexError(
                f"frame {self.frame} of {self.first} to {last} is out of range; the {whose} has "
                f"{frames}"
            )


class ReelPlayRequest(_Range):
    """The client's request to play a reel, cuts and all."""

    reel: int
    plain: bool = Field(False, description="The clips as shot, without their looks.")


class PlayRequest(_Range):
    """The client's request to play a clip through a look."""

    clip: int
    look: LookInput
    after: str | None = Field(None, description="Play the picture after this step.")
    base: str | None = Field(None, description="Send this step's pictures too, to compare with.")
    change: float | None = Field(
        None,
        ge=1,
        le=64,
        description="Send how the picture differs from that instead, so magnified.",
    )


class Shown(BaseModel):
    """The client is done with a frame."""

    due: int | None = Field(
        None, ge=0, lt=1 << 31, description="How far its clock is, in frames from the first."
    )
