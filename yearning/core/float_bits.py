"""Numbers as their bits and back, inside kernels: loops over these are vectorized."""

from collections.abc import Callable
from typing import Any, cast

import numpy as np
from llvmlite import ir
from numba.core import types
from numba.extending import intrinsic


def _float_bits(_: Any, number: types.Type) -> Any:
    """The bits of a float32, as an int32."""
    return types.int32(
        types.float32
    ), lambda context, builder, signature, arguments: builder.bitcast(arguments[0], ir.IntType(32))


def _float_of_bits(_: Any, bits: types.Type) -> Any:
    """The float32 that has the bits of an int32."""
    return types.float32(
        types.int32
    ), lambda context, builder, signature, arguments: builder.bitcast(arguments[0], ir.FloatType())


float_bits = cast(Callable[[np.float32], np.int32], intrinsic(_float_bits))
float_of_bits = cast(Callable[[np.int32], np.float32], intrinsic(_float_of_bits))
