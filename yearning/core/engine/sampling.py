"""Pictures of a look from frames spread over a clip, as what is measured of a whole clip takes."""

from collections.abc import Iterator

from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Picture
from yearning.core.treatment.clip_tones import sample_frames


def sampled_pictures(evaluator: Evaluator, number: int) -> Iterator[Picture]:
    """Yield a picture of the graph on the frames of `sample_frames`, in order.

    The footage that each is made of is decoded forward before it, however the steps read it.

    Args:
        evaluator: of the look.
        number: of the picture.
    """
    for frame in sample_frames(evaluator.footage.frames):
        read_forward(evaluator, frame)
        yield evaluator.picture_of(frame, number)


def read_forward(evaluator: Evaluator, frame: int) -> None:
    """Decode what the result at a frame is made of, in order.

    Args:
        evaluator: of the look.
        frame: of the footage.
    """
    reach = evaluator.reach(frame)
    for each in range(frame - reach.before, frame + reach.after + 1):
        evaluator.prefetch(each)
