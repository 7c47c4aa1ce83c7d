"""Shapes joined to a mask: what washes, tones and hues weigh, joins, and places that are moved."""

import colorsys

import cv2
import numpy as np
import pytest
from scipy.special import j0

from yearning.core.image.filters import area_resized
from yearning.core.masks.mask import PlacedShape, PreparedMask
from yearning.core.masks.shapes import BezierPath, Ellipse, HueRange, Rectangle, ToneRange, Wash
from yearning.core.picture import Size

SIZE = Size(192, 108)
RNG = np.random.default_rng(5)


def ellipse(**fields):
    return Ellipse(
        **{"id": "e", "kind": "ellipse", "centre": (0.4, 0.5), "size": (0.2, 0.3)} | fields
    )


def rectangle(**fields):
    return Rectangle(
        **{"id": "b", "kind": "box", "centre": (0.6, 0.5), "size": (0.2, 0.2)} | fields
    )


def weights(*shapes, size=SIZE, picture=None, warp=None, band=9):
    placed = [PlacedShape(shape, 0 if hasattr(shape, "of") else -1) for shape in shapes]
    mask = PreparedMask(placed, SIZE, size, warp, lambda number: picture)
    rows = []
    for top in range(0, size.height, band):
        end = min(top + band, size.height)

        def part(number, top=top, end=end):
            return np.ascontiguousarray(picture[:, top:end])

        rows.append(mask.weights(top, end - top, size.width, part))
    return np.concatenate(rows)


def test_shapes_join_in_their_order_by_the_formulas():
    a = weights(ellipse(feather=200)).astype(np.float64)
    b = weights(rectangle(feather=120)).astype(np.float64)
    for join, expected in (
        ("add", a + b - a * b),
        ("take away", a * (1 - b)),
        ("keep common", a * b),
    ):
        joined = weights(ellipse(feather=200), rectangle(feather=120, join=join))
        np.testing.assert_allclose(joined, expected, atol=1e-6)
    np.testing.assert_allclose(weights(rectangle(feather=120, join="take away")), 1 - b, atol=1e-6)
    np.testing.assert_allclose(weights(rectangle(feather=120, join="keep common")), b, atol=1e-6)


def test_it_is_inverted_first_and_then_weakened():
    a = weights(ellipse(feather=90))
    np.testing.assert_allclose(weights(ellipse(feather=90, strength=0.3)), 0.3 * a, atol=1e-6)
    both = weights(ellipse(feather=90, strength=0.3, invert=True))
    np.testing.assert_allclose(both, 0.3 * (1 - a), atol=1e-6)


def test_a_wash_is_a_raised_cosine_along_its_line():
    wash = Wash(**{"id": "w", "kind": "wash", "from": (0.2, 0.3), "to": (0.7, 0.6)})
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width] + 0.5
    a, b = np.array([0.2 * 192, 0.3 * 108]), np.array([0.7 * 192, 0.6 * 108])
    t = ((x - a[0]) * (b - a)[0] + (y - a[1]) * (b - a)[1]) / ((b - a) @ (b - a))
    expected = 0.5 - 0.5 * np.cos(np.pi * np.clip(t, 0, 1))
    np.testing.assert_allclose(weights(wash), expected, atol=2e-6)


def test_tones_weigh_luma():
    picture = RNG.random((3, SIZE.height, SIZE.width), np.float32)
    points = ((0.2, 0.0), (0.5, 1.0), (0.9, 0.4))
    shape = ToneRange(id="t", kind="tones", points=points)
    luma = np.tensordot([0.2126, 0.7152, 0.0722], picture, 1)  # ITU-R BT.709-6, 3.2
    expected = np.interp(luma, *zip(*points, strict=True))
    np.testing.assert_allclose(weights(shape, picture=picture), expected, atol=1e-5)


@pytest.mark.parametrize("hue", [0, 35, 350])
def test_hues_weigh_a_colour_s_hue_round_the_circle(hue):
    shape = HueRange(id="h", kind="hue", hue=hue, width=40, soft=20, least_saturation=0.2)
    hues = np.arange(0, 360, 2.5)
    rgb = np.array([colorsys.hsv_to_rgb(h / 360, 1, 0.8) for h in hues], np.float32)
    picture = np.repeat(rgb.T[:, None], 2, axis=1).copy()
    found = weights(shape, size=Size(len(hues), 2), picture=picture)[0]
    away = np.abs((hues - hue + 180) % 360 - 180)
    assert np.all(found[away <= 19.9] > 0.999)
    assert np.all(found[away >= 40.1] < 1e-3)
    between = (away > 20) & (away < 40)
    assert np.all(np.diff(found[np.argsort(away)][np.sort(away) > 20]) <= 1e-3)
    assert np.any((found[between] > 0.2) & (found[between] < 0.8))


def test_what_is_paler_than_asked_has_no_weight():
    shape = HueRange(id="h", kind="hue", hue=0, width=60, least_saturation=0.2)
    spread = np.array([0, 0.05, 0.1, 0.2, 0.3, 0.9], np.float32)
    picture = np.stack([0.05 + spread, np.full(6, 0.05), np.full(6, 0.05)]).astype(np.float32)
    found = weights(shape, size=Size(6, 1), picture=picture[:, None].copy())[0]
    assert found[:3] == pytest.approx([0, 0, 0], abs=1e-6)
    assert found[3] == pytest.approx(0.5, abs=1e-3)
    assert found[4:] == pytest.approx([1, 1], abs=1e-6)


def blots(size, seed=3):
    """Patches of white and grey on black, with hard edges, shape (3, h, w)."""
    random = np.random.default_rng(seed).random((18, 32)).astype(np.float32)
    wide = cv2.resize(random, (size.width, size.height), interpolation=cv2.INTER_CUBIC)
    hard = (wide > 0.5).astype(np.float32)
    hard[size.height // 2 :] *= 0.3
    return np.stack([hard] * 3)


def raised_cosine_spectrum(cycles, diameter):
    """The Hankel transform of 1 + cos(2 pi r / f) for r <= f/2, 1 at 0, by a sum over radii."""
    r = (np.arange(600) + 0.5) / 1200 * diameter
    ring = (1 + np.cos(2 * np.pi * r / diameter)) * r
    radii = np.linspace(0, 0.75, 4000)
    found = (j0(2 * np.pi * radii[:, None] * r) * ring).sum(1) / ring.sum()
    return np.interp(cycles, radii, found)


@pytest.mark.parametrize("feather", [12, 16, 23, 40, 60, 72, 130, 400])
def test_the_feather_of_what_is_found_in_a_picture_is_its_weight_s_blur(feather):
    size = Size(640, 360)
    plain = cv2.GaussianBlur(blots(size)[0], (0, 0), 1)  # as nothing is sharper in footage
    whole = np.block([[plain, plain[:, ::-1]], [plain[::-1], plain[::-1, ::-1]]])  # mirrored
    cycles = np.hypot(*np.meshgrid(*map(np.fft.fftfreq, whole.shape), indexing="ij"))
    blur = raised_cosine_spectrum(cycles, feather * size.scale)
    expected = np.fft.ifft2(np.fft.fft2(whole) * blur).real[: size.height, : size.width]
    shape = ToneRange(id="t", kind="tones", points=((0.0, 0.0), (1.0, 1.0)), feather=feather)
    found = weights(shape, size=size, picture=np.stack([plain] * 3))
    assert np.abs(found - expected).max() < 1 / 500
    assert found.min() >= 0
    assert found.max() <= 1


@pytest.mark.parametrize("feather", [16, 50, 110])
def test_so_feathered_it_is_the_same_at_half_the_size(feather):
    full, half = Size(1280, 720), Size(640, 360)
    shape = ToneRange(id="t", kind="tones", points=((0.0, 0.0), (1.0, 1.0)), feather=feather)
    picture = cv2.GaussianBlur(blots(full)[0], (0, 0), 2)
    picture = np.stack([picture] * 3)
    large = weights(shape, size=full, picture=picture)
    small = weights(shape, size=half, picture=area_resized(picture, half))
    reduced = area_resized(np.stack([large] * 3), half)[0]
    assert np.abs(small - reduced).max() < 1 / 500


def test_what_is_all_of_a_tone_is_all_there_with_a_feather_too():
    shape = ToneRange(id="t", kind="tones", points=((0.0, 0.0), (1.0, 1.0)), feather=80)
    for value in (0, 1):
        picture = np.full((3, SIZE.height, SIZE.width), value, np.float32)
        assert np.array_equal(weights(shape, picture=picture), picture[0])


def test_a_mask_is_the_same_at_half_the_size():
    shapes = (
        ellipse(feather=130),
        rectangle(join="take away", feather=20, turn=30, round=0.4),
        Wash(**{"id": "w", "kind": "wash", "join": "keep common", "from": (0, 0), "to": (1, 1)}),
    )
    half = Size(96, 54)
    for shape in shapes:
        shape = shape.model_copy(update={"join": "add"})
        reduced = area_resized(np.stack([weights(shape)] * 3), half)[0]
        assert np.abs(weights(shape, size=half) - reduced).max() < 1 / 500


def test_shapes_go_where_the_picture_has_been_moved():
    def zoom_points(points):
        return (points - (96, 54)) * 2 + (96, 54)

    shapes = (
        ellipse(feather=60),
        BezierPath(
            id="d",
            kind="drawn",
            points=((0.4, 0.4, 0, 0, 0, 0), (0.6, 0.4, 0, 0, 0, 0), (0.5, 0.6, 0, 0, 0, 0)),
        ),
        Wash(**{"id": "w", "kind": "wash", "from": (0.4, 0.4), "to": (0.6, 0.6)}),
    )
    large = Size(384, 216)
    for shape in shapes:
        moved = weights(shape, warp=zoom_points)
        middle = weights(shape, size=large)[54:162, 96:288]
        np.testing.assert_allclose(moved, middle, atol=2e-3)


def test_a_place_thrown_to_infinity_is_drawn_all_the_same():
    def throw_points(points):
        return np.where(points > 50, np.inf, points)

    out = weights(ellipse(), warp=throw_points)
    assert np.isfinite(out).all()
