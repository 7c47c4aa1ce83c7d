"""Bands of rows: each row once, whoever works on it, and no failure lost."""

import threading

import pytest

from yearning.core import parallel


def _rows_covered(height, rows, least=1):
    seen = []
    parallel.for_each_band(height, lambda top, bottom: seen.append((top, bottom)), rows, least)
    return sorted(seen)


@pytest.mark.parametrize("height", [1, 2, 15, 16, 17, 1080])
@pytest.mark.parametrize("rows", [1, 5, 16, 4000])
def test_bands_cover_every_row_once(height, rows):
    found = _rows_covered(height, rows)
    assert [row for top, bottom in found for row in range(top, bottom)] == list(range(height))
    assert all(bottom - top <= rows for top, bottom in found)


@pytest.mark.parametrize("height", [1, 5, 6, 11, 12, 13, 17, 18, 1081, 1085])
def test_a_rest_too_low_goes_to_the_last_band(height):
    found = _rows_covered(height, 12, 6)
    assert [row for top, bottom in found for row in range(top, bottom)] == list(range(height))
    assert all(top % 12 == 0 for top, _ in found)
    assert len(found) == 1 or all(bottom - top >= 6 for top, bottom in found)


@pytest.mark.parametrize("width", [1, 100, 1920, 3840, 200_000])
@pytest.mark.parametrize("multiple", [1, 2, 6, 96])
def test_a_band_is_whole_multiples_and_fits_the_cache_where_it_can(width, multiple):
    rows = parallel.band_rows(width, multiple)
    assert rows >= multiple
    assert rows % multiple == 0
    assert rows == multiple or rows * width <= parallel.BAND_PIXELS


def test_a_failure_comes_back_and_what_was_not_begun_is_left():
    begun = []

    def work(i):
        begun.append(i)
        if i == 3:
            raise ArithmeticError("the third")

    with pytest.raises(ArithmeticError, match="the third"):
        parallel.for_each(work, 1000)
    assert len(begun) < 1000


def test_a_thread_that_works_alone_hands_nothing_on():
    names = set()

    def work_alone():
        parallel.use_one_thread()
        parallel.for_each(lambda i: names.add(threading.current_thread().name), 200)

    thread = threading.Thread(target=work_alone, name="by itself")
    thread.start()
    thread.join()
    assert names == {"by itself"}


def test_nothing_to_do_is_done():
    parallel.for_each(lambda i: pytest.fail("there was nothing"), 0)
