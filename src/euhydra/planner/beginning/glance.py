"""What a garden in the making answers, in a few figures: the same that its stations show."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain, ChainBegun
from euhydra.planner.judgement.answer import Judgement
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.need.answer import peaks_of
from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.time.answer import MonthSetting, TimeAnswer

LASTS = "Full, it lasts without rain"
ON_TIMER = "On the timer"
"""Labels of what takes longer to work out."""

CANS = "Cans a day, when it is driest"
"""Label of what is carried where nothing is piped."""

WEEKS_A_YEAR = 365.25 / 7


@dataclass(frozen=True)
class Glance:
    """Figures with their labels, in the order of the water; the hardest month's setting; what is found first.

    hardest : None where no timer is set.
    first : None where nothing is wrong.
    awaited : Labels of figures that are still worked out; nothing of them is known, nor what is found.
    """

    figures: tuple[tuple[str, Amount], ...]
    hardest: MonthSetting | None
    first: Finding | None
    awaited: tuple[str, ...] = ()


def glance_at(judged: Judgement) -> Glance:
    """The figures of a garden at a glance."""
    return Glance(
        tuple(_figures(judged.chain)), _hardest(judged.chain), next(iter(judged.findings), None)
    )


def soon_at(begun: ChainBegun) -> Glance:
    """The figures that are soon worked out, and the names of those that come after them."""
    chain = begun.first_answers
    awaited = [LASTS] if chain.garden.stores else []
    awaited += [ON_TIMER] if chain.garden.timers else []
    return Glance(tuple(_figures(chain)), None, None, tuple(awaited))


def _figures(chain: Chain) -> Iterator[tuple[str, Amount]]:
    if not isinstance(chain.catch, Gap):
        yield "The roof brings, a year", chain.catch.year.amount
    washing = sum(sum(system.week_m3) for system in chain.garden.greywaters)
    if washing > 0:
        yield "The washing brings, a year", Amount(washing * WEEKS_A_YEAR, "volume")
    needs = [plant.need for plant in chain.planted if isinstance(plant.need, Need)]
    if needs:
        a_year = sum(need.year_litres for need in needs)
        yield "The plants ask, a year", Amount.litres(a_year)
        if not chain.zones:
            yield CANS, Amount(sum(peak.cans for peak in peaks_of(needs)), "plain")
    if not isinstance(chain.store, Gap):
        lasting = next((group.lasting for group in chain.store.groups if group.lasting), ())
        if lasting:
            yield LASTS, lasting[0].amount
    push = next((z.push for z in chain.zones if isinstance(z.push, PushAnswer)), None)
    if push is not None:
        heads = push.usual.state.outlet_head
        if len(heads):
            yield "Head at the weakest outlet", Amount(max(float(heads.min()), 0.0), "head")
        yield "All outlets together give", Amount(push.usual.state.flow, "flow")


def _hardest(chain: Chain) -> MonthSetting | None:
    """The month of the first zone's timer that gives most."""
    time = next((z.running for z in chain.zones if isinstance(z.running, TimeAnswer)), None)
    if time is None or not time.set_months:
        return None
    return max(time.set_months, key=lambda month: month.choice.gross if month.choice else 0.0)
