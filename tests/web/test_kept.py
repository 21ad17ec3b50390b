"""Results that are kept: each worked out once, however many ask, and the oldest forgotten."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from threading import Event

import pytest

from euhydra.web.kept import FoundSoFar, KeptResults


def test_two_requests_never_work_out_the_same_thing():
    kept, begun, may_end = KeptResults[int](), Event(), Event()
    times = []

    def slow() -> int:
        times.append(1)
        begun.set()
        assert may_end.wait(10)
        return 7

    with ThreadPoolExecutor(4) as pool:
        first = pool.submit(kept.get, "season", slow)
        assert begun.wait(10)
        others = [pool.submit(kept.get, "season", slow) for _ in range(2)]
        # Another key waits for nobody.
        assert pool.submit(kept.get, "stream", lambda: 1).result(10) == 1
        may_end.set()
        assert [f.result(10) for f in (first, *others)] == [7, 7, 7]
    assert len(times) == 1


def test_the_oldest_is_forgotten_and_a_failure_is_not_kept():
    kept = KeptResults[int](2)
    for key in "abc":
        kept.get(key, lambda key=key: ord(key))
    assert kept.get("c", lambda: 0) == ord("c")
    assert kept.get("a", lambda: 0) == 0
    with pytest.raises(ZeroDivisionError):
        kept.get("d", lambda: 1 // 0)
    assert kept.get("d", lambda: 4) == 4


def test_keys_that_a_checksum_would_confuse_stay_apart():
    # "plumless" and "buckeroo" have one CRC-32.
    kept = KeptResults[str]()
    assert kept.get("plumless", lambda: "first") == "first"
    assert kept.get("buckeroo", lambda: "second") == "second"


def test_a_search_goes_on_where_it_stopped():
    looked: list[int] = []

    def search() -> Iterator[int]:
        for number in range(4):
            looked.append(number)
            yield number

    found = FoundSoFar(search)
    assert (found.first(1), looked) == ((0,), [0])
    assert (found.first(3), looked) == ((0, 1, 2), [0, 1, 2])
    assert (found.first(2), looked) == ((0, 1), [0, 1, 2])
    assert found.first(9) == found.first(8) == (0, 1, 2, 3)


def test_a_search_that_failed_is_taken_up_again_after_what_it_had_found():
    fails = [True]

    def search() -> Iterator[int]:
        yield 0
        if fails.pop():
            raise ZeroDivisionError
        yield 1

    fails.insert(0, False)
    found = FoundSoFar(search)
    with pytest.raises(ZeroDivisionError):
        found.first(2)
    assert found.first(2) == (0, 1)
