"""Catch: what the roofs bring, downspout by downspout."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import catchment
from euhydra.core.constants import LITRES_PER_CUBIC_METRE, MM_PER_M, SECONDS_PER_HOUR
from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, say
from euhydra.garden.store_groups import Group, groups_of
from euhydra.planner.answers import Figure, Mark, PlanError, Verdict, Working
from euhydra.planner.catch import downpipes, spouts
from euhydra.planner.catch.downpipes import SpoutAnswer
from euhydra.planner.catch.spouts import Spout
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.need.daily import Need

Floats = NDArray[np.float64]

STEADY_RAIN = 2.0
"""A steady rain. [mm h⁻¹] Common practice: moderate rain."""


@dataclass(frozen=True)
class FillTimes:
    """How fast a store, or several linked, fill from empty. `steady`, `heavy` are rains."""

    group: Group
    steady: Figure
    heavy: Figure


@dataclass(frozen=True)
class CatchAnswer:
    """Litres by month and year, and how fast the stores fill.

    by_month : Mean litres of each month. [L]
    months, years : The same, and each calendar year's litres, with their working.
    unused : Litres a mean year from roofs that reach no store; None while there is no store.
    """

    by_month: Floats
    months: tuple[Figure, ...]
    years: tuple[Figure, ...]
    year: Figure
    flushed: Figure
    unused: Figure | None
    spouts: tuple[SpoutAnswer, ...]
    fills: tuple[FillTimes, ...]
    verdict: Verdict


def answer_catch(garden: Garden, record: DailyWeather, needs: Sequence[Need]) -> CatchAnswer:
    """What the garden's roofs bring through the record, beside what the beds ask.

    Raises
    ------
    PlanError : if there is no roof, or no downspout.
    """
    if not garden.roofs:
        raise PlanError(say("catch-roof-yet-describe", "There is no roof yet: describe one."))
    if not garden.downspouts:
        raise PlanError(
            say(
                "catch-downspout-leads-store",
                "No downspout leads from “{roofs}” to a store: add one.",
                roofs=garden.roofs[0].name,
            )
        )
    ends = _ends(garden)
    inflow = np.zeros(len(record.days)) + sum(spout.leaving(record) for spout in ends)
    sums = _Sums(tuple(ends), record, inflow)
    month, year = record.month - 1, record.year
    by_month = np.bincount(month, inflow, 12) / record.years
    answers = tuple(
        downpipes.answer_downpipe(s, garden, record) for s in spouts.spouts_of(garden).values()
    )
    unused = _unused(garden, record)
    return CatchAnswer(
        by_month,
        tuple(sums.figure(MONTH_NAMES[m], month == m, record.years) for m in range(12)),
        tuple(sums.figure(str(y), year == y, 1.0) for y in np.unique(year).tolist()),
        sums.figure("From your roofs in a mean year", year > 0, record.years),
        _all_flushed(answers),
        unused,
        answers,
        tuple(
            _fill_times(garden, group)
            for group in groups_of(garden.stores)
            if _feeds(garden, group)
        ),
        _verdict(garden, float(inflow.sum()) / record.years, inflow, needs),
    )


def _ends(garden: Garden) -> list[Spout]:
    """Downspouts that lead into a store; while there is no store, all that join no other."""
    stores = {store.id for store in garden.stores}
    if stores:
        return spouts.spouts_into(garden, stores)
    return [s for s in spouts.spouts_of(garden).values() if s.downspout.leads_to is None]


def _feeds(garden: Garden, group: Group) -> bool:
    return bool(spouts.spouts_into(garden, {store.id for store in group.stores}))


@dataclass(frozen=True)
class _Sums:
    """What some downspouts bring together, with the working of any sum over days."""

    ends: tuple[Spout, ...]
    record: DailyWeather
    inflow: Floats

    def figure(self, label: str, days: NDArray[np.bool_], years: float) -> Figure:
        """Litres and rain of the chosen days, a year of them."""
        litres = float(self.inflow[days].sum()) / years
        rain = float(self.record.precip[days].sum()) / years
        return Figure(
            label,
            Amount.litres(litres),
            Working(
                "plan area × share × runoff × rain − first flush, for each downspout",
                {
                    **downpipes.areas_of(self.ends),
                    "rain": Amount.millimetres(rain),
                    "first flush, each time": Amount(sum(downpipes.flushes(self.ends)), "volume"),
                },
                downpipes.runoff_source(self.ends),
                downpipes.notes_on(self.record),
            ),
        )


def _all_flushed(answers: Sequence[SpoutAnswer]) -> Figure:
    return Figure(
        "First flush turns away, a year",
        Amount(sum(a.flushed.amount.value for a in answers), "volume"),
        Working(
            "sum over the downspouts",
            {downpipes.name_of(a.spout): a.flushed.amount for a in answers},
            downpipes.FLUSH_SOURCE,
        ),
    )


def _fill_times(garden: Garden, group: Group) -> FillTimes:
    feeding = spouts.spouts_into(garden, {store.id for store in group.stores})
    heavy = max(spout.downspout.cloudburst_m for spout in feeding) * MM_PER_M
    return FillTimes(
        group,
        _fill_figure("In a steady rain", STEADY_RAIN, group, feeding),
        _fill_figure("In a cloudburst", heavy, group, feeding),
    )


def _fill_figure(label: str, rain_rate: float, group: Group, feeding: list[Spout]) -> Figure:
    catch = sum(spout.catch_m2 for spout in feeding)
    litres = group.capacity_m3 * LITRES_PER_CUBIC_METRE
    hours = catchment.fill_time(litres, rain_rate, catch, 1.0)
    return Figure(
        f"{group.name}: {label.lower()}",
        Amount(hours * SECONDS_PER_HOUR, "minutes" if hours < 2 else "hours"),
        Working(
            "volume ÷ (rain rate × area × share × runoff of all downspouts)",
            {
                "volume, from empty": Amount(group.capacity_m3, "volume"),
                "rain in an hour": Amount.millimetres(rain_rate),
                "area × share × runoff": Amount(catch, "area"),
            },
            "Common practice for the rain rates; the rest is arithmetic",
            ("After the first flush has been taken.",),
        ),
    )


def _unused(garden: Garden, record: DailyWeather) -> Figure | None:
    if not garden.stores:
        return None
    catch = spouts.unused_catch_m2(garden)
    rain = float(record.precip.sum()) / record.years / MM_PER_M
    return Figure(
        "Roof water that reaches no store, a year",
        Amount(catch * rain, "volume"),
        Working(
            "area × runoff of the roofs that no store drains × rain",
            {
                "area × runoff left over": Amount(catch, "area"),
                "rain of a mean year": Amount(rain, "rain"),
            },
            "Arithmetic",
            ("Roofs without a downspout to a store, and what leaf guards lose.",),
        ),
    )


def _verdict(garden: Garden, a_year: float, inflow: Floats, needs: Sequence[Need]) -> Verdict:
    year_need = sum(need.year_litres for need in needs)
    roofs = "This roof brings" if len(garden.roofs) == 1 else "Your roofs bring"
    beds_alone = not any(need.part.container for need in needs)
    asks = "the beds ask" if beds_alone else "the plants ask"
    if len(needs) == 1:
        asks = f"“{needs[0].part.name}” asks"
    litres = {"year": Amount.litres(a_year)}
    if year_need <= 0:
        return Verdict(
            Mark.WORKS,
            say("catch-mean-year", "{roofs} {year} in a mean year.", roofs=roofs, **litres),
        )
    growing = np.any([need.is_growing for need in needs], axis=0)
    in_season = float(inflow[growing].sum()) / needs[0].record.years
    litres |= {
        "season": Amount.litres(in_season),
        "need": Amount.litres(year_need),
        "share": Amount(in_season / year_need, "share"),
    }
    if a_year < year_need:
        return Verdict(
            Mark.FAILS,
            say(
                "catch-short-of-need",
                "{roofs} {year} a year; {asks} for {need}.",
                roofs=roofs,
                asks=asks,
                **litres,
            ),
            (
                say(
                    "catch-barrel-make-add",
                    "No barrel can make up for it: add roof, or another source.",
                ),
            ),
        )
    if in_season < year_need:
        return Verdict(
            Mark.BUT,
            say(
                "catch-enough-but-not-in-season",
                "Enough in a year, but while the crops grow only {share} of their need falls.",
                **litres,
            ),
            (
                say(
                    "catch-mean-year-season",
                    "{year} in a mean year; {season} of it in the season; {asks} for {need}.",
                    asks=asks,
                    **litres,
                ),
                say(
                    "catch-rest-stored-wet",
                    "The rest has to be stored from the wet months: that is what Store is about.",
                ),
            ),
        )
    return Verdict(
        Mark.WORKS,
        say(
            "catch-season",
            "{roofs} {season} while the crops grow; {asks} for {need}.",
            roofs=roofs,
            asks=asks,
            **litres,
        ),
    )
