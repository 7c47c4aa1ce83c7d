"""Optimal transport between distributions of colour, taken as Gaussian.

Source: F. Pitié and A. Kokaram, The Linear Monge-Kantorovitch Linear Colour Mapping for
Example-Based Colour Transfer, CVMP 2007.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Matrix = NDArray[np.float64]

SMALLEST_VARIANCE = 1e-6
"""What no direction of a distribution varies less than: noise of a quarter of an 8-bit code."""


class ColourDistribution(NamedTuple):
    """The mean, shape `(3,)`, and the covariance, shape `(3, 3)`, of colours."""

    mean: Matrix
    covariance: Matrix


class ColourMap(NamedTuple):
    """An affine map of colours: `matrix · colour + offset`."""

    matrix: Matrix
    offset: Matrix

    def apply(self, colours: NDArray[np.floating]) -> Matrix:
        """Colours, shape `(3, n)`, taken through the map."""
        return np.asarray(self.matrix @ colours + self.offset[:, None])


def distribution_of(colours: NDArray[np.floating]) -> ColourDistribution:
    """The distribution of colours, shape `(3, n)`, n 2 at least."""
    colours = np.asarray(colours, np.float64)
    covariance = np.cov(colours) + SMALLEST_VARIANCE * np.eye(3)
    return ColourDistribution(colours.mean(axis=1), covariance)


def transport(source: ColourDistribution, target: ColourDistribution) -> ColourMap:
    """Return the map that takes one Gaussian to another and moves colours least.

    Its matrix is U^-½ (U^½ V U^½)^½ U^-½, of the covariances U and V (section 3, equation 6).

    Args:
        source: mean and covariance of what is mapped.
        target: of what it becomes.

    >>> wide = ColourDistribution(np.zeros(3), 4 * np.eye(3))
    >>> transport(wide, ColourDistribution(np.ones(3), np.eye(3))).matrix.round(6).tolist()
    [[0.5, 0.0, 0.0], [0.0, 0.5, 0.0], [0.0, 0.0, 0.5]]
    """
    root = _power(source.covariance, 0.5)
    inverse = _power(source.covariance, -0.5)
    matrix = inverse @ _power(root @ target.covariance @ root, 0.5) @ inverse
    return ColourMap(matrix, target.mean - matrix @ source.mean)


def transport_distance(source: ColourDistribution, target: ColourDistribution) -> float:
    """Return the root mean square by which that map moves a channel: 2-Wasserstein distance / √3.

    Args:
        source: mean and covariance of what is mapped.
        target: of what it becomes.

    Source: D. C. Dowson and B. V. Landau, The Fréchet Distance between Multivariate Normal
    Distributions, Journal of Multivariate Analysis 12, 1982.
    """
    root = _power(source.covariance, 0.5)
    common = _power(root @ target.covariance @ root, 0.5)
    apart = np.sum((source.mean - target.mean) ** 2)
    apart += np.trace(source.covariance + target.covariance - 2 * common)
    return float(np.sqrt(max(apart, 0) / 3))


def _power(matrix: Matrix, exponent: float) -> Matrix:
    """A power of a symmetric matrix without negative eigenvalues."""
    values, vectors = np.linalg.eigh(matrix)
    floor = np.finfo(np.float64).tiny
    return np.asarray((vectors * np.maximum(values, floor) ** exponent) @ vectors.T)
