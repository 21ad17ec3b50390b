"""What one property asks of many cases: of a telling few in `make test`, of all others in `make sweep`."""

from collections.abc import Callable, Collection, Iterable
from pathlib import Path
from typing import Any

import pytest


def swept(
    cases: Iterable[Any], at_once: Collection[Any], name: Callable[[Any], str] | None = None
) -> list[Any]:
    """Cases for `parametrize`, of which those not among `at_once` wait for the sweep.

    Nothing is asked in the sweep alone: some case of every property is asked at once.
    """
    cases = list(cases)
    if not at_once or any(case not in cases for case in at_once):
        raise ValueError(f"asked at once must be some of the cases, and not {at_once}")
    return [
        pytest.param(
            *(case if isinstance(case, tuple) else (case,)),
            id=name(case) if name else None,
            marks=() if case in at_once else pytest.mark.sweep,
        )
        for case in cases
    ]


def again(asked_by: str) -> pytest.MarkDecorator:
    """The mark of a test that asks by another way, or of another system, what `asked_by` asks at once.

    asked_by : Such as ``web/test_built.py::test_one_barrel_and_the_can``.
    """
    file, _, test = asked_by.partition("::")
    lines = (Path(__file__).parent / file).read_text("utf-8").splitlines()
    places = [number for number, line in enumerate(lines) if line.startswith(f"def {test}(")]
    if not places or lines[places[0] - 1].startswith("@again("):
        raise ValueError(f"{asked_by} is no test that is asked at once")
    return pytest.mark.sweep
