"""What tracks do at the frames of a clip."""

from yearning.core.engine.footage import Footage
from yearning.core.motion.tracks import Motion
from yearning.core.treatment.assets import Assets


def track_motion(footage: Footage, assets: Assets, name: str, frame: int) -> Motion | None:
    """Return what a track does at a frame; None where it is of another clip, or can't be had.

    Args:
        footage: the clip.
        assets: gives the track.
        name: of the track's file.
        frame: of the clip.
    """
    track = assets.track(name)
    if track is None or footage.footage_id not in (None, track.clip):
        return None
    return track.motion_at(footage.source_frame(frame))
