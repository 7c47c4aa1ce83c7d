"""Onsets: when something begins to sound."""

from collections.abc import Iterable

import numba
import numpy as np
from numpy.typing import NDArray

RATE = 44100
"""Samples a second of the sound that is listened to."""

WINDOW = 2048
HOP = 441
"""46 ms under a Hann window, every 10 ms. Dixon 2006, section 2, takes Hamming's; its side lobes
would make a steady tone ripple."""

AROUND = 3
BEFORE = 3
DECAY = 0.84
"""Hops on each side among which a peak is the highest; how many times as many before it count for
the mean; and how slowly the bar falls after a peak: w, m and α of Dixon 2006, section 2.6 (from
memory)."""

THRESHOLD = 0.35
"""Standard deviations above the mean around it that a peak has at least; δ there."""

Samples = NDArray[np.float32]


def spectral_flux(blocks: Iterable[Samples]) -> NDArray[np.float64]:
    """How much louder the spectrum becomes from hop to hop, for sound in blocks of any length.

    SF(n) = Σ_k H(|X(n, k)| − |X(n−1, k)|) with H(x) = (x + |x|)/2, over the bins of an FFT of
    `WINDOW` samples under a Hann window, every `HOP` samples (Dixon, Onset Detection Revisited,
    DAFx 2006, eq. 1).

    Args:
        blocks: mono sound at `RATE` samples a second, in order.

    Returns:
        one value a hop; that of index n is of the window which ends at sample (n + 1) · `HOP`.
    """
    from scipy.fft import rfft  # here, since it takes long to import
    from scipy.signal.windows import hann

    window = hann(WINDOW, sym=False).astype(np.float32)
    held: Samples = np.zeros(WINDOW - HOP, np.float32)
    last = np.zeros(WINDOW // 2 + 1, np.float32)
    flux: list[NDArray[np.float64]] = []
    for block in blocks:
        held = np.concatenate([held, block.astype(np.float32, copy=False)])
        count = (len(held) - WINDOW) // HOP + 1
        if count < 1:
            continue
        windows = np.lib.stride_tricks.sliding_window_view(held, WINDOW)[::HOP][:count]
        loud = np.abs(rfft(windows * window, axis=1))
        rise = np.diff(loud, axis=0, prepend=last[None])
        flux.append(np.maximum(rise, 0).sum(axis=1, dtype=np.float64))
        last = loud[-1]
        held = held[count * HOP :]
    return np.concatenate(flux) if flux else np.zeros(0)


def onsets(flux: NDArray[np.float64], threshold: float = THRESHOLD) -> NDArray[np.float64]:
    """When something begins to sound, in seconds from the sound's begin, ascending.

    Peaks of the flux, brought to mean 0 and deviation 1, that are the highest within `AROUND` hops,
    lie `threshold` above the mean from `BEFORE` · `AROUND` hops before to `AROUND` after, and above
    a bar that falls slowly after each peak (Dixon 2006, section 2.6).

    Args:
        flux: from `spectral_flux`.
        threshold: in standard deviations; lower finds more.
    """
    from scipy.ndimage import maximum_filter1d, uniform_filter1d  # here, as above

    spread = float(flux.std()) if len(flux) else 0.0
    if spread <= 1e-9 * max(1.0, float(np.abs(flux).max(initial=0))):
        return np.zeros(0)
    values = (flux - flux.mean()) / spread
    highest = values >= maximum_filter1d(values, 2 * AROUND + 1, mode="nearest")
    length = (BEFORE + 1) * AROUND + 1
    shift = (BEFORE - 1) * AROUND // 2
    mean = uniform_filter1d(values, length, origin=shift, mode="nearest")
    peaks = np.flatnonzero(
        highest & (values >= mean + threshold) & (values >= _bar(values, np.empty_like(values)))
    )
    apart = np.diff(peaks, prepend=-2) > 1
    # a sharp sound raises the spectrum fastest a quarter of a window before it is at its middle
    ends = (peaks[apart] + 1.0) * HOP
    return np.maximum((ends - WINDOW / 4) / RATE, 0)


@numba.njit(cache=True)
def _bar(values: NDArray[np.float64], bar: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the adaptive threshold g(n − 1), g(n) = max(f(n), α g(n − 1) + (1 − α) f(n))."""
    g = -np.inf
    for n in range(len(values)):
        bar[n] = g
        g = values[n] if g == -np.inf else max(values[n], DECAY * g + (1 - DECAY) * values[n])
    return bar
