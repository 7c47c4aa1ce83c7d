"""Models of colours: of a figure, and of what is behind it, as GrabCut has them."""

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

COMPONENTS = 5
"""Gaussians of a model."""

MIN_VARIANCE = 1.0
"""Of 8-bit codes, added to each: an even colour has none."""


class ColourModel(NamedTuple):
    """A mixture of Gaussians over B'G'R' codes."""

    weights: NDArray[np.float64]
    means: NDArray[np.float64]
    covariances: NDArray[np.float64]

    def log_density(self, colours: NDArray[np.uint8]) -> NDArray[np.float32]:
        """The logarithm of how likely colours are, shape `(n, 3)`, but for a constant."""
        codes = colours.astype(np.float32)
        total = np.full(len(codes), 1e-30, np.float32)
        for weight, mean, covariance in zip(*self, strict=True):
            if weight <= 0:
                continue
            spread = covariance + MIN_VARIANCE * np.eye(3)
            away = codes - mean.astype(np.float32)
            reach = (away @ np.linalg.inv(spread).astype(np.float32) * away).sum(1)
            total += np.float32(weight / np.sqrt(np.linalg.det(spread))) * np.exp(-0.5 * reach)
        return np.asarray(np.log(total), np.float32)


def colour_models(
    colours: NDArray[np.uint8], hard: NDArray[np.uint8], margin: int
) -> tuple[ColourModel, ColourModel]:
    """Return models of a figure's colours, and of those about it within twice a margin.

    Args:
        colours: of the frame, 8 bits.
        hard: the figure's matte.
        margin: in pixels.
    """
    kernel = np.ones((4 * margin + 1, 4 * margin + 1), np.uint8)
    about = (cv2.dilate(hard, kernel) > 0) & (hard == 0)
    return _model(colours[hard > 0]), _model(colours[about])


def log_ratio(
    colours: NDArray[np.uint8], figure: ColourModel, behind: ColourModel
) -> NDArray[np.float32]:
    """Return by how much more likely colours are the figure's, as the logarithm of the ratio.

    Args:
        colours: shape `(n, 3)`.
        figure: model of the figure's.
        behind: model of those about it.
    """
    return figure.log_density(colours) - behind.log_density(colours)


def _model(codes: NDArray[np.uint8]) -> ColourModel:
    """A mixture fitted to colours, shape `(n, 3)`, by k-means; the same each time."""
    samples = codes.astype(np.float32)
    if len(samples) < COMPONENTS:
        none = np.zeros(COMPONENTS)
        return ColourModel(none, np.zeros((COMPONENTS, 3)), np.zeros((COMPONENTS, 3, 3)))
    cv2.setRNGSeed(1)
    until = (cv2.TERM_CRITERIA_COUNT, 10, 0.0)
    start = np.zeros((len(samples), 1), np.int32)
    _, labels, _ = cv2.kmeans(samples, COMPONENTS, start, until, 1, cv2.KMEANS_PP_CENTERS)
    weights, means, covariances = [], [], []
    for k in range(COMPONENTS):
        own = samples[labels[:, 0] == k].astype(np.float64)
        weights.append(len(own) / len(samples))
        means.append(own.mean(0) if len(own) else np.zeros(3))
        covariances.append(np.cov(own.T, bias=True) if len(own) > 1 else np.zeros((3, 3)))
    return ColourModel(np.array(weights), np.array(means), np.array(covariances))
