"""Powers of whole lines in vectorized loops, where the C library takes one value a call."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.float_bits import float_bits, float_of_bits

_HALF_ROOT = np.int32(0x3F3504F3)
"""The bits of √½: mantissas are taken from √½ to √2."""

_SIZE_BITS = np.int32(0x7FFFFFFF)
_EXPONENT_BITS = np.int32(-0x800000)

_ROUNDING = np.float32(3 << 22)
"""A float32 of a few thousands plus this is rounded to whole, and its last bits are the number."""

# log2(1 + f) = f · Σ Lₙ fⁿ from √½ − 1 to √2 − 1, to within 3e-7; 2^g = 1 + g · Σ Eₙ gⁿ from −½ to
# ½, to within 1e-7 of it: fitted by Lawson's reweighted least squares.
_L0, _L1, _L2, _L3, _L4, _L5, _L6 = (
    np.float32(value)
    for value in (1.4426997, -0.7213758, 0.48046625, -0.3589632, 0.29725045, -0.2726866, 0.17065847)
)
_E0, _E1, _E2, _E3, _E4 = (
    np.float32(value) for value in (0.693147, 0.24022242, 0.055507336, 0.009671511, 0.0013264767)
)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def power(line: NDArray[np.float32], exponent: np.float32, out: NDArray[np.float32]) -> None:
    """Write sign(v)·|v|^exponent for every v of a line; relative error below 1e-5; 0 and 1 stay.

    What would be below 1e-38 is 0.

    Args:
        line: the values.
        exponent: above 0.
        out: another line than `line`.
    """
    for x in range(line.shape[0]):
        out[x] = min(max(exponent * _log2(line[x]), np.float32(-126)), np.float32(127))
    for x in range(line.shape[0]):
        v = line[x]
        size = exp2(out[x]) if abs(v) > np.float32(1e-37) else np.float32(0)
        out[x] = size if v >= np.float32(0) else -size


# Polynomials are written as trees (Estrin): what a loop waits for is how long they are.


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _log2(value: np.float32) -> np.float32:
    """log2 |v|, of 0 some number."""
    bits = np.int32(float_bits(value) & _SIZE_BITS)
    twos = np.int32(np.int32(bits - _HALF_ROOT) & _EXPONENT_BITS)
    f = float_of_bits(np.int32(bits - twos)) - np.float32(1)
    ff = f * f
    higher = (_L2 + f * _L3) + ff * ((_L4 + f * _L5) + ff * _L6)
    return np.float32(np.int32(twos >> np.int32(23))) + f * ((_L0 + f * _L1) + ff * higher)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def exp2(raised: np.float32) -> np.float32:
    """2^raised, for −126 to 127; relative error below 1e-6 near 0."""
    shifted = raised + _ROUNDING
    g = raised - (shifted - _ROUNDING)
    gg = g * g
    part = (np.float32(1) + g * _E0) + gg * ((_E1 + g * _E2) + gg * (_E3 + g * _E4))
    return float_of_bits(np.int32(float_bits(part) + np.int32(float_bits(shifted) << np.int32(23))))
