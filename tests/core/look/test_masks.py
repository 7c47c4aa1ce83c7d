"""Masks in look files: what is written, keyed and refused, each at its place."""

import pytest

from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look

HEAD = {"id": "head", "kind": "ellipse", "centre": [0.5, 0.4], "size": [0.1, 0.2], "feather": 40}
TRIANGLE = [[0.2, 0.2, 0, 0, 0, 0], [0.8, 0.2, 0, 0, 0, 0], [0.5, 0.8, 0, 0, 0, 0]]
PATH = {"id": "cut", "kind": "drawn", "points": TRIANGLE}


def look(*masks, keys=None):
    steps = [
        {"id": f"s{n}", "treatment": "mono", "mix": {"mask": mask}} for n, mask in enumerate(masks)
    ]
    if keys:
        steps[0]["keys"] = keys
    return parse_look({"format": "yearning-look/3", "steps": steps})


def test_a_mask_is_written_as_it_was_read():
    mask = [
        HEAD | {"turn": 5.0, "join": "add", "strength": 0.5, "invert": True},
        {"id": "b", "kind": "box", "join": "take away", "round": 0.5},
        PATH,
        {"id": "w", "kind": "wash", "from": [0, 0.5], "to": [1, 0.5], "join": "keep common"},
        {"id": "t", "kind": "tones", "of": "footage", "points": [[0, 1], [1, 0]]},
        {"id": "h", "kind": "hue", "hue": 200, "least_saturation": 0.2},
    ]
    shared = [{"id": "its", "same_as": "s0.head", "join": "take away"}]
    read = look(mask, shared).model_dump(mode="json")
    again = parse_look(read)
    assert again.model_dump(mode="json") == read
    for given, written in zip(
        mask + shared,
        read["steps"][0]["mix"]["mask"] + read["steps"][1]["mix"]["mask"],
        strict=True,
    ):
        assert given.items() <= written.items()


@pytest.mark.parametrize("nothing", [None, [], {}])
def test_no_mask_is_written_in_several_ways(nothing):
    assert look(nothing).steps[0].mix.mask == ()


@pytest.mark.parametrize(
    ("mask", "said"),
    [
        ([{"id": "x"}], "steps[0].mix.mask[0].kind: missing"),
        ([{"id": "x", "kind": "blob"}], "unknown shape 'blob'; known are ellipse, box, drawn"),
        ([HEAD, HEAD], "steps[0].mix.mask: two shapes have the id 'head'"),
        ([HEAD | {"id": "a.b"}], "mask[0].id: a shape's id has no full stop"),
        ([HEAD | {"size": [0, 0.1]}], "mask[0].size: both half axes are more than 0"),
        ([HEAD | {"feather": 401}], "mask[0].feather:"),
        ([HEAD | {"fether": 4}], "mask[0].fether: unknown field"),
        ([HEAD | {"centre": [0.5]}], "mask[0].centre"),
        ([PATH | {"points": TRIANGLE[:1]}], "mask[0].points:"),
        ([PATH | {"points": [[0, 0]] * 3}], "mask[0].points[0]"),
        ([{"id": "w", "kind": "wash", "feather": 3}], "mask[0].feather: unknown field"),
        ([HEAD | {"id": f"h{n}"} for n in range(33)], "steps[0].mix.mask:"),
        ([{"id": "t", "kind": "tones", "of": "later"}], "mask[0].of: 'later' is no step"),
        ([{"id": "t", "kind": "tones", "of": "s0"}], "mask[0].of: 's0' comes later, or holds it"),
        (
            [{"id": "t", "same_as": "s9.head"}],
            "mask[0].same_as: 's9.head' is no shape of this look",
        ),
        ("head", "steps[0].mix.mask"),
    ],
)
def test_what_is_wrong_is_said_at_its_place(mask, said):
    with pytest.raises(InvalidLookError) as refused:
        look(mask)
    assert said in str(refused.value)


def test_a_shape_is_the_same_as_one_of_its_own():
    first = [{"id": "a", "same_as": "s1.b"}]
    with pytest.raises(
        InvalidLookError, match=r"'s1\.b' is itself the same as 's2\.head'; name that"
    ):
        look(first, [{"id": "b", "same_as": "s2.head"}], [HEAD])


def test_a_shape_found_in_a_later_picture_is_shared_by_no_earlier_step():
    found = [{"id": "t", "kind": "tones", "of": "s1"}]
    with pytest.raises(InvalidLookError, match=r"steps\[0\]\.mix\.mask\[0\]\.of: 's1' comes later"):
        look([{"id": "its", "same_as": "s2.t"}], None, found)


def test_shapes_move_by_keys():
    keys = {
        "mix.mask.head.centre": [{"frame": 0, "value": [0, 0]}, {"frame": 10, "value": [1, 0.5]}],
        "mix.mask.head.feather": [{"frame": 5, "value": 12}],
        "mix.mask.cut.points": [
            {"frame": 0, "value": TRIANGLE},
            {"frame": 10, "value": [[x + 0.1, *rest] for x, *rest in TRIANGLE]},
        ],
        "mix.amount": [{"frame": 0, "value": 0.5}],
    }
    made = look([HEAD, PATH], keys=keys).steps[0]
    head, cut = made.at(5).mix.mask
    assert head.centre == pytest.approx((0.5, 0.25))
    assert head.feather == 12
    assert cut.points[1] == pytest.approx((0.85, 0.2, 0, 0, 0, 0))
    assert made.at(5).mix.amount == 0.5
    assert made.last_frame()[0] == 10


@pytest.mark.parametrize(
    ("keys", "said"),
    [
        ({"mix.mask.hat.centre": [{"frame": 0, "value": [0, 0]}]}, "here keys pin"),
        ({"mix.mask.head.join": [{"frame": 0, "value": "add"}]}, "mix.mask.head.feather"),
        ({"mix.mask.head.size": [{"frame": 0, "value": [0, 1]}]}, "both half axes"),
        ({"mix.mask.head.turn": [{"frame": 0, "value": "up"}]}, "keys.mix.mask.head.turn[0].value"),
        (
            {
                "mix.mask.cut.points": [
                    {"frame": 0, "value": TRIANGLE},
                    {"frame": 4, "value": [*TRIANGLE, TRIANGLE[0]]},
                ]
            },
            "a path keeps its number of points from key to key, 3, not 4",
        ),
    ],
)
def test_keys_that_pin_no_shape_are_refused(keys, said):
    with pytest.raises(InvalidLookError) as refused:
        look([HEAD, PATH], keys=keys)
    assert said in str(refused.value)


def test_a_wash_is_keyed_by_the_names_in_the_file():
    wash = {"id": "w", "kind": "wash"}
    made = look([wash], keys={"mix.mask.w.from": [{"frame": 0, "value": [0.1, 0.2]}]})
    assert made.steps[0].at(3).mix.mask[0].begin == (0.1, 0.2)
