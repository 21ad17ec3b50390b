"""Usual months: those that cannot be, and those that were typed in another unit."""

import pytest

from euhydra.garden import demo, normals
from euhydra.garden.normals import NormalsError

INCH = 25.4


def refused(columns) -> set[tuple[str, int, str]]:
    with pytest.raises(NormalsError) as caught:
        normals.check(columns)
    return {(*place, fault.code) for place, fault in caught.value.faults.items()}


def rain(factor: float) -> dict[str, list[float | None]]:
    months = demo.normals()
    return months | {"precip_mm": [r * factor for r in months["precip_mm"]]}


def test_the_demos_months_are_taken():
    normals.check(demo.normals())


def test_millimetres_typed_as_inches_and_the_other_way_round_are_questioned():
    inches = demo.normals() | {"precip_mm": [70 * INCH] * 12}  # 840 "inches" a year
    assert refused(inches) == {("precip_mm", 1, "months-too-much-for-a-year")}
    assert refused(rain(1 / INCH)) == {("precip_mm", 1, "months-too-little-on-wet-days")}


def test_the_wettest_and_a_dry_place_are_taken():
    normals.check(rain(11_900 / sum(demo.normals()["precip_mm"])))
    dry = demo.normals() | {"precip_mm": [2.0] * 12, "wet_days": [1.0] * 12}
    normals.check(dry)
    unknown = demo.normals() | {"precip_mm": [0.4] * 12, "wet_days": [None] * 12}
    normals.check(unknown)


def test_a_fault_of_a_month_is_told_before_that_of_the_year():
    months = rain(INCH)
    months["tmin_c"][3] = 80.0
    assert all(code != "months-too-much-for-a-year" for _, _, code in refused(months))
