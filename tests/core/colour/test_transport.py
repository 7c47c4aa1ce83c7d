"""Optimal transport of colour, against the closed form and on Gaussians that are known."""

import numpy as np
import pytest
import scipy.linalg

from yearning.core.colour.transport import (
    ColourDistribution,
    distribution_of,
    transport,
    transport_distance,
)


def known_gaussian(seed):
    """A Gaussian within what colours do, of a known mean and covariance."""
    rng = np.random.default_rng(seed)
    spread = rng.normal(0, 0.12, (3, 3))
    return ColourDistribution(rng.uniform(0.2, 0.8, 3), spread @ spread.T + 1e-4 * np.eye(3))


PAIRS = [(known_gaussian(seed), known_gaussian(seed + 100)) for seed in range(6)]


@pytest.mark.parametrize(("source", "target"), PAIRS)
def test_the_matrix_is_the_closed_form(source, target):
    """Pitié and Kokaram, CVMP 2007, by SciPy's matrix square root in float64."""
    root = scipy.linalg.sqrtm(source.covariance).real
    inverse = np.linalg.inv(root)
    wanted = inverse @ scipy.linalg.sqrtm(root @ target.covariance @ root).real @ inverse
    matrix = transport(source, target).matrix
    np.testing.assert_allclose(matrix, wanted, atol=1e-7)
    np.testing.assert_allclose(matrix, matrix.T, atol=1e-9)
    assert np.linalg.eigvalsh(matrix).min() > 0


@pytest.mark.parametrize(("source", "target"), PAIRS)
def test_a_gaussian_comes_to_have_the_others_mean_and_covariance(source, target):
    found = transport(source, target)
    mean = found.apply(source.mean[:, None])[:, 0]
    np.testing.assert_allclose(mean, target.mean, atol=1e-9)
    covariance = found.matrix @ source.covariance @ found.matrix.T
    np.testing.assert_allclose(covariance, target.covariance, atol=1e-9)


@pytest.mark.parametrize(("source", "target"), PAIRS)
def test_colours_are_moved_by_the_distance_and_no_map_to_the_other_moves_them_less(source, target):
    colours = np.random.default_rng(5).multivariate_normal(source.mean, source.covariance, 40_000).T
    source = distribution_of(colours)
    best = transport(source, target)
    moved = np.sqrt(np.mean((best.apply(colours) - colours) ** 2))
    assert moved == pytest.approx(transport_distance(source, target), rel=0.01)
    # any such map is the best one with a rotation of the whitened colours between
    cholesky = np.linalg.cholesky(target.covariance) @ np.linalg.inv(
        np.linalg.cholesky(source.covariance)
    )
    other = cholesky @ (colours - source.mean[:, None]) + target.mean[:, None]
    np.testing.assert_allclose(np.cov(other), target.covariance, atol=1e-4)
    assert np.sqrt(np.mean((other - colours) ** 2)) >= moved - 1e-6


def test_the_distance_of_gaussians_along_the_axes_is_that_of_means_and_deviations():
    """Dowson and Landau 1982: where covariances commute, deviations lie apart as numbers do."""
    deviations = np.array([0.1, 0.2, 0.05]), np.array([0.2, 0.1, 0.05])
    means = np.array([0.3, 0.3, 0.3]), np.array([0.3, 0.5, 0.6])
    a, b = (ColourDistribution(m, np.diag(d**2)) for m, d in zip(means, deviations, strict=True))
    wanted = np.sqrt((np.sum((means[0] - means[1]) ** 2) + 0.1**2 + 0.1**2) / 3)
    assert transport_distance(a, b) == pytest.approx(wanted, abs=1e-9)
    assert transport_distance(a, a) == pytest.approx(0, abs=1e-7)
