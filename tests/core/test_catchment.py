import numpy as np
from pytest import approx, mark

from euhydra.core.catchment import FirstFlushReset, fill_time, first_flush_taken, roof_inflow

L_PER_US_GALLON = 3.785411784


def test_an_inch_on_a_thousand_square_feet():
    # Texas Manual on Rainwater Harvesting (2005): 623 gal, from memory.
    litres = roof_inflow(np.array([25.4]), 1000 * 0.09290304, 1.0)[0]
    assert litres / L_PER_US_GALLON == approx(623, abs=0.5)


def test_first_flush_once_a_spell_and_once_a_day():
    rain = np.array([0.3, 5.0, 0.0, 2.0])
    spell = roof_inflow(rain, 10, 1.0, first_flush=1.0)
    daily = roof_inflow(rain, 10, 1.0, 1.0, FirstFlushReset.DAY)
    assert spell == approx([0, 43, 0, 10])  # 0.3 then 0.7 are taken in the first spell
    assert daily == approx([0, 40, 0, 10])


@mark.parametrize("dry_days", [0, 1, 3])
@mark.parametrize("seed", range(5))
def test_what_the_device_takes_is_what_a_tube_with_a_slow_drip_would(seed, dry_days):
    chance = np.random.default_rng(seed)
    arriving = np.where(chance.random(300) < 0.4, chance.gamma(0.7, 8.0, 300), 0.0)
    room, dry, expected = 5.0, 0, []
    for litres in arriving.tolist():
        dry = 0 if litres > 0 else dry + 1
        room = 5.0 if dry >= max(dry_days, 1) else room
        expected.append(min(litres, room))
        room -= expected[-1]
    taken = first_flush_taken(arriving, 5.0, FirstFlushReset.WET_SPELL, dry_days)
    assert taken == approx(np.array(expected), abs=1e-9)
    assert (taken <= arriving).all()


def test_cloudburst_fills_a_barrel_in_minutes():
    # Field practice (CP): 30 m² and a cloudburst fill 200 L within minutes.
    assert fill_time(200, 60, 30, 0.9) * 60 == approx(7.4, abs=0.05)
