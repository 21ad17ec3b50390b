"""One downspout: what it brings, what it and its gutter carry, and what a cloudburst leaves over."""

from collections.abc import Sequence
from dataclasses import dataclass

from euhydra.core import catchment, downspout
from euhydra.core.constants import SECONDS_PER_HOUR
from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Working
from euhydra.planner.catch import spouts
from euhydra.planner.catch.spouts import Spout

CAPACITY_SOURCE = "Wyly and Eaton (1961), from memory"
FLUSH_SOURCE = "Texas Manual on Rainwater Harvesting (2005), first flush, from memory"


@dataclass(frozen=True)
class SpoutAnswer:
    """One downspout: what it brings, carries and cannot take.

    leads_to : Name of where it leads; "the ground" while it leads nowhere.
    """

    spout: Spout
    leads_to: str
    brings: Figure
    flushed: Figure
    gutter: Figure
    capacity: Figure
    overshoot: Figure
    guard: Sentence


def answer_downpipe(spout: Spout, garden: Garden, record: DailyWeather) -> SpoutAnswer:
    """One downspout, with the workings of all that is said about it."""
    names = {part.id: part.name for part in (*garden.stores, *garden.downspouts)}
    leads_to = spout.downspout.leads_to
    arriving = float(spout.arriving(record).sum()) / record.years
    leaving = float(spout.leaving(record).sum()) / record.years
    return SpoutAnswer(
        spout,
        names[leads_to] if leads_to else "the ground",
        _brings(spout, record, leaving),
        _flushed(spout, arriving, leaving),
        _gutter(spout),
        _capacity(spout),
        _overshoot(spout),
        _guard(spout),
    )


def _brings(spout: Spout, record: DailyWeather, litres: float) -> Figure:
    rain = float(record.precip.sum()) / record.years
    daily = spout.downspout.first_flush_reset is catchment.FirstFlushReset.DAY
    dry = spout.downspout.first_flush_dry_d
    emptied = "once a day" if daily else f"anew after {dry} dry day{'' if dry == 1 else 's'}"
    return Figure(
        f"{name_of(spout)} brings, a year",
        Amount.litres(litres),
        Working(
            "(plan area × share × runoff × (1 − guard's loss) + what joins it) × rain − first flush",
            {
                "plan area of the roof": Amount(spout.roof.plan_area_m2, "area"),
                "share on it": Amount(spout.downspout.share, "share"),
                "runoff": Amount(spouts.runoff_coefficient(spout.roof), "share"),
                "leaf guard loses": Amount(spouts.share_lost(spout.downspout), "share"),
                "area × share × runoff of what joins it": Amount(
                    spout.catch_m2 - spout.own_catch_m2, "area"
                ),
                "rain of a mean year": Amount.millimetres(rain),
                "first flush, each time": Amount(spout.flush_m3, "volume"),
            },
            runoff_source([spout]),
            (f"First flush is taken {emptied}.", *notes_on(record)),
        ),
    )


def _flushed(spout: Spout, arriving: float, leaving: float) -> Figure:
    return Figure(
        "First flush turns away, a year",
        Amount.litres(arriving - leaving),
        Working(
            "water that reaches the device − water that runs on",
            {
                "reach it, a year": Amount.litres(arriving),
                "run on, a year": Amount.litres(leaving),
                "it holds": Amount(spout.flush_m3, "volume"),
            },
            FLUSH_SOURCE,
        ),
    )


def _gutter(spout: Spout) -> Figure:
    width = spout.roof.gutter_width_m
    return Figure(
        "The gutter carries",
        Amount(downspout.gutter_capacity(width), "flow"),
        Working(
            "0.9 · 2.78·10⁻⁵ · A^1.25 litres a second, A the gutter's section in mm²",
            {
                "gutter, across the top": Amount(width, "bore"),
                "arrives in a cloudburst": Amount(_arriving_flow(spout), "flow"),
            },
            "EN 12056-3 (2000), level half-round eaves gutter, from memory",
            ("To one outlet, clear of leaves. A fall towards the outlet lets it carry more.",),
        ),
    )


def _arriving_flow(spout: Spout) -> float:
    """From its own roof in the cloudburst; all of the rain runs off at once. [m³ s⁻¹]"""
    return spout.own_area_m2 * spout.downspout.cloudburst_m / SECONDS_PER_HOUR


def _capacity(spout: Spout) -> Figure:
    bore = spout.downspout.bore_m
    return Figure(
        "The downspout carries",
        Amount(downspout.downspout_capacity(bore), "flow"),
        Working(
            "K · r^(5/3) · d^(8/3), water falling as a ring along the wall",
            {
                "inside width d": Amount(bore, "bore"),
                "share filled r": Amount(downspout.FILLED, "share"),
                "roof it serves by the rule of thumb": Amount(
                    downspout.roof_by_thumb(bore), "area"
                ),
            },
            f"{CAPACITY_SOURCE}; thumb: 1 in² for 100 ft² (common practice)",
            ("A round pipe, upright; leaves and bends take their share.",),
        ),
    )


def _overshoot(spout: Spout) -> Figure:
    rate = spout.downspout.cloudburst_m / SECONDS_PER_HOUR
    carried = carried_flow(spout)
    arrives = spout.area_m2 * rate
    return Figure(
        "Of a cloudburst it cannot take",
        Amount(downspout.overshoot(carried, spout.area_m2, rate), "share"),
        Working(
            "1 − what it carries ÷ what arrives",
            {
                "cloudburst, rain in an hour": Amount(spout.downspout.cloudburst_m, "rain"),
                "area on this pipe": Amount(spout.area_m2, "area"),
                "arrives": Amount(arrives, "flow"),
                "it carries": Amount(carried, "flow"),
            },
            f"{CAPACITY_SOURCE}; gutter: EN 12056-3, from memory",
            ("The narrower of gutter and pipe counts. All of the rain runs off at once.",),
        ),
    )


def carried_flow(spout: Spout) -> float:
    """What its pipe takes: no more than the gutter brings, where no other joins it. [m³ s⁻¹]"""
    pipe = downspout.downspout_capacity(spout.downspout.bore_m)
    gutter = downspout.gutter_capacity(spout.roof.gutter_width_m)
    joining = sum(carried_flow(other) for other in spout.joining)
    return min(pipe, gutter + joining)


def _guard(spout: Spout) -> Sentence:
    guard = catalogue.find(catalogue.leaf_guards(), spout.downspout.guard)
    weeks = round(guard.clean_weeks)
    return say(
        "catch-guard-wants-looking-after",
        "{guard}: look at it every {weeks} weeks.",
        guard=guard.name,
        weeks=weeks,
    )


def areas_of(ends: Sequence[Spout]) -> dict[str, Amount]:
    """Effective area of each downspout, and of those that join them, by name."""
    return {
        f"{name_of(spout)}: area × share × runoff": Amount(spout.own_catch_m2, "area")
        for spout in through(ends)
    }


def through(ends: Sequence[Spout]) -> list[Spout]:
    """The downspouts and all that join them."""
    return [each for spout in ends for each in (spout, *through(spout.joining))]


def flushes(ends: Sequence[Spout]) -> list[float]:
    """What their first-flush devices hold. [m³]"""
    return [spout.flush_m3 for spout in through(ends)]


def name_of(spout: Spout) -> str:
    """Its name, as quoted in a working."""
    return f"“{spout.downspout.name}”"


def runoff_source(ends: Sequence[Spout]) -> str:
    """Where their runoff figures come from."""
    said = []
    for spout in through(ends):
        if spout.roof.runoff_coefficient is not None:
            said.append("your own runoff figure")
        else:
            said.append(catalogue.find(catalogue.roof_materials(), spout.roof.material).source)
    return f"Runoff: {'; '.join(dict.fromkeys(said))}"


def notes_on(record: DailyWeather) -> tuple[str, ...]:
    """Notes to every sum over a record."""
    return (
        "Depth × area is a volume. Summed day by day, not from the total.",
        f"Record of {len(record.days)} days, {record.days[0]} to {record.days[-1]}.",
    )
