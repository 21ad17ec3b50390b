"""What might cure a finding: a change of the garden in words and in fact, to be tried."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property

from euhydra.core.weather import DailyWeather
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sentences import Sentence
from euhydra.planner.chain import Chain, ZoneChain
from euhydra.planner.judgement.finding import Finding
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.water.zones import Zone


@dataclass(frozen=True)
class Remedy:
    """A change that may cure, and the garden that has it."""

    change: Sentence
    garden: Garden


@dataclass(frozen=True)
class Case:
    """A finding in its garden, for which a remedy is sought."""

    chain: Chain
    finding: Finding

    @property
    def garden(self) -> Garden:
        """As it stands."""
        return self.chain.garden

    @property
    def record(self) -> DailyWeather | None:
        """Its weather."""
        return self.chain.record

    @cached_property
    def parts(self) -> dict[str, Part]:
        """All parts of the garden by id."""
        return {part.id: part for part in self.garden.parts}

    def part(self, kind: type) -> Part | None:
        """The first of its parts that is of a kind; None without one."""
        named = (self.parts.get(part_id) for part_id in self.finding.parts)
        return next((part for part in named if isinstance(part, kind)), None)

    @cached_property
    def zone(self) -> ZoneChain | None:
        """The zone that it is about; None where it is about none."""
        return next((z for z in self.chain.zones if z.zone.id == self.finding.about), None)

    @cached_property
    def push(self) -> PushAnswer | None:
        """How its zone is pushed, or the first zone of the store that it is about."""
        if self.zone is not None:
            return self.zone.push if isinstance(self.zone.push, PushAnswer) else None
        return next(
            (
                z.push
                for z in self.chain.zones
                if isinstance(z.push, PushAnswer)
                and z.zone.group is not None
                and any(store.id == self.finding.about for store in z.zone.group.stores)
            ),
            None,
        )

    @property
    def pushed_zone(self) -> Zone | None:
        """The zone of that."""
        return self.push.zone if self.push else None


Remedies = Callable[[Case], Iterator[Remedy]]
