"""Grain measured on scans."""

from pathlib import Path

from yearning.core.noise.scanned_grain import grain_json
from yearning.library.clips import RequestError
from yearning.media.atomic_write import atomic_write
from yearning.media.plates.assets import GRAIN_SUFFIX, open_plate
from yearning.media.plates.grain_of_plate import grain_of_plate


def measure_grain(scan: str | Path, path: str | Path) -> list[tuple[float, tuple[float, ...]]]:
    """Measure the grain on a scan of even film and write it as a file for `Grain(scan=…)`.

    The scan may be a still or a clip, of one grey, of several patches or of a soft ramp. Dirt on
    it, and edges of patches, are left out.

    Args:
        scan: its file.
        path: of the file that is written, `.grain`.

    Returns:
        Tones, 0..1, and the rms of R, G and B in each, from dark to light.

    Raises:
        MediaError: the scan can't be read, or no grain can be measured on it.
        RequestError: the name does not end in .grain.
    """
    scan, path = Path(scan), Path(path)
    if path.suffix.lower() != GRAIN_SUFFIX:
        raise RequestError(f"{path}: measured grain ends in {GRAIN_SUFFIX}")
    grain = grain_of_plate(open_plate(scan), scan.stem)
    with atomic_write(path) as place:
        place.write_text(grain_json(grain))
    return [(tone.luma, tone.rms) for tone in grain.tones]
