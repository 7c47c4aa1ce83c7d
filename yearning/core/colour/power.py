"""Powers of whole lines in vectorized loops, where the C library takes one value a call."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import new_int_line, new_line

_LOG2 = np.array([2 / (n * np.log(2)) for n in (1, 3, 5, 7)], np.float32)
"""log2 m = 2/ln 2 · (s + s³/3 + s⁵/5 + …), s = (m − 1)/(m + 1)."""

_EXP2 = np.array([np.log(2) ** n / d for n, d in enumerate((1, 1, 2, 6, 24, 120, 720))], np.float32)
"""2^f = Σ (f ln 2)^n / n!."""

_HALF_ROOT = np.int32(0x3F3504F3)
"""The bits of √½: mantissas are taken from √½ to √2."""


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, error_model="numpy")
def power(line: NDArray[np.float32], exponent: np.float32, out: NDArray[np.float32]) -> None:
    """out = sign(v)·|v|^exponent for every v of a line; relative error below 1e-5.

    `exponent` is above 0; `out` is another line than `line`. What would be below 1e-38 is 0.
    """
    width = line.shape[0]
    raised = new_int_line(width)
    mantissa = new_line(width)
    bits, mantissa_bits = line.view(np.int32), mantissa.view(np.int32)
    a, b, c, d = _LOG2[0], _LOG2[1], _LOG2[2], _LOG2[3]
    for x in range(width):
        raised[x] = ((bits[x] & np.int32(0x7FFFFFFF)) - _HALF_ROOT) >> np.int32(23)
    for x in range(width):
        mantissa_bits[x] = (bits[x] & np.int32(0x7FFFFFFF)) - (raised[x] << np.int32(23))
    for x in range(width):
        s = (mantissa[x] - np.float32(1)) / (mantissa[x] + np.float32(1))
        q = s * s
        log = np.float32(raised[x]) + s * (a + q * (b + q * (c + q * d)))
        mantissa[x] = min(max(exponent * log, np.float32(-126)), np.float32(127))
    for x in range(width):
        raised[x] = np.int32(np.floor(mantissa[x] + np.float32(0.5)))
    for x in range(width):
        f = mantissa[x] - np.float32(raised[x])
        mantissa[x] = _EXP2[0] + f * (
            _EXP2[1]
            + f * (_EXP2[2] + f * (_EXP2[3] + f * (_EXP2[4] + f * (_EXP2[5] + f * _EXP2[6]))))
        )
    for x in range(width):
        mantissa_bits[x] = mantissa_bits[x] + (raised[x] << np.int32(23))
    for x in range(width):
        v = line[x]
        size = mantissa[x] if abs(v) > np.float32(1e-37) else np.float32(0)
        out[x] = size if v >= np.float32(0) else -size
