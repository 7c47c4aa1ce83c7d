"""Frames a second as timelines write them."""

from fractions import Fraction


def exact_rate(given: float) -> Fraction:
    """A rate as a fraction: 25 is 25, and 23.976 is 24000/1001.

    >>> str(exact_rate(23.976)), str(exact_rate(25.0))
    ('24000/1001', '25')
    """
    whole, slower = round(given), Fraction(round(given * 1.001) * 1000, 1001)
    if abs(given - whole) < 1e-3:
        return Fraction(max(whole, 1))
    if abs(given - float(slower)) < 5e-3:
        return slower
    return Fraction(given).limit_denominator(1001)
