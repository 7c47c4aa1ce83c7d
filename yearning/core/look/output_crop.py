"""The part of the frame that is rendered: what a look's crops leave."""

from yearning.core.look.document import Look
from yearning.core.treatments.crop import Crop


def crop_ratio(look: Look) -> float | None:
    """The ratio, width to height, that a look's last crop leaves; None where it leaves the frame.

    A crop that comes and goes, or is mixed back in part, leaves the frame.
    """
    ratio = None
    for step in look.steps:
        always = not step.bursts and not any(name.startswith("mix.") for name in step.keys)
        if step.on and isinstance(step.settings, Crop) and step.mix.replaces and always:
            ratio = step.settings.ratio
    return ratio
