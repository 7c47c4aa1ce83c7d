"""Coverage against shapely's areas in float64, and feather against its formula."""

import numpy as np
import pytest
from scipy.signal import fftconvolve
from shapely.geometry import LineString, Polygon, box
from shapely.ops import polygonize, unary_union

from yearning.core.image.filters import area_resized
from yearning.core.masks.coverage import fill_coverage
from yearning.core.masks.feather import Coverage
from yearning.core.masks.outlines import bezier_polygon, box_polygon, ellipse_polygon
from yearning.core.picture import Size

TOLERANCE = 1 / 500

PATH = ((0.2, 0.2, 0, 0.1, 0.1, -0.1), (0.8, 0.3, -0.1, 0, 0, 0.2), (0.5, 0.8, 0.2, 0.1, -0.1, 0))

SHAPES = {
    "ellipse": lambda size: ellipse_polygon((0.47, 0.52), (0.2, 0.31), 17, size),
    "speck": lambda size: ellipse_polygon((0.471, 0.52), (0.02, 0.031), 17, size),
    "box": lambda size: box_polygon((0.5013, 0.4957), (0.2, 0.3), 0, 0, size),
    "turned box": lambda size: box_polygon((0.5, 0.5), (0.2, 0.3), 30, 0.3, size),
    "over the edge": lambda size: ellipse_polygon((0.0, 0.0), (0.5, 0.5), 17, size),
    "path": lambda size: bezier_polygon(PATH, size),
}


def draw_coverage(polygon, feather, size, band=7):
    out = np.zeros((size.height, size.width), np.float32)
    coverage = Coverage(polygon, feather, size)
    for top in range(0, size.height, band):
        part = coverage.span_of_rows(top, min(band, size.height - top))
        if part.is_empty:
            continue
        rows = np.empty((part.bottom - part.top, part.right - part.left), np.float32)
        coverage.fill(top + part.top, rows)
        out[top + part.top : top + part.bottom, part.left : part.right] = rows
    return out


def by_formula(polygon, feather, size, parts):
    """Coverage of parts of pixels, convolved with c(1 + cos(2 pi r / f)), and averaged."""
    margin = int(np.ceil((feather / 2 + 1) * parts))
    fine = np.zeros((size.height * parts + 2 * margin, size.width * parts + 2 * margin), np.float32)
    fill_coverage(polygon, -margin / parts, -margin / parts, 1 / parts, fine)
    reach = int(feather / 2 * parts) + 1
    r = np.hypot(*np.mgrid[-reach : reach + 1, -reach : reach + 1]) / parts
    bell = np.where(r <= feather / 2, 1 + np.cos(2 * np.pi * r / feather), 0)
    wide = fftconvolve(fine.astype(np.float64), bell / bell.sum(), mode="same")
    inner = wide[margin:-margin, margin:-margin]
    return inner.reshape(size.height, parts, size.width, parts).mean((1, 3))


@pytest.mark.parametrize("shape", SHAPES)
def test_a_pixel_s_coverage_is_the_shape_s_area_over_it(shape):
    size = Size(48, 36)
    polygon = SHAPES[shape](size)
    exact = Polygon(polygon)
    areas = [
        [exact.intersection(box(x, y, x + 1, y + 1)).area for x in range(size.width)]
        for y in range(size.height)
    ]
    np.testing.assert_allclose(draw_coverage(polygon, 0, size), areas, atol=1e-5)


def test_what_a_path_goes_round_twice_is_outside():
    star = np.array([[2, 30], [20, 2], [38, 30], [2, 12], [38, 12]], np.float64)
    size = Size(40, 32)
    odd = unary_union(_faces(star))
    out = draw_coverage(star, 0, size)
    assert out[17, 20] == 0  # the middle of the star
    whole = [y for y in range(size.height) for x in range(size.width) if out[y, x] == 1]
    assert len(whole) > 100
    assert out.sum() == pytest.approx(odd.area, rel=0.01)  # where lines cross it is near


def _faces(corners):
    """The faces of a path that are inside by even-odd."""
    lines = unary_union(LineString([*corners, corners[0]]))
    return [face for face in polygonize(lines) if _turns_are_odd(corners, face)]


def _turns_are_odd(corners, face):
    x, y = face.representative_point().coords[0]
    sides = zip(corners, np.roll(corners, -1, axis=0), strict=True)
    passed = [(a, b) for a, b in sides if (a[1] <= y) != (b[1] <= y)]
    return sum(a[0] + (y - a[1]) * (b[0] - a[0]) / (b[1] - a[1]) > x for a, b in passed) % 2 == 1


@pytest.mark.parametrize("feather", [2, 3, 6, 9, 15, 21, 30, 47])
@pytest.mark.parametrize("shape", SHAPES)
def test_feather_is_the_raised_cosine_s_blur(shape, feather):
    size = Size(96, 72)
    polygon = SHAPES[shape](size)
    expected = by_formula(polygon, feather, size, 9)
    assert np.abs(draw_coverage(polygon, feather, size) - expected).max() < TOLERANCE


@pytest.mark.parametrize("feather", [0.1, 0.25, 0.5, 1.0, 1.5])
def test_so_is_the_narrowest(feather):
    size = Size(40, 30)
    polygon = SHAPES["path"](size)
    expected = by_formula(polygon, feather, size, 45)
    assert np.abs(draw_coverage(polygon, feather, size) - expected).max() < TOLERANCE


@pytest.mark.parametrize("feather", [0, 4, 12, 40, 100])
@pytest.mark.parametrize("shape", SHAPES)
def test_half_size_is_the_reduced_full_size(shape, feather):
    full, half = Size(320, 240), Size(160, 120)
    large = draw_coverage(SHAPES[shape](full), feather, full)
    small = draw_coverage(SHAPES[shape](half), feather / 2, half)
    reduced = area_resized(np.stack([large] * 3), half)[0]
    assert np.abs(small - reduced).max() < TOLERANCE


@pytest.mark.parametrize("feather", [0, 1, 5, 18, 60])
def test_bands_of_any_height_make_the_same_plane(feather):
    size = Size(160, 121)
    polygon = SHAPES["path"](size)
    whole = draw_coverage(polygon, feather, size, band=121)
    for band in (1, 8, 17):
        np.testing.assert_allclose(draw_coverage(polygon, feather, size, band), whole, atol=2e-6)


@pytest.mark.parametrize("feather", [0, 3, 60])
def test_far_inside_it_is_one_and_far_outside_nothing(feather):
    size = Size(320, 240)
    out = draw_coverage(box_polygon((0.5, 0.5), (0.3, 0.3), 0, 0, size), feather, size)
    assert out[120, 160] == pytest.approx(1, abs=1e-6)
    assert out[0, 0] == pytest.approx(0, abs=1e-6)
    beyond = draw_coverage(box_polygon((3, 3), (0.3, 0.3), 0, 0, size), feather, size)
    assert not beyond.any()


CROSSED = {
    "star": [[0.05, 0.9], [0.5, 0.05], [0.95, 0.9], [0.05, 0.35], [0.95, 0.35]],
    "bow tie through one corner": [
        *[[0.1, 0.1], [0.5, 0.5], [0.9, 0.9]],
        *[[0.9, 0.1], [0.5, 0.5], [0.1, 0.9]],
    ],
    "two triangles that meet": [
        *[[0.1, 0.1], [0.5, 0.5], [0.9, 0.1]],
        *[[0.9, 0.9], [0.5, 0.5], [0.1, 0.9]],
    ],
    "there and back": [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.5, 0.5], [0.9, 0.9]],
    "back over its first side": [[0.3, 0.32], [0.6, 0.25], [0.56, 0.77], [0.28, 0.47], [0.6, 0.25]],
    "twice round": [[0.1, 0.1], [0.9, 0.1], [0.5, 0.9]] * 2,
}


@pytest.mark.parametrize("feather", [1, 5, 14])
@pytest.mark.parametrize("shape", CROSSED)
def test_feather_of_what_crosses_itself_is_that_of_what_is_inside_by_even_odd(shape, feather):
    size = Size(96, 72)
    polygon = np.array(CROSSED[shape]) * (size.width, size.height)
    faces = [np.array(face.exterior.coords[:-1]) for face in _faces(polygon)]
    expected = sum((by_formula(face, feather, size, 9) for face in faces), np.zeros((72, 96)))
    assert np.abs(draw_coverage(polygon, feather, size) - expected).max() < TOLERANCE


@pytest.mark.parametrize("feather", [3, 8, 20])
def test_corners_and_sides_may_go_through_the_middles_of_pixels(feather):
    """Half of a plane is half covered on its edge, and a quarter of it a quarter at its corner."""
    size = Size(160, 120)
    corners = np.array([[40.5, 30.5], [130.5, 30.5], [130.5, 90.5], [40.5, 90.5]])
    for polygon in (corners, corners[::-1]):
        out = draw_coverage(polygon, feather, size)
        np.testing.assert_allclose(out[60, [40, 130]], 0.5, atol=TOLERANCE)
        np.testing.assert_allclose(out[[30, 90], [70, 90]], 0.5, atol=TOLERANCE)
        np.testing.assert_allclose(out[[30, 90], [40, 130]], 0.25, atol=TOLERANCE)
