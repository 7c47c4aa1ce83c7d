"""Capabilities: what the catalogue's treatments take on, and that they keep to it."""

import numpy as np
import pytest

from yearning.core.picture import Size
from yearning.core.treatment import capabilities
from yearning.core.treatment.capabilities import (
    ColourOnly,
    FitsClip,
    Lively,
    ReadsWholePictures,
    UsesClipStatistics,
    UsesFrameStatistics,
    WantsTallBands,
    WarpsFrame,
    band_multiple,
    is_lively,
    is_pointwise,
)
from yearning.core.treatment.clip_tones import ClipTones
from yearning.core.treatments import TREATMENTS

FULL = Size(1920, 1080)
ALL = [
    value
    for value in vars(capabilities).values()
    if isinstance(value, type) and value.__module__ == capabilities.__name__ and value.__bases__
    and not issubclass(value, tuple)
]  # fmt: skip


def having(capability):
    return [kind for kind, each in TREATMENTS.items() if issubclass(each, capability)]


@pytest.mark.parametrize("capability", ALL, ids=lambda each: each.__name__)
def test_every_capability_is_taken_on_by_a_treatment_and_not_by_all(capability):
    assert 0 < len(having(capability)) < len(TREATMENTS)


@pytest.mark.parametrize("kind", TREATMENTS)
def test_a_treatment_of_colours_alone_reads_no_other_pixel(kind):
    treatment = TREATMENTS[kind]()
    if isinstance(treatment, ColourOnly):
        assert is_pointwise(treatment)
        assert not is_lively(treatment)
        assert not isinstance(treatment, UsesClipStatistics)
    assert is_pointwise(treatment) is not isinstance(
        treatment, UsesFrameStatistics | ReadsWholePictures
    )


@pytest.mark.parametrize("kind", having(WarpsFrame))
def test_points_are_mapped_one_by_one_and_stay_finite(kind):
    treatment = TREATMENTS[kind]()
    points = np.array([[0.0, 0.0], [960.0, 540.0], [1920.0, 1080.0], [300.0, 900.0]])
    whole = treatment.map_points(points, 7, FULL)
    assert whole.shape == points.shape
    assert np.isfinite(whole).all()
    for point, mapped in zip(points, whole, strict=True):
        np.testing.assert_allclose(treatment.map_points(point[None], 7, FULL)[0], mapped, atol=1e-6)


@pytest.mark.parametrize("kind", having(UsesFrameStatistics))
def test_statistics_are_planes_no_larger_than_the_picture(kind):
    treatment = TREATMENTS[kind]()
    planes = set()
    for size in (FULL, FULL.with_height(540), Size(97, 301)):
        shape = treatment.frame_statistics_spec(size).shape
        planes.add(shape[0])
        assert shape[1] <= size.height
        assert shape[2] <= size.width
    assert len(planes) == 1


@pytest.mark.parametrize("kind", having(FitsClip))
def test_settings_that_fit_a_clip_can_be_set(kind):
    treatment = TREATMENTS[kind]
    names = ClipTones._fields if hasattr(ClipTones, "_fields") else ClipTones.__dataclass_fields__
    tones = ClipTones(**dict(zip(names, np.linspace(0.05, 0.9, len(names)), strict=True)))
    fitted = treatment.fit_to_clip(tones)
    assert fitted
    made = treatment(**fitted)
    assert {name: getattr(made, name) for name in fitted} == pytest.approx(fitted)


@pytest.mark.parametrize("kind", TREATMENTS)
def test_bands_are_a_multiple_of_whole_rows(kind):
    treatment = TREATMENTS[kind]()
    multiple = band_multiple(treatment)
    assert multiple >= 1
    assert (multiple > 1) <= isinstance(treatment, WantsTallBands)


def test_lively_is_what_is_lively_as_it_is_set():
    assert set(having(Lively)) >= {kind for kind in TREATMENTS if is_lively(TREATMENTS[kind]())}
    assert not is_lively(TREATMENTS["lines"]())
    assert is_lively(TREATMENTS["lines"](roll=0.5))
