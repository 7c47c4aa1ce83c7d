"""Timecode: SMPTE ST 12-1, with and without dropped numbers."""

import re
from fractions import Fraction
from typing import NamedTuple

_WRITTEN = re.compile(r"(\d{1,2}):(\d{1,2}):(\d{1,2})([:;.])(\d{1,3})")

SECONDS_A_DAY = 24 * 3600


class Timecode(NamedTuple):
    """A frame's number within a day, and how it is counted.

    `rate` is the real rate; labels count `nominal` frames a second. With `drop`, the labels leave
    out numbers 0 and 1 (0 to 3 at nominal 60) of every minute but each tenth (ST 12-1, 5.2.2), so
    that they keep pace with the clock at rates of 1000/1001.
    """

    frame: int
    rate: Fraction
    drop: bool

    @property
    def nominal(self) -> int:
        """Frames the labels count in a second."""
        return max(1, round(self.rate))

    @staticmethod
    def parse(text: str, rate: Fraction) -> "Timecode":
        """Return the timecode written as `HH:MM:SS:FF`, with `;` before the frames for drop-frame.

        Args:
            text: the timecode.
            rate: frames a second.

        Raises:
            ValueError: not a timecode, or a number that is beyond its place or dropped.
        """
        match = _WRITTEN.fullmatch(text.strip())
        nominal = max(1, round(rate))
        if match is None:
            raise ValueError(f"'{text}' is no timecode; write HH:MM:SS:FF")
        hours, minutes, seconds, frames = (int(match[n]) for n in (1, 2, 3, 5))
        drop = match[4] != ":" and _droppable(rate)
        if hours > 23 or minutes > 59 or seconds > 59 or frames >= nominal:
            raise ValueError(f"'{text}' is no timecode at {nominal} frames a second")
        dropped = _dropped_a_minute(nominal) if drop else 0
        if seconds == 0 and minutes % 10 and frames < dropped:
            raise ValueError(f"'{text}' is a number that drop-frame timecode leaves out")
        whole_minutes = 60 * hours + minutes
        counted = (60 * whole_minutes + seconds) * nominal + frames
        return Timecode(counted - dropped * (whole_minutes - whole_minutes // 10), rate, drop)

    def plus(self, frames: int) -> "Timecode":
        """The timecode that many frames later, past midnight from 0 again.

        >>> str(Timecode.parse("00:00:59;29", Fraction(30000, 1001)).plus(1))
        '00:01:00;02'
        """
        day = SECONDS_A_DAY * self.nominal
        if self.drop:
            day -= _dropped_a_minute(self.nominal) * (24 * 60 - 24 * 6)
        return self._replace(frame=(self.frame + frames) % day)

    def __str__(self) -> str:
        number = self.frame
        if self.drop:
            dropped = _dropped_a_minute(self.nominal)
            a_minute = 60 * self.nominal - dropped
            ten = 10 * a_minute + dropped
            tens, rest = divmod(number, ten)
            number += 9 * dropped * tens
            if rest >= 60 * self.nominal:
                number += dropped * (1 + (rest - 60 * self.nominal) // a_minute)
        seconds, frames = divmod(number, self.nominal)
        digits = len(str(self.nominal - 1))
        mark = ";" if self.drop else ":"
        clock = f"{seconds // 3600 % 24:02}:{seconds // 60 % 60:02}:{seconds % 60:02}"
        return f"{clock}{mark}{frames:0{max(2, digits)}}"


def _droppable(rate: Fraction) -> bool:
    """Whether drop-frame counting is defined: 30000/1001 and 60000/1001."""
    return rate in (Fraction(30000, 1001), Fraction(60000, 1001))


def _dropped_a_minute(nominal: int) -> int:
    return nominal // 15
