"""Clips that show their frames as they were shot."""


class AsShot:
    """Base of clips that show their frames as they were shot."""

    footage_id: str | None = None
    """SHA-256 of the clip's file, where that is known."""

    def source_frame(self, frame: int) -> float:
        """Which of the frames as they were shot frame `frame` shows: that one."""
        return frame
