"""Every page of gardens whose water only floats let in."""

import pytest

from euhydra.garden import edits
from euhydra.garden.pots import KeptBy, PotKind
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish
from gardens import three_troughs
from served import served_garden
from sweeps import swept

PAGES = (
    "store", "need", "push", "lay", "time", "week", "shares", "years", "away", "build", "steps",
    "labels", "first-run", "keep", "fault", "fault?seen=chain-all-dry", "upkeep", "feed", "card",
)  # fmt: skip


def trays():
    """Two rows of twelve, a fill-and-dry valve in each."""
    bare = edits.replace(three_troughs(), pipes=(), fittings=())
    pots = bare.pots[0].model_copy(update={"kept_by": KeptBy.EACH, "columns": 12})
    garden = edits.replace(bare, pots=(pots,))
    wish = Wish(pots.id, "shed-barrel", Method.POTS, "float-dry")
    return proposed_manifold.lay_together(garden, [wish])


def boxes():
    """Four boxes longer than wide, joined behind one float."""
    bare = edits.replace(three_troughs(), pipes=(), fittings=())
    changed = {
        "kind": PotKind.BOX,
        "kept_by": KeptBy.CHAIN,
        "columns": 4,
        "rows": 1,
        "across_m": 0.3,
        "length_m": 1.2,
        "pitch_m": 1.3,
        "joint_m": 0.2,
        "plants_each": 3,
    }
    pots = bare.pots[0].model_copy(update=changed)
    garden = edits.replace(bare, pots=(pots,))
    return proposed_manifold.lay_together(
        garden, [Wish(pots.id, "shed-barrel", Method.POTS, "float-box")]
    )


@pytest.mark.parametrize("garden", swept([three_troughs, trays, boxes], [trays]))
def test_every_page_answers(garden, tmp_path):
    client = served_garden(tmp_path / "data", garden())
    told = {page: client.get(f"/gardens/1/{page}").status_code for page in PAGES}
    assert set(told.values()) == {200}, told


def test_the_fault_is_looked_for_in_the_planters_that_are_meant(tmp_path):
    garden = three_troughs()
    client = served_garden(tmp_path / "data", garden)
    chosen = garden.pots[2].id
    told = client.get(f"/gardens/1/fault?seen=chain-all-dry&of={chosen}").text
    meant = [line for line in told.splitlines() if "of=" in line and "aria-current=true" in line]
    assert len(meant) == 1
    assert f"of={chosen}" in meant[0]
    first = client.get("/gardens/1/fault?seen=chain-all-dry&of=nothing").text
    assert f'of={garden.pots[0].id}" aria-current=true' in first
