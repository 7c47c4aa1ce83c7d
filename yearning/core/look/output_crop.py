"""What of the frame a look leaves to be rendered."""

from yearning.core.look.document import Look
from yearning.core.treatments.crop import Crop


def crop_ratio(look: Look) -> float | None:
    """Width to height of what the look's last crop leaves, in the middle; None for the frame.

    A crop that comes and goes, or is mixed back in part, leaves the frame.
    """
    ratio = None
    for step in look.steps:
        mixing = step.mix
        whole = mixing.blend == "normal" and mixing.amount == 1 and mixing.tones is None
        always = not step.bursts and not any(name.startswith("mix.") for name in step.keys)
        if step.on and isinstance(step.settings, Crop) and whole and always:
            ratio = step.settings.ratio
    return ratio
