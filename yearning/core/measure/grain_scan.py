"""Grain measured on a scan of even film: how strong in each tone, and how correlated.

The scan may be of one grey, of several patches or of a ramp. It is looked at in blocks, each freed
of its own plane; blocks over the edge of a patch, or with detail of their own, are left out, and so
are dirt and the pixels about it. Correlations of what remains are estimated without bias through
masks: sums of products over the number of pairs (the Wiener–Khinchin theorem, by FFT).
"""

from collections.abc import Iterable
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR
from yearning.core.noise.scanned_grain import (
    PAIRS,
    Correlation,
    GrainError,
    GrainTone,
    ScannedGrain,
)
from yearning.core.picture import Picture

LARGE_BLOCK, SMALL_BLOCK = 128, 64
"""Of scans from 512 pixels on, and of smaller ones: wider blocks know clumps better."""

PARTS = 8
"""A block's side is so many parts, whose means show an edge."""

REACH = 24
"""Pixels over which correlation is looked for."""

DIRT = 5.0
"""Times σ of grain seen through 3×3 pixels from which on it is dirt."""

DIRT_EDGE = 7
"""Pixels about dirt that are left out too: the side of a square."""

MAX_MASKED = 0.4
"""A block with more dirt than this part is left out."""

UNEVEN = 1.6
"""Means of a block's parts differ so many times more than in an even one: there is an edge."""

MAX_BLOCKS = 480
"""Of a scan, spread over it."""

MIN_BLOCKS = 4
MIN_EVEN = 0.2
"""So many blocks, and such a part of them, are even in a scan of film."""

TONE_STEP = 0.04
"""Tones nearer to each other than this are one."""

FAR, MAX_FAR = 20, 0.12
"""Correlation over so many pixels and more, above which there is detail and not grain alone."""

MIN_RMS = 5e-4
"""Less is no grain, but rounding to eight bits."""

NEGLIGIBLE = 0.012
"""Correlation that is not told from noise."""


_LUMA = np.array([KR, KG, KB])

_DISTANCE = np.maximum(*np.abs(np.mgrid[-REACH : REACH + 1, -REACH : REACH + 1]))


class _Blocks(NamedTuple):
    """Blocks of scans: residuals `(n, 3, side, side)`, masks `(n, side, side)`, tones `(n,)`."""

    grain: NDArray[np.float32]
    mask: NDArray[np.float32]
    luma: NDArray[np.float64]


def measure_grain(pictures: Iterable[Picture], name: str = "Grain") -> ScannedGrain:
    """The grain of scans of even film.

    Args:
        pictures: of the same size, display-coded.
        name: what it is called.

    Raises:
        GrainError: no grain can be measured; the message says why.
    """
    found, seen, lines = [], 0, 0
    for picture in pictures:
        lines, count = picture.shape[1], min(picture.shape[1:])
        side = LARGE_BLOCK if count >= 4 * LARGE_BLOCK else SMALL_BLOCK
        if count < 2 * SMALL_BLOCK:
            raise GrainError(
                f"a scan of {picture.shape[2]}×{lines} pixels is too small to measure grain on; "
                f"{2 * SMALL_BLOCK} pixels a side are the fewest"
            )
        blocks, all_blocks = _even_blocks(picture, side)
        found.append(blocks)
        seen += all_blocks
    grain = np.concatenate([each.grain for each in found])
    mask = np.concatenate([each.mask for each in found])
    luma = np.concatenate([each.luma for each in found])
    if len(luma) < max(MIN_BLOCKS, MIN_EVEN * seen):
        raise GrainError(
            f"not a scan of even film: only {len(luma)} of {seen} parts of it are even, neither "
            "black nor white; frame bare grey, patches of grey or a soft ramp"
        )
    groups = _tone_groups(luma)
    told = np.concatenate(groups)  # others are of tones too rare to be measured
    grain, mask, luma = grain[told], mask[told], luma[told]
    ends = np.cumsum([len(group) for group in groups])
    pixels = mask.sum((1, 2), dtype=np.float64)
    power = np.einsum("nchw,nchw->nc", grain, grain, dtype=np.float64)
    tones, unit = [], np.empty((len(luma), 3))
    for end, size in zip(ends, map(len, groups), strict=True):
        group = slice(end - size, end)
        rms = np.sqrt(power[group].sum(0) / pixels[group].sum())
        unit[group] = np.maximum(rms, 1e-9)
        tone = float(np.average(luma[group], weights=pixels[group]))
        tones.append(GrainTone(luma=round(tone, 4), rms=tuple(np.round(rms, 6).tolist())))
    if max(max(tone.rms) for tone in tones) < MIN_RMS:
        raise GrainError("there is no grain on this scan: its parts are flat")
    lags = _correlation((grain / unit[:, :, None, None]).astype(np.float32), mask)
    if np.abs(lags[:3, _DISTANCE >= FAR]).max() > MAX_FAR:
        raise GrainError(
            f"not a scan of even film: what is on it is alike over {FAR} pixels and more, as detail"
            " or very large grain is; frame bare grey, or bring it in at fewer lines"
        )
    return ScannedGrain(
        name=name, lines=lines, tones=tuple(tones), correlation=_round_correlation(lags)
    )


def _even_blocks(picture: Picture, side: int) -> tuple[_Blocks, int]:
    """A scan's blocks that are even, and how many there are in all."""
    rows, columns = picture.shape[1] // side, picture.shape[2] // side
    cut = picture[:, : rows * side, : columns * side]
    blocks = np.ascontiguousarray(
        cut.reshape(3, rows, side, columns, side).transpose(1, 3, 0, 2, 4)
    ).reshape(-1, 3, side, side)
    ends = np.mean((blocks <= 0.002) | (blocks >= 0.998), axis=(1, 2, 3))
    blocks = blocks[ends < 0.01]
    blocks = blocks[:: -(-len(blocks) // MAX_BLOCKS) or 1]
    if not len(blocks):
        none = np.zeros((0, 3, side, side), np.float32)
        return _Blocks(none, none[:, 0], np.zeros(0)), rows * columns
    mask = np.ones((len(blocks), side, side), np.float32)
    for _ in range(3):  # dirt tilts the plane that it is told from
        grain = _without_planes(blocks, mask)
        mask = _clean(grain)
    grain = _without_planes(blocks, mask) * mask[:, None]
    luma = np.einsum("c,nchw,nhw->n", _LUMA, blocks, mask) / np.maximum(mask.sum((1, 2)), 1)
    enough = mask.mean((1, 2)) > 1 - MAX_MASKED
    grain, mask, luma = grain[enough], mask[enough], luma[enough]
    keep = _is_even(grain) if len(grain) else np.zeros(0, bool)
    return _Blocks(grain[keep], mask[keep], luma[keep]), rows * columns


def _without_planes(blocks: NDArray[np.float32], mask: NDArray[np.float32]) -> NDArray[np.float32]:
    """Blocks without the planes that are nearest to their pixels under the masks."""
    side = blocks.shape[2]
    ramp = np.linspace(-1, 1, side, dtype=np.float32)
    basis = np.stack([np.ones((side, side), np.float32), *np.meshgrid(ramp, ramp)])
    flat = basis.reshape(3, -1)
    weights = mask.reshape(len(mask), -1)
    products = np.einsum("ip,np,jp->nij", flat, weights, flat, optimize=True).astype(np.float64)
    products += 1e-6 * np.eye(3)
    values = np.einsum("ip,ncp->nic", flat, (blocks * mask[:, None]).reshape(len(blocks), 3, -1))
    planes = np.linalg.solve(products, values).astype(np.float32)
    out: NDArray[np.float32] = blocks - np.einsum("nic,ihw->nchw", planes, basis)
    return out


def _robust_sigma(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """σ of the last axes but the first, by the median of distances: few outliers don't move it."""
    flat = values.reshape(*values.shape[:2], -1)
    return np.maximum(1.4826 * np.median(np.abs(flat), axis=2), 1e-6)


def _clean(grain: NDArray[np.float32]) -> NDArray[np.float32]:
    """Where there is no dirt: 1, else 0."""
    seen = np.empty_like(grain)
    for n in range(len(grain)):
        for c in range(3):
            cv2.blur(grain[n, c], (3, 3), dst=seen[n, c], borderType=cv2.BORDER_REFLECT_101)
    beyond = np.abs(seen) > DIRT * _robust_sigma(seen)[:, :, None, None]
    dirt = np.asarray(beyond.any(1), np.uint8)
    about = np.ones((DIRT_EDGE, DIRT_EDGE), np.uint8)
    return np.stack([1 - np.asarray(cv2.dilate(one, about)) for one in dirt]).astype(np.float32)


def _is_even(grain: NDArray[np.float32]) -> NDArray[np.bool_]:
    """Whether blocks have no edge and no detail: the means of their parts differ as grain's do."""
    count, _, side, _ = grain.shape
    part = side // PARTS
    luma = np.einsum("c,nchw->nhw", _LUMA, grain)[:, None]
    means = luma.reshape(count, PARTS, part, PARTS, part).mean((2, 4))
    far = 2 * part
    across = _robust_sigma(luma[:, :, :, far:] - luma[:, :, :, :-far])
    down = _robust_sigma(luma[:, :, far:] - luma[:, :, :-far])
    ratio = means.std((1, 2)) / np.minimum(across, down)[:, 0]
    return np.asarray(ratio <= UNEVEN * np.quantile(ratio, 0.25) + 1e-6)


def _tone_groups(luma: NDArray[np.float64]) -> list[NDArray[np.intp]]:
    """Blocks of one tone each, from dark to light; groups of few join the one beside them."""
    order = np.argsort(luma, kind="stable")
    groups: list[list[int]] = []
    for n in order.tolist():
        if groups and luma[n] - luma[groups[-1][0]] < TONE_STEP:
            groups[-1].append(n)
        else:
            groups.append([n])
    kept = [group for group in groups if len(group) >= MIN_BLOCKS]
    return [np.array(group) for group in kept] or [order]


def _correlation(grain: NDArray[np.float32], mask: NDArray[np.float32]) -> NDArray[np.float64]:
    """Correlations of all pairs over lags up to `REACH`, shape `(6, 2·REACH + 1, 2·REACH + 1)`."""
    side = grain.shape[2]
    padded = (side + REACH, side + REACH)
    half = padded[1] // 2 + 1
    products = np.zeros((len(PAIRS), padded[0], half), np.complex128)
    pairs = np.zeros((padded[0], half))
    for block, seen in zip(grain, mask, strict=True):
        waves = np.fft.rfft2(block, padded)
        for i, (a, b) in enumerate(PAIRS.values()):
            products[i] += waves[a] * waves[b].conj()
        pairs += np.abs(np.fft.rfft2(seen, padded)) ** 2
    at = np.arange(-REACH, REACH + 1)
    count = np.fft.irfft2(pairs, padded)[at[:, None], at]
    lags = np.fft.irfft2(products, padded)[:, at[:, None], at] / np.maximum(count, 1)
    rms = np.sqrt(np.maximum(lags[:3, REACH, REACH], 1e-12))
    for i, (a, b) in enumerate(PAIRS.values()):
        lags[i] /= rms[a] * rms[b]
    return np.asarray(np.clip(lags, -1, 1))


def _round_correlation(lags: NDArray[np.float64]) -> Correlation:
    """Correlations as the file has them, without the lags that are nothing but noise."""
    strong = np.abs(lags).max(0) > NEGLIGIBLE
    reach = min(int(_DISTANCE[strong].max()) + 1, REACH)
    middle = slice(REACH - reach, REACH + reach + 1)
    squares = np.round(lags[:, middle, middle], 4)
    return Correlation.model_validate(dict(zip(PAIRS, squares.tolist(), strict=True)))
