"""Between display-coded values and light.

Both ways go by a power of a fifth or a twelfth, found as the reciprocal square root commonly is:
the bits of a number, taken as an integer, are nearly its logarithm, which gives a first guess g of
v^(−1/q) to within 4 %; v·g^q tells how far off it is, and a polynomial of that sets it right. The C
library takes one value a call; loops over these are vectorized.
"""

import numba
import numpy as np

from yearning.core.float_bits import float_bits, float_of_bits

DISPLAY_GAMMA = np.float32(2.4)
"""ITU-R BT.1886 annex 1: reference display gamma, here with a black level of zero light."""

_DARKEST = np.float32(1e-12)
"""Below it a power is taken as if it were this."""

_FIFTH, _TWELFTH = np.float32(1 / 5), np.float32(1 / 12)

_FIFTH_BITS, _TWELFTH_BITS = np.float32(1.2779373e9), np.float32(1.1537133e9)
"""From which a part of a number's bits is taken: guesses are as often too high as too low."""

# r^(−1/5) from 0.855 to 1.17 and r^(−1/12) from 0.7 to 1.43, to within 2.2e-6 and without error
# for 1: fitted by Lawson's reweighted least squares.
_A0, _A1, _A2, _A3, _A4 = (
    np.float32(value) for value in (1.4786189, -0.9846325, 0.8021961, -0.364982, 0.068799324)
)
_B0, _B1, _B2, _B3, _B4, _B5 = (
    np.float32(value)
    for value in (1.20409, -0.4616003, 0.47235304, -0.31004605, 0.112303548, -0.017100489)
)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def mirrored_light(code: np.float32) -> np.float32:
    """Light of a display-coded value: sign(V)·|V|^2.4 (BT.1886); relative error 4e-6."""
    seen = max(abs(code), _DARKEST)
    guess = float_of_bits(np.int32(_FIFTH_BITS - np.float32(float_bits(seen)) * _FIFTH))
    square = guess * guess
    near = seen * guess
    off = near * (square * square)
    two = off * off
    right = (_A0 + off * _A1) + two * ((_A2 + off * _A3) + two * _A4)
    part = near * right
    return (code * guess * right) * (part * part)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def mirrored_code(light: np.float32) -> np.float32:
    """Display-coded value of light: sign(L)·|L|^(1/2.4) (BT.1886); relative error 3e-6."""
    size = abs(light)
    seen = max(size, _DARKEST)
    guess = float_of_bits(np.int32(_TWELFTH_BITS - np.float32(float_bits(seen)) * _TWELFTH))
    square = guess * guess
    fourth = square * square
    off = (seen * fourth) * (fourth * fourth)
    two = off * off
    right = (_B0 + off * _B1) + two * ((_B2 + off * _B3) + two * (_B4 + off * _B5))
    code = np.float32((np.sqrt(size) * guess) * right)
    return code if light >= np.float32(0) else -code


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def to_light(code: np.float32) -> np.float32:
    """Light 0..1 of a display-coded value, none below black: max(V, 0)^2.4."""
    return mirrored_light(max(code, np.float32(0)))


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def to_code(light: np.float32) -> np.float32:
    """Display-coded value of light, of none black: max(L, 0)^(1/2.4)."""
    return mirrored_code(max(light, np.float32(0)))
