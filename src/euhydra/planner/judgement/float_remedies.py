"""What may cure planters on one float: wider tubes between them, or half of them on a float of their own."""

from collections.abc import Iterator

from euhydra.garden import edits, shapes
from euhydra.garden.part import Point
from euhydra.garden.pots import KeptBy, Pots
from euhydra.garden.sentences import Amount, say
from euhydra.planner.judgement.remedy import Case, Remedy
from euhydra.planner.lay import proposed_manifold
from euhydra.planner.lay.wishes import Method, Wish

JOINTS = (0.004, 0.006, 0.008, 0.01, 0.013, 0.016, 0.02, 0.025)
"""Bores of tube between planters that are tried. [m] Sold widths, common practice."""


def wider_joints(case: Case) -> Iterator[Remedy]:
    """Wider tubes from one planter to the next."""
    pots = case.part(Pots)
    if isinstance(pots, Pots) and pots.kept_by is KeptBy.CHAIN:
        for bore in (each for each in JOINTS if each > pots.joint_bore_m + 1e-6):
            yield Remedy(
                say(
                    "cure-wider-joints",
                    "Tubes {bore} wide inside from one of “{pots}” to the next.",
                    bore=Amount(bore, "bore"),
                    pots=pots.name,
                ),
                edits.put(case.garden, "pots", pots.model_copy(update={"joint_bore_m": bore})),
            )


def second_float(case: Case) -> Iterator[Remedy]:
    """The farther half of them on a float and a tube of their own, from where the others' comes."""
    pots, zone = case.part(Pots), case.pushed_zone
    feeds = [pipe for pipe in zone.pipes if pipe.dripper] if zone else []
    if not isinstance(pots, Pots) or zone is None or len(feeds) != 1 or pots.columns < 2:
        return
    near = -(-pots.columns // 2)
    x, y = shapes.pot_places(pots)[near]
    half = pots.model_copy(update={"columns": near})
    other = pots.model_copy(
        update={
            "id": edits.free_id(case.garden, "pots"),
            "name": f"{pots.name} 2",
            "columns": pots.columns - near,
            "at": Point(x_m=x, y_m=y),
        }
    )
    garden = edits.put_all(case.garden, [("pots", half), ("pots", other)])
    wish = Wish(other.id, zone.source.id, Method.POTS, feeds[0].dripper or "", has_valve=False)
    yield Remedy(
        say(
            "cure-second-float",
            "A second float for the farther half of “{pots}”, on a tube of its own.",
            pots=pots.name,
        ),
        proposed_manifold.lay_together(garden, [wish]),
    )
