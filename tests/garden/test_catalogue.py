import pytest

from euhydra.core import texture
from euhydra.garden import catalogue, plumbing

TABLES = [
    catalogue.roof_materials,
    catalogue.soils,
    catalogue.crops,
    catalogue.bores,
    plumbing.pipe_kinds,
    plumbing.drippers,
    plumbing.fitting_kinds,
    plumbing.pump_kinds,
    plumbing.drills,
    catalogue.timers,
]


@pytest.mark.parametrize("table", TABLES)
def test_every_row_has_a_name_and_a_source(table):
    for row in table().values():
        assert row.name
        assert row.source


def test_a_one_millimetre_hole_follows_the_orifice_law():
    # q = 0.61 A √(2 g H), handbook value of the coefficient for a sharp edge, from memory.
    hole = plumbing.pipe_kinds()["hole-1"].outlet
    expected = 0.61 * 3.14159265 / 4 * 1e-6 * (2 * 9.80665) ** 0.5
    assert hole.coefficient == pytest.approx(expected, rel=1e-3)


def test_unknown_entries_are_named_with_those_there_are():
    with pytest.raises(catalogue.UnknownEntryError, match="loam"):
        catalogue.find(catalogue.soils(), "moon dust")


@pytest.mark.parametrize(
    ("crop", "kc", "depletion"),
    [  # FAO-56 tables 12 and 22, from memory: Kc at the start, in mid-season and at the end; p
        ("tomato", (0.6, 1.15, 0.8), 0.40),
        ("potato", (0.5, 1.15, 0.75), 0.35),
        ("onion", (0.7, 1.05, 0.75), 0.30),
        ("strawberry", (0.4, 0.85, 0.75), 0.20),
        ("grape", (0.3, 0.85, 0.45), 0.35),
        ("apple", (0.45, 0.95, 0.7), 0.50),
        ("olive", (0.65, 0.7, 0.7), 0.65),
        ("lawn-warm", (0.8, 0.85, 0.85), 0.50),
    ],
)
def test_crops_are_those_of_the_table(crop, kc, depletion):
    season = catalogue.crops()[crop].season
    assert (season.kc_initial, season.kc_mid, season.kc_end) == kc
    assert season.depletion_fraction == depletion


def test_there_are_crops_of_every_sort_and_each_can_end():
    crops = catalogue.crops()
    assert len(crops) >= 60
    assert {crop.eaten for crop in crops.values()} == set(catalogue.greywater_rules())
    for crop in crops.values():
        assert 30 <= crop.season.season_days <= 366
        assert 0 < crop.season.root_start <= crop.season.root_full
        assert 0.1 <= crop.season.depletion_fraction <= 0.8


@pytest.mark.parametrize(
    ("soil", "field_capacity", "wilting_point", "available"),
    [
        # FAO-56 table 19: typical ranges, m³ m⁻³. From memory.
        ("sand", (0.07, 0.17), (0.02, 0.07), (0.05, 0.11)),
        ("loamy-sand", (0.11, 0.19), (0.03, 0.10), (0.06, 0.12)),
        ("sandy-loam", (0.18, 0.28), (0.06, 0.16), (0.11, 0.15)),
        ("loam", (0.20, 0.30), (0.07, 0.17), (0.13, 0.18)),
        ("silt-loam", (0.22, 0.36), (0.09, 0.21), (0.13, 0.19)),
        ("silt", (0.28, 0.36), (0.12, 0.22), (0.16, 0.20)),
        ("silty-clay-loam", (0.30, 0.37), (0.17, 0.24), (0.13, 0.18)),
        ("silty-clay", (0.30, 0.42), (0.17, 0.29), (0.13, 0.19)),
        ("clay", (0.32, 0.40), (0.20, 0.24), (0.12, 0.20)),
    ],
)
def test_soils_lie_in_the_published_ranges(soil, field_capacity, wilting_point, available):
    water = catalogue.soils()[soil].water
    assert field_capacity[0] <= water.field_capacity <= field_capacity[1]
    assert wilting_point[0] <= water.wilting_point <= wilting_point[1]
    assert water.available == pytest.approx(sum(available) / 2)


def test_every_texture_of_the_jar_test_is_a_soil():
    assert set(texture.CLASSES) <= set(catalogue.soils())


def test_there_are_crops_of_every_sort_with_a_source():
    crops = catalogue.crops()
    assert len(crops) >= 60
    assert all(crop.source for crop in crops.values())
    assert all(crop.season.season_days <= 366 for crop in crops.values())
    assert {"border-low", "lawn-cool", "apple", "currant", "basil", "zinnia"} <= set(crops)
