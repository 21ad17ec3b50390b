"""What a log shows, put into its document."""

from math import isnan

from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.formats.learned_json import (
    BedState,
    ClaimDocument,
    LearnedDocument,
    LineState,
    StateDocument,
    StoreState,
)
from euhydra.planner.learning.answer import Learned

DIGITS = 4


def learned_document(learned: Learned) -> LearnedDocument:
    """As machines read it."""
    garden = learned.told.chain.garden
    return LearnedDocument(
        garden=garden.name,
        claims=[
            ClaimDocument(
                kind=claim.kind.value,
                part=claim.part_id,
                value=round(claim.value, DIGITS),
                low=round(claim.low, DIGITS),
                high=round(claim.high, DIGITS),
                since=claim.since.isoformat() if claim.since else None,
                until=claim.until.isoformat() if claim.until else None,
                chance=round(claim.chance, DIGITS),
                text=claim.said.told(garden.units),
            )
            for claim in learned.claims
        ],
        headline=learned.headline.told(garden.units),
        asks=[said.told(garden.units) for said in (*learned.asks, *learned.strays)],
        state=_state(learned),
    )


def _state(learned: Learned) -> StateDocument:
    stores = [
        StoreState(
            store=store.group.id,
            water_l=round(float(store.water[-1]), 1) if learned.knows(store) else None,
            deviation_l=round(store.deviation, 1) if learned.knows(store) else None,
            capacity_l=round(store.group.capacity_m3 * LITRES_PER_CUBIC_METRE, 1),
        )
        for store in learned.stores
    ]
    beds = [
        BedState(
            part=bed.part_id,
            gone_share=None if isnan(float(bed.gone[-1])) else round(float(bed.gone[-1]), 3),
            thirst=round(bed.thirst, 3),
        )
        for bed in learned.beds
    ]
    lines = [
        LineState(line=line, gives_share=round(float(course[-1]), 3))
        for flow in learned.flows
        for line, course in zip(flow.ran.lines, flow.lines, strict=True)
    ]
    return StateDocument(day=learned.told.today.isoformat(), stores=stores, beds=beds, lines=lines)
