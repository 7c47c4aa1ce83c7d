"""Parts followed through frames that were warped by known motions."""

from collections.abc import Iterable

import numpy as np
import pytest

from tests.core.motion.moving_parts import HEIGHT, OUTLINE, WIDTH, Scene
from yearning.core.motion.motion_fit import fit_motion, nearest_motion
from yearning.core.motion.track_solver import Request, Solver
from yearning.core.motion.track_template import PixelBox, normalize_contrast
from yearning.core.motion.tracking import Followed, follow
from yearning.core.motion.tracks import LOST, Track, map_places
from yearning.core.picture import Size

SIZE = Size(WIDTH, HEIGHT)
KINDS = ("shift", "turn", "corners")


def errors(scene: Scene, found: Iterable[Followed]) -> list[float]:
    """How far off each frame is, in pixels: the median over the part's edge."""
    made = []
    for each in found:
        away = map_places(each.matrix, OUTLINE) - map_places(scene.matrix(each.frame), OUTLINE)
        made.append(float(np.median(np.hypot(*away.T))))
    return made


@pytest.mark.parametrize("bar", [False, True], ids=["alone", "another thing passes before it"])
@pytest.mark.parametrize("kind", KINDS)
def test_a_part_is_where_it_was_moved_to(kind, bar):
    """Under noise of 2 % and light that changes by 20 %; Kalal et al. 2010, Evangelidis 2008."""
    scene = Scene(kind, bar=bar)
    found = list(follow(scene, SIZE, range(scene.frames), OUTLINE, kind))
    off = errors(scene, found)
    assert np.median(off) < 0.25
    assert np.percentile(off, 95) < 1
    assert max(off) < 5  # never sure, and wrong
    assert len(found) == scene.frames


@pytest.mark.parametrize("kind", KINDS)
def test_it_does_not_drift(kind):
    """The last of many frames are as near as the first, though something has passed before it."""
    scene = Scene(kind, frames=24, bar=True)
    off = errors(scene, follow(scene, SIZE, range(scene.frames), OUTLINE, kind))
    assert len(off) == 24
    assert np.mean(off[-8:]) < max(2 * np.mean(off[1:9]), 0.15)


def test_what_goes_far_in_one_frame_is_found():
    """88 pixels from the first frame to the next, and as many back again."""
    scene = Scene("shift", frames=8)
    off = errors(scene, follow(scene, SIZE, [0, 1, 0, 2, 3], OUTLINE, "shift"))
    assert len(off) == 5
    assert max(off) < 0.5


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_gone_is_lost_at_once(kind):
    scene = Scene(kind, frames=16, last=7)
    found = list(follow(scene, SIZE, range(scene.frames), OUTLINE, kind))
    assert 8 <= len(found) <= 10
    assert max(errors(scene, found[:8])) < 5


def test_a_part_that_leaves_the_frame_is_lost():
    whole = Scene("shift", noise=0.0, light=0.0)(0, PixelBox(0, 0, WIDTH, HEIGHT))

    def grey(n, box):
        moved = np.roll(whole, 80 * n, 1)
        moved[:, : 80 * n] = 90
        return moved[box.top : box.top + box.height, box.left : box.left + box.width]

    found = list(follow(grey, SIZE, range(16), OUTLINE, "shift"))
    gone = next(n for n in range(16) if (OUTLINE[:, 0] + 80 * n < WIDTH).mean() < LOST)
    assert len(found) <= gone + 2
    for each in found:
        assert abs(each.matrix[0, 2] - 80 * each.frame) < 1


def test_nothing_is_found_where_there_are_no_corners():
    def grey(n, box):
        return np.full((box.height, box.width), 120, np.uint8)

    assert not list(follow(grey, SIZE, range(5), OUTLINE, "turn"))


@pytest.mark.parametrize("brighter", [1.2, 0.8])
def test_levelled_light_does_not_depend_on_exposure(brighter):
    codes = Scene("shift", noise=0.0)(0, PixelBox(700, 400, 400, 300)) // 2
    other = np.asarray(codes * brighter, np.uint8)
    assert (
        np.corrcoef(normalize_contrast(codes).ravel(), normalize_contrast(other).ravel())[0, 1]
        > 0.995
    )
    assert normalize_contrast(codes).std() > 20


def solve_track(scene: Scene, **how) -> Solver:
    request = Request(
        scene.kind,
        how.get("begin", 0),
        OUTLINE,
        how.get("by_hand", {}),
        how.get("first", 0),
        how.get("last", scene.frames - 1),
    )
    solver = Solver(request, how.get("grey", scene), SIZE, how.get("known"))
    steps = list(solver.run())
    assert steps == sorted(steps)
    assert not steps or steps[-1] <= solver.total
    return solver


def test_it_is_followed_backwards_too():
    scene = Scene("turn", frames=12)
    outline = map_places(scene.matrix(6), OUTLINE)
    solver = Solver(Request("turn", 6, outline, {}, 0, 11), scene, SIZE)
    list(solver.run())
    assert sorted(solver.found) == list(range(12))
    start = np.linalg.inv(scene.matrix(6))
    for frame, found in solver.found.items():
        away = map_places(np.array(found.matrix), outline) - map_places(
            scene.matrix(frame) @ start, outline
        )
        assert np.median(np.hypot(*away.T)) < 0.25


def test_between_two_frames_put_right_it_is_solved_from_both_ends():
    """The part is hidden for a while: each way stops there, and beyond is the other's."""
    scene = Scene("shift", frames=24, noise=0.0)

    def grey(n, box):
        seen = scene(n, box)
        return np.full_like(seen, 60) if 10 <= n <= 12 else seen

    alone = solve_track(scene, grey=grey)
    assert max(alone.found) < 12
    both = solve_track(scene, grey=grey, by_hand={18: scene.matrix(18)})
    assert both.found[18].by_hand
    assert {14, 17, 19, 23} <= set(both.found)
    assert not {11} & set(both.found)
    for frame in (5, 15, 20):
        off = np.array(both.found[frame].matrix)[:2, 2] - scene.matrix(frame)[:2, 2]
        assert np.hypot(*off) < 0.3


def test_what_was_put_right_by_hand_is_kept_as_it_was_put():
    scene = Scene("shift", frames=8)
    hand = scene.matrix(5) + np.array([[0, 0, 3.0], [0, 0, 0], [0, 0, 0]])
    solver = solve_track(scene, by_hand={5: hand})
    assert np.allclose(solver.found[5].matrix, hand)
    # both ways are mixed, so that what was put there is come to without a jump
    steps = [np.array(solver.found[n].matrix)[0, 2] - scene.matrix(n)[0, 2] for n in range(6)]
    assert np.all(np.diff(steps) > 0)
    assert np.allclose(np.diff(steps), 0.6, atol=0.25)


def test_only_what_a_hand_changes_is_solved_again():
    scene = Scene("shift", frames=16)
    first = solve_track(scene, by_hand={8: scene.matrix(8)})
    track = Track.model_validate(
        {"size": SIZE, "from": 0, "kind": "shift", "frames": [first.found[n] for n in range(16)]}
    )
    again = solve_track(scene, by_hand={8: scene.matrix(8), 12: scene.matrix(12)}, known=track)
    assert again.total < first.total
    assert again.found[4] == first.found[4]
    assert sorted(again.found) == list(range(16))
    assert solve_track(scene, by_hand={8: scene.matrix(8)}, known=track).total == 0


@pytest.mark.parametrize("kind", KINDS)
def test_few_that_do_not_agree_do_not_move_a_fit(kind):
    """Fischler, Bolles 1981: a third of all are anywhere."""
    rng = np.random.default_rng(4)
    was = rng.uniform(0, 400, (90, 2))
    matrix = Scene(kind).matrix(7)
    now = map_places(matrix, was)
    now[::3] += rng.uniform(20, 60, (30, 2))
    found = fit_motion(kind, was, now)
    assert found is not None
    assert np.abs(map_places(found.matrix, was) - map_places(matrix, was)).max() < 0.05
    assert found.agree.sum() == 60
    assert fit_motion(kind, was[:1], now[:1]) is None


@pytest.mark.parametrize("kind", KINDS)
def test_the_nearest_motion_of_one_of_its_kind_is_itself(kind):
    places = np.random.default_rng(1).uniform(0, 300, (50, 2))
    matrix = Scene(kind).matrix(9)
    assert np.allclose(nearest_motion(kind, matrix, places), matrix, atol=1e-6)
