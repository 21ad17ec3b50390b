"""Seasons played with planted truths: what a gardener would have written down, with the noise of cup, stick and finger."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta

import numpy as np

from euhydra.core import rootzone
from euhydra.core.waterworks import Line
from euhydra.garden.logbook import LogEntry
from euhydra.garden.timers import Timer
from euhydra.planner.chain import Chain
from euhydra.planner.keeping import hindcast
from euhydra.planner.steps import first_run

GAUGE, STICK_M, CUP, BUCKET, METER, MISREAD = 0.05, 0.01, 0.03, 0.05, 0.01, 0.07
"""Noise of each: shares, metres of stick, share of fingers that say anything."""

BEGINS, ENDS = (4, 10), (9, 30)
"""First and last day of a season that is played: month and day."""


@dataclass(frozen=True)
class Truth:
    """One thing that is otherwise than in the plan.

    kind : `roof`, `clog`, `slow`, `filter`, `thirst`, `leak` or `setting`.
    size : Share that is left or drunk; of a leak litres a day.
    begins, ends : Day and month; the season's own where None.
    """

    kind: str
    part_id: str
    size: float
    begins: tuple[int, int] | None = None
    ends: tuple[int, int] | None = None

    def on(self, day: date) -> bool:
        first = date(day.year, *(self.begins or (1, 1)))
        last = date(day.year, *(self.ends or (12, 31)))
        return first <= day <= last

    def share(self, day: date) -> float:
        """What is left of the plan's on a day. [-]"""
        if not self.on(day):
            return 1.0
        if self.kind == "slow":
            begun = (day - date(day.year, *(self.begins or (1, 1)))).days
            return 1.0 - (1.0 - self.size) * min(1.0, begun / 60.0)
        return self.size


@dataclass
class Season:
    """Plays one growing season of the record's last year."""

    chain: Chain
    truths: Sequence[Truth]
    seed: int
    until: date | None = None
    log: list[LogEntry] = field(default_factory=list)
    gone: dict[tuple[date, int], float] = field(default_factory=dict)
    """What was gone from each bed on each evening, as it was. [mm]"""

    def __post_init__(self) -> None:
        record = self.chain.record
        assert record is not None
        self.year = int(record.year[-1])
        self.chance = np.random.default_rng(self.seed)
        last = date(self.year, *ENDS)
        told = hindcast.hindcast(self.chain, [], last)
        assert isinstance(told, hindcast.Hindcast)
        self.told = told

    def _share(self, kind: str, part_id: str, day: date) -> float:
        own = [t.share(day) for t in self.truths if t.kind == kind and t.part_id == part_id]
        return float(np.prod(own)) if own else 1.0

    def _leak(self, part_id: str, day: date) -> float:
        return sum(
            t.size for t in self.truths if t.kind == "leak" and t.part_id == part_id and t.on(day)
        )

    def _near(self, noise: float) -> float:
        return float(1 + noise * self.chance.standard_normal())

    def _write(
        self,
        day: date,
        at: int,
        kind: str,
        part_id: str | None = None,
        *amounts: float,
        word: str = "",
    ) -> None:
        when = datetime.combine(day, time(at, int(self.chance.integers(0, 59))))
        self.log.append(LogEntry(kind, when, part_id, amounts, word))

    def play(self) -> list[LogEntry]:
        """The log, oldest first."""
        told, season = self.told, self.told.season
        ways = season.ways
        zones: dict[str, list[int]] = {}
        for place, way in enumerate(ways):
            if way.time is not None:
                zones.setdefault(way.time.zone.id, []).append(place)
        heads = [
            ways[places[0]].time.zone.head.id
            for places in zones.values()
            if ways[places[0]].time.zone.head
        ]
        tanks = season.works.tanks
        water = [tank.capacity for tank in tanks]
        gone = [0.0] * len(ways)
        total = dict.fromkeys(zones, 0.0)
        by_tap = {tap.id: 0.0 for tap in told.chain.garden.taps}
        first_set: dict[str, tuple[float, float]] = {}
        inputs = season.bed_inputs
        begins = (date(self.year, *BEGINS) - told.record.days[0].astype(object)).days
        due = {"dip": 2, "meter": 5, "cups": 12, "bucket": 8, "finger": 3}
        for i in range(begins, len(told.record.days)):
            day: date = told.record.days[i].astype(object)
            today = i - begins
            rain = float(told.record.precip[i])
            if rain >= 0.3:
                self._write(
                    day + timedelta(days=1), 8, "rain", None, rain / 1000 * self._near(GAUGE)
                )
            storm = self._near(GAUGE)
            given = [0.0] * len(ways)
            for zone_id, places in zones.items():
                way = ways[places[0]]
                assert way.time is not None
                assert way.push is not None
                position = way.time.programme.months[day.month - 1]
                run = (
                    (position.run_minutes * 60.0, position.mean_days * 86400.0)
                    if position
                    else (0.0, 86400.0)
                )
                zone = way.time.zone
                head = zone.head.id if zone.head else ""
                if first_set.get(zone_id) != run:
                    first_set[zone_id] = run
                    self._set_on = getattr(self, "_set_on", {})
                    self._set_on[zone_id] = i
                    if isinstance(zone.head, Timer):
                        self._write(day, 4, "setting", head, *run)
                every = max(1, round(run[1] / 86400))
                times = max(1.0, round(86400 / run[1]))
                minutes = run[0] / 60 * times * ((i - self._set_on[zone_id]) % every == 0)
                minutes *= self._share("setting", head, day)
                lines = first_run.outlets_along(zone)
                state = way.push.usual.state.outlet_flow
                left = {line: self._left(zone, line, day) for line in lines}
                by_line = {line: float(state[own].sum()) for line, own in lines.items()}
                weight = sum(by_line.values())
                factor = sum(left[line] * by_line[line] for line in lines) / weight
                litres = float(
                    way.time.design.litres_each(np.array([minutes]), np.array([day.month]))[0]
                )
                tank = next(
                    (
                        t
                        for t, g in enumerate(season.groups)
                        if zone.group and g.id == zone.group.id
                    ),
                    None,
                )
                if tank is not None:
                    curve = way.time.design.curve
                    flow = float(np.interp(water[tank], curve.volume, curve.flow))
                    litres = minutes / 60 * flow
                litres *= factor
                if tank is not None:
                    there = max(0.0, water[tank] - tanks[tank].dead)
                    litres = min(litres, there)
                    water[tank] -= litres
                elif zone.source.id in by_tap:
                    by_tap[zone.source.id] += litres
                total[zone_id] += litres
                for place in places:
                    part = ways[place].need.part.id
                    to_it = sum(
                        left[line] * float(state[k])
                        for line, own in lines.items()
                        for k in own
                        if zone.outlets[k].waters == part
                    )
                    given[place] += litres * to_it / (factor * weight)
                level = self._flow_now(way, water[tank] if tank is not None else None)
                wide = self._near(0.02) * level / float(state.sum())
                if today % 35 == due["cups"]:
                    for line, own in lines.items():
                        cups = [
                            float(state[k]) * left[line] * 300 * self._near(CUP) * wide for k in own
                        ]
                        self._write(day, 7, "cups", line, 300.0, *cups)
                if today % 21 == due["bucket"]:
                    now = level * factor
                    self._write(
                        day, 7, "flow", head, now * 60 * self._near(BUCKET), 60.0, word="whole"
                    )
                leak = self._leak(head, day)
                total[zone_id] += leak
                if zone.source.id in by_tap:
                    by_tap[zone.source.id] += leak
                if (
                    today % 7 == due["meter"]
                    and isinstance(zone.head, Timer)
                    and heads.count(head) == 1
                ):
                    self._write(day, 20, "meter", head, total[zone_id] / 1000, word="same")
            for tap in by_tap:
                by_tap[tap] += self._leak(tap, day)
                if today % 7 == due["meter"]:
                    self._write(day, 20, "meter", tap, by_tap[tap] / 1000, word="same")
            for place, way in enumerate(ways):
                if way.time is None:
                    given[place] = self._untimed(day, i, place, way, water)
            for top_up in season.works.top_ups:
                if water[top_up.tank] < top_up.below and (
                    top_up.is_due is None or top_up.is_due[i]
                ):
                    by_tap[season.supplies[top_up.supply].id] += top_up.up_to - water[top_up.tank]
                    water[top_up.tank] = top_up.up_to
            spilled = [0.0] * len(tanks)
            for t, tank in enumerate(tanks):
                group = season.groups[t]
                roof = np.mean(
                    [self._share("roof", r.id, day) for r in told.chain.garden.roofs] or [1.0]
                )
                water[t] += float(tank.inflow[i]) * storm * float(roof)
                water[t] -= min(water[t], self._leak(group.id, day))
                spilled[t] = max(0.0, water[t] - tank.capacity)
                water[t] -= spilled[t]
                if tank.dries is not None:
                    water[t] = max(0.0, water[t] - float(tank.dries[i]))
            for t, tank in enumerate(tanks):
                if tank.spills_to is not None:
                    below = tank.spills_to
                    water[below] = min(tanks[below].capacity, water[below] + spilled[t])
            for t in range(len(tanks)):
                group = season.groups[t]
                if today % 4 == due["dip"]:
                    self._dip(day, group, water[t])
            for place, way in enumerate(ways):
                need = way.need
                if not need.is_growing[i]:
                    gone[place] = 0.0
                    continue
                bed = inputs[place]
                net = given[place] / bed.area * float(bed.kept[i])
                thirst = self._share("thirst", need.part.id, day)
                after = rootzone.advance_in_steps(
                    gone[place],
                    rain * float(need.rain[i] / max(told.record.precip[i], 1e-9)) if rain else 0.0,
                    net,
                    float(bed.crop_et[i]) * thirst,
                    float(bed.total[i]),
                    float(bed.ready[i]),
                    int(bed.runs[i]),
                    bed.steps,
                )
                gone[place] = self.gone[day, place] = after.depletion
                if today % 5 == due["finger"]:
                    self._finger(
                        day + timedelta(days=1),
                        need.part.id,
                        gone[place] / max(float(bed.ready[i]), 1e-9),
                    )
        last = self.until or date(self.year, *ENDS)
        return sorted((e for e in self.log if e.at.date() <= last), key=lambda e: e.at)

    def _untimed(self, day: date, i: int, place: int, way, water: list[float]) -> float:
        """What a float, a drum or a hand gives: as planned, and cans are written down."""
        season = self.told.season
        litres = 0.0
        for source, taken in zip(
            season.works.waterings[place].sources, season.run.given[place], strict=True
        ):
            amount = float(taken[i])
            if isinstance(source, Line):
                amount = min(
                    amount, max(0.0, water[source.tank] - season.works.tanks[source.tank].dead)
                )
                water[source.tank] -= amount
            litres += amount
        if litres > 0 and way.push is None:
            self._write(day, 18, "watered", way.need.part.id, litres / 1000)
        return litres

    def _left(self, zone, line: str, day: date) -> float:
        own = self._share("clog", line, day) * self._share("slow", line, day)
        return own * self._share("filter", zone.id, day)

    def _flow_now(self, way, volume: float | None) -> float:
        """What the zone gives as planned. [m³ s⁻¹]"""
        if volume is None:
            return float(way.push.usual.state.outlet_flow.sum()) * 1.0
        curve = way.time.design.curve
        return float(np.interp(volume, curve.volume, curve.flow)) / 3600 / 1000

    def _dip(self, day: date, group, litres: float) -> None:
        store = group.stores[0]
        heights = np.linspace(0, store.height_m, 200)
        volumes = [group.level.volume_at(store.base_m + h) * 1000 for h in heights]
        depth = float(np.interp(litres, volumes, heights)) + STICK_M * self.chance.standard_normal()
        self._write(day, 20, "dip", store.id, max(0.0, depth))

    def _finger(self, day: date, part_id: str, gone: float) -> None:
        said = "dry" if gone > 1 else "muddy" if gone < 0.1 else "right"
        if self.chance.random() < MISREAD:
            said = str(self.chance.choice(["dry", "right", "muddy"]))
        self._write(day, 7, "finger", part_id, word=said)
