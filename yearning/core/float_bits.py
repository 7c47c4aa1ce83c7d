"""Numbers as their bits and back, inside kernels: loops over these are vectorized."""

from llvmlite import ir
from numba.core import types
from numba.extending import intrinsic


@intrinsic
def float_bits(_: object, number: types.Type) -> object:
    """The bits of a float32, as an int32."""
    return types.int32(
        types.float32
    ), lambda context, builder, signature, arguments: builder.bitcast(arguments[0], ir.IntType(32))


@intrinsic
def float_of_bits(_: object, bits: types.Type) -> object:
    """The float32 that has the bits of an int32."""
    return types.float32(
        types.int32
    ), lambda context, builder, signature, arguments: builder.bitcast(arguments[0], ir.FloatType())
