"""How a clip is read: its tags, and the user's overrides."""

import re
from dataclasses import asdict, dataclass, fields, replace
from fractions import Fraction
from typing import Any, Literal, get_args

from yearning.core.colour.conversion import Light
from yearning.core.colour.matrices import Matrix, Range
from yearning.core.validation import is_count
from yearning.media.errors import MediaError

Fields = Literal["progressive", "interlaced", "top first", "bottom first"]
"""Whole frames, or two fields a frame: in the order each frame says, or always in one."""

StillLight = Literal["scene", "display"]
"""What OpenEXR stills hold the light of."""

Stretching = Literal["off", "stretched"]
"""What becomes of the sound of a clip at another speed: its pitch stays."""

BetweenFrames = Literal["hold", "dissolve", "motion"]
"""What a clip at another speed shows between two frames: the first, both, or what lies between."""

CHOICES: dict[str, tuple[str, ...]] = {
    "matrix": get_args(Matrix),
    "range": get_args(Range),
    "light": get_args(Light) + get_args(StillLight),
    "fields": get_args(Fields),
    "between": get_args(BetweenFrames),
    "sound": get_args(Stretching),
}
"""What may stand for each setting that is a word."""

MIN_RATE, MAX_RATE = 1, 1000

RATE = re.compile(r"[0-9]{1,7}(\.[0-9]{1,9}|/[0-9]{1,7})?")
"""What a rate may be written as: no exponents, of which an exact number would fill the memory."""

MAX_DEFLICKER = 240

SLOWEST, FASTEST = 0.1, 8.0


@dataclass(frozen=True)
class InputOverrides:
    """Overrides of a clip's tags; None leaves a value to the file.

    Raises:
        MediaError: a word or rate that can't stand there.
    """

    matrix: Matrix | None = None
    range: Range | None = None
    light: Light | StillLight | None = None
    fields: Fields | None = None
    rate: str | None = None
    """Frames a second that the clip is taken to, as `25` or `30000/1001`."""
    deflicker: int | None = None
    """Frames on each side over which pumping exposure is evened."""
    speed: float | None = None
    """Times as fast as it was shot."""
    between: BetweenFrames | None = None
    """What is shown between frames at that speed; None for `motion`."""
    sound: Stretching | None = None
    """What becomes of the sound at that speed; None for `off`."""

    def __post_init__(self) -> None:
        if self.deflicker is not None and not 1 <= self.deflicker <= MAX_DEFLICKER:
            raise MediaError(
                f"deflicker: {self.deflicker} is not 1 to {MAX_DEFLICKER} frames on each side"
            )
        if self.speed is not None and not SLOWEST <= self.speed <= FASTEST:
            raise MediaError(f"speed: {self.speed:g} is not {SLOWEST:g} to {FASTEST:g} times")
        for name, words in CHOICES.items():
            value = getattr(self, name)
            if value is not None and value not in words:
                raise MediaError(f"{name}: '{value}' is not one of {', '.join(words)}")
        if self.rate is not None:
            self._checked_rate(self.rate)

    @staticmethod
    def _checked_rate(rate: str) -> Fraction:
        try:
            found = Fraction(rate) if RATE.fullmatch(rate) else Fraction(0)
        except ZeroDivisionError:
            found = Fraction(0)
        if not MIN_RATE <= found <= MAX_RATE:
            raise MediaError(
                f"rate: '{rate[:24]}' is no frame rate of {MIN_RATE} to {MAX_RATE}; write frames a "
                "second, like 25 or 30000/1001"
            )
        return found

    @property
    def exact_rate(self) -> Fraction | None:
        """The rate as a fraction."""
        return None if self.rate is None else self._checked_rate(self.rate)

    @property
    def as_shot(self) -> "InputOverrides":
        """The same reading at the speed it was shot at."""
        return replace(self, speed=None, between=None, sound=None)

    @property
    def pace(self) -> Fraction:
        """The speed as an exact fraction of the speed it was shot at."""
        return Fraction(1 if self.speed is None else self.speed).limit_denominator(10_000)

    @property
    def key(self) -> str:
        """A string that tells readings of one file apart; empty where nothing is overridden."""
        return "|".join(f"{name}={value}" for name, value in self.as_json().items())

    def as_json(self) -> dict[str, Any]:
        """What is said, without what is left to the file."""
        return {name: value for name, value in asdict(self).items() if value is not None}

    @staticmethod
    def of(said: dict[str, Any]) -> "InputOverrides":
        """From what `as_json` gave.

        Raises:
            MediaError: an unknown setting, or a value that can't stand there.
        """
        known = {field.name for field in fields(InputOverrides)}
        unknown = set(said) - known
        if unknown:
            raise MediaError(f"{min(unknown)}: unknown; known are {', '.join(sorted(known))}")
        frames = said.get("deflicker")
        if isinstance(frames, str):
            if not is_count(frames):
                raise MediaError(f"deflicker: '{frames}' is no number of frames")
            said = said | {"deflicker": int(frames)}
        speed = said.get("speed")
        if isinstance(speed, str):
            try:
                said = said | {"speed": float(speed)}
            except ValueError:
                raise MediaError(f"speed: '{speed}' is no number, like 0.3") from None
        return InputOverrides(**said)


AS_TAGGED = InputOverrides()
"""Nothing said: the file's tags rule."""
