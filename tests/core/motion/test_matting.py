"""Mattes against the painters' true ones, and the parts that they are made of."""

import io

import cv2
import numpy as np
import pytest
from scipy.ndimage import uniform_filter
from scipy.stats import multivariate_normal

from yearning.core.motion.colour_model import colour_models, log_ratio
from yearning.core.motion.figure_cut import cut_coarse_to_fine
from yearning.core.motion.guided_filter import guided_filter
from yearning.core.motion.hard_mattes import Solved
from yearning.core.motion.matting import Matting
from yearning.core.motion.strokes import Strokes, mark_strokes
from yearning.core.picture import Size
from yearning.demo import MEDIA, lamplighter
from yearning.media.decode.footage import Footage

WIDE, HIGH = 1920, 1080


def places(*pixels):
    return [[x / WIDE, y / HIGH] for x, y in pixels]


FIGURE = [
    {"frame": 2, "kind": "around", "points": places(
        (340, 1110), (400, 760), (540, 100), (980, 60), (1180, 300), (1150, 620), (1330, 800),
        (1380, 1110))},
    {"frame": 2, "kind": "this", "points": places((780, 200), (740, 480), (700, 600), (720, 1050))},
    {"frame": 2, "kind": "this", "points": places((500, 1060), (760, 700), (1150, 1060))},
]  # fmt: skip


def overlap(found, true):
    """Intersection over union of weights over 0.5."""
    return float(((found > 0.5) & (true > 0.5)).sum() / ((found > 0.5) | (true > 0.5)).sum())


def edge_error(found, true):
    """How far the one's edge is from the other's, on the mean, in pixels."""
    edges = [cv2.Canny(np.uint8(255 * (m > 0.5)), 50, 150) > 0 for m in (found, true)]
    away = cv2.distanceTransform(np.uint8(~edges[1]), cv2.DIST_L2, 5)
    return float(away[edges[0]].mean())


@pytest.fixture(scope="module")
def solved_matting():
    """Five frames of the lamplighter, from strokes on one of them."""
    with Footage(MEDIA / "lamplighter.mp4") as clip:
        matting = Matting(
            Strokes.model_validate({"strokes": FIGURE}), clip.picture, clip.size, frames=5
        )
        steps = list(matting.solve())
        assert steps == list(range(1, matting.total + 1))
        yield matting


def test_the_lamplighter_is_lifted_out(solved_matting):
    found = {n: solved_matting.matte(n) for n in (2, 3, 4)}
    true = {n: lamplighter.matte(n) for n in (2, 3, 4)}
    for n in found:
        assert overlap(found[n], true[n]) >= 0.97
        assert edge_error(found[n], true[n]) < 1
    change = np.abs(found[3] - found[2]).mean()
    assert change <= 1.2 * np.abs(true[3] - true[2]).mean()


def test_a_frame_alone_is_that_frame_in_order(solved_matting):
    alone = solved_matting.matte(4).copy()
    for n in range(5):
        last = solved_matting.matte(n)
    np.testing.assert_array_equal(alone, last)


SIZE = Size(320, 180)


def still_disc(noise=0.0):
    """A dark disc on a pale ground, the same in all frames."""
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width]
    inside = (x - 150) ** 2 + (y - 90) ** 2 < 50**2
    rng = np.random.default_rng(2)
    grain = 0.04 * rng.standard_normal((3, SIZE.height, SIZE.width))
    picture = np.where(inside, 0.2, 0.8)[None] + grain
    return picture.astype(np.float32), inside


def small_matting(strokes, pictures, size=SIZE, known=(), asked=None):
    def picture(frame, wanted):
        if asked is not None:
            asked.add(frame)
        whole = pictures[frame].transpose(1, 2, 0)
        made = cv2.resize(whole, tuple(wanted), interpolation=cv2.INTER_AREA)
        return np.ascontiguousarray(made.transpose(2, 0, 1))

    drawn = Strokes.model_validate({"strokes": strokes})
    return Matting(drawn, picture, size, len(pictures), known)


DISC = [
    {"frame": 0, "kind": "around", "points": [[0.2, 0.1], [0.75, 0.1], [0.75, 0.9], [0.2, 0.9]]},
    {"frame": 0, "kind": "this", "points": [[0.45, 0.4], [0.5, 0.6]]},
]


def test_a_still_stays_still():
    picture, inside = still_disc()
    matting = small_matting(DISC, [picture] * 4)
    list(matting.solve())
    mattes = [matting.matte(n) for n in range(4)]
    assert overlap(mattes[0], inside) > 0.97
    for n in range(1, 4):
        np.testing.assert_array_equal(mattes[n], mattes[0])


@pytest.mark.parametrize("keyed", [(0,), (7,), (3,), (0, 7)])
def test_it_is_carried_both_ways_from_the_frames_with_strokes(keyed):
    picture, inside = still_disc()
    pictures = [np.roll(picture, 4 * n, 2) for n in range(8)]
    strokes = [
        stroke | {"frame": n, "points": [[x + 4 * n / SIZE.width, y] for x, y in stroke["points"]]}
        for n in keyed
        for stroke in DISC
    ]
    matting = small_matting(strokes, pictures)
    assert list(matting.solve())[-1] == matting.total
    for n in range(8):
        assert overlap(matting.matte(n), np.roll(inside, 4 * n, 1)) > 0.95


def test_a_stroke_on_a_later_frame_takes_away_what_is_not_it():
    picture, inside = still_disc()
    pictures = [picture] * 6
    nothing = [
        {"frame": 4, "kind": "not this", "points": [[0.47, 0.25], [0.47, 0.75]], "width": 80}
    ]
    matting = small_matting(DISC + nothing, pictures)
    list(matting.solve())
    middle = (90, 150)
    assert matting.matte(0)[middle] > 0.9
    assert matting.matte(5)[middle] < 0.1
    assert overlap(matting.matte(0), inside) > 0.95


MORE = [{"frame": 6, "kind": "not this", "points": [[0.47, 0.7], [0.55, 0.75]], "width": 40}]


@pytest.fixture(scope="module")
def shifting():
    picture, _ = still_disc()
    return [np.roll(picture, 2 * n, 2) for n in range(9)]


@pytest.mark.parametrize(("more", "reused"), [(MORE, range(5)), ([], range(9))])
def test_more_strokes_solve_only_what_they_change_and_the_result_is_as_from_scratch(
    more, reused, shifting
):
    """Frames before the added strokes are between two with strokes then: they come from both."""
    before = small_matting(DISC, shifting)
    list(before.solve())
    asked = set()
    again = small_matting(DISC + more, shifting, known=[before.solved], asked=asked)
    assert list(again.solve())[-1] == again.total
    if not more:
        assert asked <= {0}  # the colours are learnt from the first
    scratch = small_matting(DISC + more, shifting)
    list(scratch.solve())
    for n in range(9):
        assert again.solved.out.packed_bits(n) == scratch.solved.out.packed_bits(n)
        assert again.solved.back.packed_bits(n) == scratch.solved.back.packed_bits(n)
        if not again.is_changed(n, before.solved):
            np.testing.assert_array_equal(again.matte(n), before.matte(n))
    assert [again.solved.out.packed_bits(n) for n in reused] == [
        before.solved.out.packed_bits(n) for n in reused
    ]
    assert again.is_changed(6, before.solved) == bool(more)


def test_a_stroke_that_says_nothing_new_changes_nothing_far_from_it(shifting):
    before = small_matting(DISC, shifting)
    list(before.solve())
    nothing_new = [{"frame": 7, "kind": "not this", "points": [[0.05, 0.05]]}]
    again = small_matting(DISC + nothing_new, shifting, known=[before.solved])
    assert list(again.solve())[-1] == again.total
    changed = [n for n in range(9) if again.is_changed(n, before.solved)]
    assert set(changed) <= {5, 6, 7, 8}


def test_what_a_later_stroke_corrects_is_carried_back():
    """A second disc is held to be the figure's in all frames, till the last says that it is not."""
    picture, _ = still_disc()
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width]
    other = (x - 225) ** 2 + (y - 120) ** 2 < 12**2
    picture[:, other] = np.float32([0.7, 0.3, 0.2])[:, None]
    dab = [{"frame": 5, "kind": "not this", "points": [[225 / 320, 120 / 180]], "width": 110}]
    matting = small_matting(DISC + dab, [picture] * 6)
    list(matting.solve())
    weights = [float(matting.matte(n)[120, 225]) for n in range(6)]
    assert weights[0] > 0.9
    assert weights == sorted(weights, reverse=True)
    assert weights[-1] < 0.1


def test_what_was_stopped_goes_on_from_there(shifting):
    before = small_matting(DISC, shifting)
    solving = before.solve()
    for _ in range(6):
        next(solving)
    solving.close()
    asked = set()
    again = small_matting(DISC, shifting, known=[before.solved], asked=asked)
    list(again.solve())
    assert asked == {0, 5, 6, 7, 8}


def test_what_was_solved_goes_to_bytes_and_back(shifting):
    matting = small_matting(DISC + MORE, shifting)
    list(matting.solve())
    solved = matting.solved
    read = Solved.from_bytes(solved.to_bytes(), solved.strokes, solved.size, solved.frames)
    for n in range(9):
        np.testing.assert_array_equal(read.out[n], solved.out[n])
        assert (n in read.back) == (n in solved.back)
    again = small_matting(DISC + MORE, shifting, known=[read])
    list(again.solve())
    assert not any(again.is_changed(n, solved) for n in range(9))


@pytest.mark.parametrize("data", [b"", b"nothing", b"PK\x05\x06" + bytes(18)])
def test_bytes_that_are_no_mattes_are_refused(data):
    strokes = Strokes.model_validate({"strokes": DISC})
    with pytest.raises(ValueError, match="no mattes"):
        Solved.from_bytes(data, strokes, SIZE, 9)


def test_more_than_the_clip_has_is_refused_before_it_is_unpacked():
    strokes, file = Strokes.model_validate({"strokes": DISC}), io.BytesIO()
    np.savez_compressed(file, shape=np.array([180, 320]), out=np.zeros(1 << 24, np.uint8))
    with pytest.raises(ValueError, match="more than the clip"):
        Solved.from_bytes(file.getvalue(), strokes, SIZE, 9)


def test_one_frame_is_seen_before_all_are_solved(shifting):
    matting = small_matting(DISC, shifting)
    assert matting.glimpse(3, SIZE) is None
    first = matting.glimpse(0, SIZE)
    list(matting.solve())
    assert overlap(first, matting.matte(0)) > 0.99
    assert matting.glimpse(0, Size(160, 90)).shape == (90, 160)
    later = small_matting(DISC, shifting, known=[matting.solved])
    np.testing.assert_array_equal(later.glimpse(5, SIZE) > 0.5, matting.solved.out[5] > 0)
    without = small_matting(DISC + MORE, shifting, known=[matting.solved])
    place = 130, 155
    assert later.glimpse(6, SIZE)[place] > 0.9
    assert without.glimpse(6, SIZE)[place] < 0.1


def test_a_dab_on_a_wrong_part_takes_all_of_it_away():
    """A second disc of another colour, held to be the figure's."""
    picture, inside = still_disc()
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width]
    other = (x - 225) ** 2 + (y - 120) ** 2 < 12**2
    picture[:, other] = np.float32([0.7, 0.3, 0.2])[:, None]
    dab = [{"frame": 0, "kind": "not this", "points": [[225 / 320, 120 / 180]], "width": 60}]
    with_it, without = (
        small_matting(strokes, [picture]).glimpse(0, SIZE) for strokes in (DISC, DISC + dab)
    )
    assert with_it[120, 225] > 0.9
    assert without[other].mean() < 0.1
    assert overlap(without, inside) > 0.95


def test_what_is_large_is_cut_coarse_to_fine_to_the_same():
    y, x = np.mgrid[0:480, 0:640]
    inside = np.hypot(x - 300, y - 240) < 150 + 12 * np.cos(9 * np.arctan2(y - 240, x - 300))
    rng = np.random.default_rng(3)
    colours = np.clip(
        np.where(inside, 60, 180)[..., None] + rng.normal(0, 8, (480, 640, 3)), 0, 255
    )
    mask = np.full((480, 640), cv2.GC_PR_BGD, np.uint8)
    mask[200:280, 260:340] = cv2.GC_FGD
    mask[:20] = cv2.GC_BGD
    found = cut_coarse_to_fine(colours.astype(np.uint8), mask, 8, 2, 6)
    assert overlap(found, inside) > 0.99


def test_strokes_are_drawn_over_what_was_there():
    mask = np.full((90, 160), cv2.GC_BGD, np.uint8)
    strokes = Strokes.model_validate({"strokes": DISC}).strokes_of(0)
    out = mark_strokes(strokes, mask)
    assert out[5, 5] == cv2.GC_BGD
    assert out[45, 60] == cv2.GC_PR_FGD
    assert out[36, 72] == cv2.GC_FGD
    assert mask.max() == cv2.GC_BGD  # as it was


@pytest.mark.parametrize(
    ("strokes", "says"),
    [
        ([], "strokes"),
        ([{"frame": 0, "kind": "not this", "points": [[0.5, 0.5]]}], "draw one on it"),
        ([{"frame": 0, "kind": "this", "points": []}], "points"),
        ([{"frame": 0, "kind": "this", "points": [[1.5, 0.5]]}], "outside the frame"),
        ([{"frame": 0, "kind": "around", "points": [[0.1, 0.1], [0.2, 0.2]]}], "three points"),
        ([{"frame": 0, "kind": "that", "points": [[0.5, 0.5]]}], "kind"),
        ([{"frame": -1, "kind": "this", "points": [[0.5, 0.5]]}], "frame"),
        ([{"frame": 0, "kind": "this", "points": [[0.5, 0.5]], "width": 0}], "width"),
    ],
)
def test_strokes_that_can_not_be_used_are_refused(strokes, says):
    with pytest.raises(ValueError, match=says):
        Strokes.model_validate({"strokes": strokes})


def test_a_stroke_beyond_the_clip_is_said():
    picture, _ = still_disc()
    beyond = [stroke | {"frame": 9} for stroke in DISC]
    with pytest.raises(ValueError, match=r"strokes\[0\]: frame 9; the clip has frames 0 to 3"):
        small_matting(beyond, [picture] * 4)


def test_the_guided_filter_is_its_formula():
    """He, Sun, Tang 2013, equations 19 to 21, in float64 by scipy and numpy."""
    rng = np.random.default_rng(1)
    guide = rng.random((3, 40, 50)).astype(np.float32)
    plane = (rng.random((40, 50)) > 0.5).astype(np.float32)
    r, eps = 3, 1e-2

    def mean(values):
        return uniform_filter(values.astype(np.float64), 2 * r + 1, mode="reflect")

    means, plane_mean = np.stack([mean(c) for c in guide]), mean(plane)
    cov = np.stack([mean(c * plane.astype(np.float64)) for c in guide]) - means * plane_mean
    sigma = np.empty((40, 50, 3, 3))
    for i in range(3):
        for j in range(3):
            sigma[..., i, j] = mean(guide[i].astype(np.float64) * guide[j]) - means[i] * means[j]
    sigma += eps * np.eye(3)
    a = np.linalg.solve(sigma, cov.transpose(1, 2, 0)[..., None])[..., 0].transpose(2, 0, 1)
    b = plane_mean - (a * means).sum(0)
    expected = sum(mean(a[c]) * guide[c] for c in range(3)) + mean(b)
    found = guided_filter(guide, plane, r, eps)
    # OpenCV's border mirrors without the edge pixel doubled where scipy's doubles it
    inner = (slice(7, -7), slice(7, -7))
    np.testing.assert_allclose(found[inner], expected[inner], atol=2e-4)


def test_colours_are_told_apart_by_how_likely_they_are():
    """One even colour each: the densities are Gaussians', scipy's."""
    rng = np.random.default_rng(0)
    colours = np.zeros((60, 80, 3), np.uint8)
    hard = np.zeros((60, 80), np.uint8)
    hard[20:40, 30:50] = 1
    colours[...] = np.clip(rng.normal(180, 6, colours.shape), 0, 255)
    colours[hard > 0] = np.clip(rng.normal(60, 6, (400, 3)), 0, 255)
    figure, behind = colour_models(colours, hard, 20)
    asked = np.array([[60, 60, 60], [180, 180, 180], [110, 110, 110]], np.uint8)
    ratio = log_ratio(asked, figure, behind)
    assert ratio[0] > 5
    assert ratio[1] < -5
    plain = sum(
        w * multivariate_normal(m, c + np.eye(3)).pdf([62, 58, 61])
        for w, m, c in zip(*figure, strict=True)
        if w > 0
    )
    own = figure.log_density(np.array([[62, 58, 61]], np.uint8))[0]
    assert own == pytest.approx(np.log(plain * (2 * np.pi) ** 1.5), abs=1e-2)
