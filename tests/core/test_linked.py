import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytest import approx

from euhydra.core.linked import LinkedLevel, NeverMeetError, Vessel


def test_two_barrels_at_different_heights_by_hand():
    # A: 0.3 m² from 0.0 to 1.0 m; B: 0.2 m² from 0.4 to 1.4 m. Full at 1.0 m, where A runs over:
    # 0.3 · 1.0 + 0.2 · 0.6 = 0.42 m³. At 0.4 m only A holds water: 0.12 m³. Half of 0.42 stands
    # at 0.4 + (0.21 − 0.12) / 0.5 = 0.58 m.
    linked = LinkedLevel.of([Vessel(0.0, 1.0, 0.3), Vessel(0.4, 1.0, 0.2)])
    assert linked.full == 1.0
    assert linked.capacity == approx(0.42)
    assert linked.volume_at(0.4) == approx(0.12)
    assert linked.level_at(0.21) == approx(0.58)


def test_a_pair_that_cannot_meet_is_refused():
    with pytest.raises(NeverMeetError):
        LinkedLevel.of([Vessel(0.0, 1.0, 0.3), Vessel(1.0, 1.0, 0.2)])


vessels = st.lists(
    st.builds(Vessel, st.floats(0, 0.9), st.floats(1, 2), st.floats(0.05, 2)),
    min_size=1,
    max_size=6,
)


@given(vessels, st.floats(0, 1))
def test_level_and_volume_are_each_others_inverse(group, share):
    linked = LinkedLevel.of(group)
    volume = share * linked.capacity
    level = linked.level_at(volume)
    assert linked.volume_at(level) == approx(volume, abs=1e-9)
    by_sum = sum(v.plan * min(max(level - v.base, 0), v.depth) for v in group)
    assert by_sum == approx(volume, abs=1e-9)
