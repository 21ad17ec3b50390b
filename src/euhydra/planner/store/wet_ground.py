"""Ground that is too wet: what the stores keep off it, and how the rest gets away."""

from dataclasses import dataclass

from euhydra.core import hydraulics, wetground
from euhydra.core.network import NetworkBuilder
from euhydra.garden import catalogue
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.sources import Uncaught, WetGround
from euhydra.garden.store_groups import groups_of
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.catch import spouts

LEAST_SLOPE = 0.005
"""Least fall of a perforated pipe over its length. [-] Common practice: half a centimetre a metre."""

MOST_STARTS = 12.0
"""Starts an hour that a small sump pump bears. [h⁻¹] Common practice."""

SOON = 24 * 3600.0
"""Time after a storm in which roots can do without air. [s] Common practice: a day."""

AT_ONCE = 60.0
"""Time after a storm that nobody notices. [s]"""

SMOOTH = 1.5e-6
"""Wall roughness of drawn plastic pipe. [m] Handbook value, from memory."""

HOSE_LOSS = 4.0
"""Loss coefficient of check valve, bends and open end. [-] Common practice."""

LAWFUL = say(
    "store-lead-law-lets",
    "Lead it only where the law lets you: not onto a neighbour, not into the foul sewer. "
    "Ask your local authority, and call the line-finding service before you dig.",
)


@dataclass(frozen=True)
class WetAnswer:
    """One wet area: figures and verdict. `duty_head` is the head its pump works against. [m]"""

    ground: WetGround
    figures: tuple[Figure, ...]
    duty_head: float
    verdict: Verdict


@dataclass(frozen=True)
class Storm:
    """The storm in volumes [m³] and flows [m³ s⁻¹]."""

    ground: WetGround
    on_ground: float
    off_roofs: float
    kept: float
    off_spouts: float

    @property
    def left(self) -> float:
        """To be carried away: from the ground and loose downspouts, and what the stores could not keep."""
        return self.on_ground + self.off_roofs - self.kept + self.off_spouts

    @property
    def inflow(self) -> float:
        """Into the sump while it rains, evenly."""
        return self.left / self.ground.storm_s

    @property
    def slope(self) -> float:
        """Fall of the pipe over its length, as it is laid. [-]"""
        return laid_drop(self.ground) / self.ground.pipe_m

    @property
    def pipe(self) -> float:
        """What the perforated pipe carries."""
        return wetground.pipe_capacity(self.ground.bore_m, self.slope)

    @property
    def sump_m3(self) -> float:
        """Working volume of the sump."""
        return float(0.785398 * self.ground.sump_across_m**2 * self.ground.sump_depth_m)

    @property
    def starts(self) -> float:
        """Times an hour that the pump starts in this storm. [h⁻¹]"""
        return wetground.starts_an_hour(self.inflow, self.ground.pump_m3_s, self.sump_m3)

    @property
    def way_out(self) -> float:
        """The narrowest piece of the way out."""
        return min(self.pipe, self.ground.pump_m3_s)

    @property
    def recovery(self) -> float:
        """From the end of the storm until it is gone; without end where nothing leaves. [s]"""
        standing = max(0.0, self.left - self.way_out * self.ground.storm_s)
        return wetground.recovery_time(standing, self.way_out)


def answer_wet(garden: Garden, ground: WetGround) -> WetAnswer:
    """What a storm leaves there, and whether pipe, sump and pump take it away."""
    storm = storm_on(garden, ground)
    head = pump_head(ground)
    return WetAnswer(ground, tuple(_figures(storm, head)), head, _verdict(storm))


def storm_on(garden: Garden, ground: WetGround) -> Storm:
    on_ground = wetground.storm_volume(ground.area_m2, ground.storm_m, ground.runoff)
    off_roofs, kept = 0.0, 0.0
    for group in groups_of(garden.stores):
        feeding = spouts.spouts_into(garden, {store.id for store in group.stores})
        arriving = sum(spout.catch_m2 for spout in feeding) * ground.storm_m
        off_roofs += arriving
        kept += min(arriving, group.capacity_m3 * ground.store_room)
    loose = _off_spouts(garden, ground) if ground.uncaught is Uncaught.HERE else 0.0
    return Storm(ground, on_ground, off_roofs, kept, loose)


def _off_spouts(garden: Garden, ground: WetGround) -> float:
    """What the downspouts let through that no store takes, each at most what its restrictor lets. [m³]"""
    found = 0.0
    for spout in spouts.spouts_of(garden).values():
        if spout.downspout.leads_to is None:
            most = spout.downspout.restricted_m3_s
            arriving = spout.catch_m2 * ground.storm_m
            found += arriving if most is None else min(arriving, most * ground.storm_s)
    return found


def pump_head(ground: WetGround) -> float:
    """Lift and hose loss at the pump's flow. [m]"""
    builder = NetworkBuilder()
    builder.add_source("outlet", ground.lift_m)
    builder.add_junction("pump", 0.0, demand=-ground.pump_m3_s)
    builder.add_pipe("hose", "pump", "outlet", ground.hose_m, ground.hose_bore_m, SMOOTH, HOSE_LOSS)
    solution = hydraulics.solve(builder.build())
    return float(solution.head[1])


def _figures(storm: Storm, head: float) -> list[Figure]:
    ground = storm.ground
    rain = {"storm": Amount(ground.storm_m, "rain"), "it lasts": Amount(ground.storm_s, "hours")}
    most = wetground.most_starts_an_hour(ground.pump_m3_s, storm.sump_m3)
    return [
        Figure(
            "The storm brings",
            Amount(storm.on_ground + storm.off_roofs + storm.off_spouts, "volume"),
            Working(
                "area × rain × share that does not soak in + what the roofs bring",
                rain
                | {
                    "area": Amount(ground.area_m2, "area"),
                    "does not soak in": Amount(ground.runoff, "share"),
                    "from the ground": Amount(storm.on_ground, "volume"),
                    "from roofs with a store": Amount(storm.off_roofs, "volume"),
                    "from downspouts that no store takes": Amount(storm.off_spouts, "volume"),
                },
                "Arithmetic; 1 inch on 1,000 ft² is 623 US gallons",
                ("What else roofs bring is taken to drain elsewhere.",),
            ),
        ),
        Figure(
            "Your stores keep",
            Amount(storm.kept, "volume"),
            Working(
                "for each store: what its roofs bring, up to the room left",
                {
                    "room left": Amount(ground.store_room, "share"),
                    "left to carry away": Amount(storm.left, "volume"),
                },
                "Arithmetic",
            ),
        ),
        Figure(
            "The pipe carries",
            Amount(storm.pipe, "flow"),
            Working(
                "A · (d/4)^(2/3) · √s ÷ n, running full",
                {
                    "inside width d": Amount(ground.bore_m, "bore"),
                    "fall, end to end": Amount(laid_drop(ground), "height"),
                    "length": Amount(ground.pipe_m, "length"),
                    "comes in while it rains": Amount(storm.inflow, "flow"),
                },
                "Manning's formula, n = 0.016; Chow (1959), from memory",
            ),
        ),
        Figure(
            "Pump starts an hour, in this storm",
            Amount(storm.starts, "plain"),
            Working(
                "inflow × (pump − inflow) ÷ (pump × working volume)",
                {
                    "comes in while it rains": Amount(storm.inflow, "flow"),
                    "pump": Amount(ground.pump_m3_s, "flow"),
                    "working volume of the sump": Amount(storm.sump_m3, "volume"),
                    "most in any storm": Amount(most, "plain"),
                },
                "Cycle of a float switch, worst when half the pump's flow comes in",
            ),
        ),
        Figure(
            "The pump works against",
            Amount(head, "head"),
            Working(
                "lift + loss in the hose at the pump's flow",
                {
                    "lift": Amount(ground.lift_m, "head"),
                    "lost in the hose": Amount(head - ground.lift_m, "head"),
                    "pump": Amount(ground.pump_m3_s, "flow"),
                    "hose": Amount(ground.hose_m, "length"),
                    "inside width": Amount(ground.hose_bore_m, "bore"),
                },
                "Darcy–Weisbach, Swamee–Jain; bends, check valve and end K = 4 (common practice)",
            ),
        ),
        *([_dry_figure(storm, rain)] if storm.way_out > 0 else []),
        _soak_figure(ground),
    ]


def _dry_figure(storm: Storm, rain: dict[str, Amount]) -> Figure:
    return Figure(
        "Dry again after the storm",
        Amount(storm.recovery, "hours"),
        Working(
            "(left to carry away − carried away meanwhile) ÷ narrowest flow",
            {
                "left to carry away": Amount(storm.left, "volume"),
                "narrowest of pipe and pump": Amount(storm.way_out, "flow"),
                **rain,
            },
            "Mass balance",
            ("What soaks in slowly on its own is not counted.",),
        ),
    )


def _soak_figure(ground: WetGround) -> Figure:
    soil = catalogue.find(catalogue.soils(), ground.soil)
    stays = ground.storm_m * ground.runoff / soil.intake_m_s
    return Figure(
        "Without a pipe it would stand for",
        Amount(stays, "hours"),
        Working(
            "rain that does not soak in ÷ steady intake of the soil",
            {
                "storm": Amount(ground.storm_m, "rain"),
                "does not soak in": Amount(ground.runoff, "share"),
                "intake": Amount(soil.intake_m_s, "intake"),
            },
            soil.source,
        ),
    )


def faults_of(storm: Storm) -> tuple[Sentence, ...]:
    """What pipe, sump and pump do not manage, the worst first; nothing where they do."""
    faults = []
    if storm.recovery > SOON:
        faults.append(
            say(
                "store-takes-after-storm",
                "“{ground}” stays wet {recovery} after the storm: too long for roots.",
                ground=storm.ground.name,
                recovery=Amount(storm.recovery, "hours"),
            )
        )
    if round(storm.starts) > MOST_STARTS:
        faults.append(
            say(
                "store-pump-starts-times",
                "The pump of “{ground}” starts up to {starts} times an hour: it wears.",
                ground=storm.ground.name,
                starts=Amount(storm.starts, "plain"),
            )
        )
    return tuple(faults)


def _verdict(storm: Storm) -> Verdict:
    faults = faults_of(storm)
    if faults:
        told = (*faults[1:], *_flat(storm.ground), LAWFUL)
        return Verdict(Mark.BUT, faults[0], told)
    dry = say(
        "store-pipe-pump-dry",
        "Pipe and pump have it dry {recovery} after the storm.",
        recovery=Amount(storm.recovery, "hours"),
    )
    if storm.recovery < AT_ONCE:
        dry = say("store-pipe-pump-keep-up", "Pipe and pump keep up with the storm.")
    return Verdict(Mark.WORKS, dry, (*_flat(storm.ground), LAWFUL))


def laid_drop(ground: WetGround) -> float:
    """Fall that the pipe is laid with: where the ground has none, its trench falls to the sump. [m]"""
    return max(ground.drop_m, LEAST_SLOPE * ground.pipe_m)


def _flat(ground: WetGround) -> tuple[Sentence, ...]:
    """Ground with next to no fall, the usual case: the trench falls, and the sump stands deeper."""
    if ground.drop_m >= laid_drop(ground):
        return ()
    return (
        say(
            "store-flat-ground",
            "The ground is flat, so the trench has to fall: dig its sump end {deeper} deeper than the other.",
            deeper=Amount(laid_drop(ground), "height"),
        ),
    )
