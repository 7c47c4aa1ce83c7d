"""Memory used again: never while anything still looks at it."""

import gc

import numpy as np
import pytest

from yearning.core import buffers
from yearning.core.buffers import copy_of, new_array, new_like

LARGE = (3, 700, 900)


def _address(array):
    return array.__array_interface__["data"][0]


def _assert_used_again(shape):
    first = new_array(shape)
    assert first.nbytes >= buffers.POOLED_BYTES
    address = _address(first)
    del first
    gc.collect()
    elsewhere = np.empty(shape, np.float32)
    assert _address(new_array(shape)) == address != _address(elsewhere)


def test_large_arrays_memory_is_used_again_once_they_are_gone():
    _assert_used_again(LARGE)


def test_sizes_no_longer_asked_for_make_room():
    living = [new_array((3, 800, 900 + n)) for n in range(40)]
    del living
    gc.collect()
    _assert_used_again((3, 801, 701))


@pytest.mark.parametrize("view", ["slice", "reshaped", "transposed"])
def test_a_view_keeps_the_memory_from_being_used_again(view):
    whole = new_array(LARGE)
    whole[...] = 7
    part = {
        "slice": lambda a: a[1, 5:9],
        "reshaped": lambda a: a.reshape(-1)[100:200],
        "transposed": lambda a: a.T[3],
    }[view](whole)
    del whole
    gc.collect()
    other = new_array(LARGE)
    other[...] = 9
    assert (part == 7).all()


def test_two_living_arrays_never_share_memory():
    living = [new_array(LARGE) for _ in range(4)]
    for n, array in enumerate(living):
        array[...] = n
    assert [array.min() for array in living] == [array.max() for array in living] == [0, 1, 2, 3]


def test_what_is_kept_for_later_is_bounded():
    living = [new_array((3, 1080, 1920)) for _ in range(12)]
    del living
    gc.collect()
    assert buffers._free_bytes <= buffers.MAX_FREE_BYTES


@pytest.mark.parametrize("shape", [(0,), (3, 0, 5), (1,), (2, 3), LARGE])
def test_arrays_have_the_shape_asked_for(shape):
    array = new_array(shape)
    assert array.shape == shape == new_like(array).shape
    assert array.dtype == np.float32
    assert array.flags.c_contiguous
    assert array.flags.writeable


def test_a_copy_is_contiguous_and_apart():
    source = np.arange(60, dtype=np.float32).reshape(3, 4, 5)
    copied = copy_of(source[:, 1:3])
    assert copied.flags.c_contiguous
    np.testing.assert_array_equal(copied, source[:, 1:3])
    copied[...] = 0
    assert source.max() == 59
