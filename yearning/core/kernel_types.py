"""Numba's types of arrays, without a type of its own for those that are not to be written to.

Numba compiles a kernel anew for each mix of arrays that may be written to and that may not: kept
pictures are read-only, those just made are not, and every kernel that meets both would be compiled
twice, up to 20 seconds each, the second time while somebody waits. Here both have one type. That a
kernel leaves what it reads as it is, numba therefore does not check; tests do.
"""

from typing import Any

import numpy as np
from numba.core.typing.typeof import Purpose, typeof_impl

_typeof_array = typeof_impl.dispatch(np.ndarray)


def _typeof_argument(value: Any, context: Any) -> Any:
    """The type of an array as a kernel's argument; as a constant of its code it is as before."""
    found = _typeof_array(value, context)
    if found is None or context.purpose is not Purpose.argument or found.mutable:
        return found
    return found.copy(readonly=False)


typeof_impl.register(np.ndarray, _typeof_argument)
