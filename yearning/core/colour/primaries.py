"""Sets of primaries: from one set's light to another's."""

import numpy as np
from numpy.typing import NDArray

WHITE_D65 = (0.3127, 0.3290)

BT709 = ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))
"""ITU-R BT.709-6, item 1.3: x, y of red, green and blue; white is D65 (item 1.4)."""

BT2020 = ((0.708, 0.292), (0.170, 0.797), (0.131, 0.046))
"""ITU-R BT.2020-2, table 3."""

Chromaticities = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


def to_xyz(primaries: Chromaticities) -> NDArray[np.float64]:
    """The matrix from R, G, B light to CIE XYZ, white at Y = 1 (SMPTE RP 177, section 3.3)."""
    xyz = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    x, y = WHITE_D65
    white = np.array([x / y, 1.0, (1 - x - y) / y])
    return np.asarray(xyz * np.linalg.solve(xyz, white), np.float64)


def primaries_matrix(source: Chromaticities, target: Chromaticities) -> NDArray[np.float64]:
    """Return the matrix from light of one set of primaries to that of another, both of white D65.

    Args:
        source: (x, y) of R, G and B.
        target: the same.
    """
    return np.asarray(np.linalg.solve(to_xyz(target), to_xyz(source)), np.float64)
