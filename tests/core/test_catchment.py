import numpy as np
from pytest import approx

from euhydra.core.catchment import FirstFlushReset, fill_time, roof_inflow

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


def test_cloudburst_fills_a_barrel_in_minutes():
    # Field practice (CP): 30 m² and a cloudburst fill 200 L within minutes.
    assert fill_time(200, 60, 30, 0.9) * 60 == approx(7.4, abs=0.05)
