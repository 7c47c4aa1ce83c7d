"""Caches under one budget."""

import threading
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from cachetools import LRUCache

from tests.waiting import wait_for
from yearning.core.cache import OVERHEAD_BYTES, Cache, enlarge_cache


def _bytes(n):
    return np.zeros(n, np.uint8)


def test_the_least_recently_used_goes_first():
    cache = Cache(300)
    for key in "abc":
        cache.put(key, _bytes(100))
    cache.get("a")
    cache.put("d", _bytes(100))
    assert sorted(cache.keys()) == ["a", "c", "d"]
    assert cache.used_bytes == 300


def test_regions_have_keys_of_their_own_and_share_the_budget():
    cache = Cache(200)
    frames, plates = cache.region("frames"), cache.region("plates")
    frames.put(1, _bytes(100))
    plates.put(1, _bytes(50))
    assert (frames.get(1).size, plates.get(1).size, cache.get(1)) == (100, 50, None)
    assert cache.region("frames").get(1) is frames.get(1)
    plates.put(2, _bytes(100))
    assert frames.get(1) is None or plates.get(1) is None
    assert frames.used_bytes == plates.used_bytes <= 200
    plates.clear()
    assert plates.keys() == []


@pytest.mark.parametrize(("room", "kept"), [(99, False), (100, True)])
def test_what_is_larger_than_the_budget_is_given_but_not_kept(room, kept):
    cache = Cache(room)
    assert cache.get_or_make("a", lambda: _bytes(100)).size == 100
    assert (cache.get("a") is not None) is kept


def test_a_value_that_does_not_say_how_large_it_is_counts_all_the_same():
    cache = Cache(10 * OVERHEAD_BYTES)
    for n in range(50):
        cache.put(n, object())
    assert cache.keys() == list(range(40, 50))


def test_a_shared_array_can_not_be_written_to():
    kept = Cache(1000).put("a", _bytes(10))
    with pytest.raises(ValueError, match="read-only"):
        kept[0] = 1


def test_one_thread_makes_what_many_wait_for(monkeypatch):
    cache, made, asked, begin = Cache(1000), [], [], threading.Barrier(8)
    get = cache.get
    monkeypatch.setattr(cache, "get", lambda key: asked.append(key) or get(key))

    def make():
        made.append(1)
        wait_for(lambda: len(asked) >= 8)  # the others come while it is made
        return _bytes(10)

    def ask(_):
        begin.wait()
        return cache.get_or_make("a", make)

    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(ask, range(8)))
    assert len(made) == 1
    assert all(value is found[0] for value in found)


def test_what_could_not_be_made_is_tried_again():
    cache = Cache(1000)
    with pytest.raises(ZeroDivisionError):
        cache.get_or_make("a", lambda: 1 / 0)
    assert cache.get_or_make("a", lambda: b"made") == b"made"


def test_a_cache_is_enlarged_with_what_it_holds():
    small = LRUCache(2)
    small.update({1: "one", 2: "two"})
    large = enlarge_cache(small, 5)
    assert (large.maxsize, dict(large)) == (5, {1: "one", 2: "two"})
    assert enlarge_cache(large, 3) is large
