"""The room of the benches: one a garden, each on its own time, and so many that may watch."""

from collections.abc import Hashable
from dataclasses import dataclass, field
from threading import Lock
from time import monotonic

import numpy as np

from euhydra.devices.bench import Bench, Reading
from euhydra.devices.faults import Fault

SPEEDS = {"1": 1, "10": 10, "60": 60, "240": 240}
"""Minutes of the garden in a second, as they are offered."""

MOST_AT_ONCE = 60
"""Minutes that one look may catch up with, so that none takes long. [min]"""

MOST_VIEWERS = 8
"""Pages that may watch at once, whatever they watch."""

MOST_BENCHES = 8
"""Benches that stand at once; the oldest is put away first."""


@dataclass
class BenchRun:
    """A bench with its speed; time passes when somebody looks."""

    bench: Bench
    first: np.datetime64
    zone_ids: list[str]
    month: int
    key: tuple[Hashable, ...]
    speed: int = 60
    is_playing: bool = False
    is_put_away: bool = False
    lock: Lock = field(default_factory=Lock)
    _looked: float = field(default_factory=monotonic)
    _owed: float = 0.0

    def look(self) -> Reading:
        """The bench now; whoever looks, it runs at its own speed."""
        with self.lock:
            now = monotonic()
            if self.is_playing:
                self._owed += (now - self._looked) * self.speed
                whole = min(int(self._owed), MOST_AT_ONCE)
                self._owed = min(self._owed - whole, 1.0)
                self.bench.advance(whole)
                self.is_playing = not self.bench.is_over
            self._looked = now
            return self.bench.read()

    def play(self, on: bool) -> None:
        """Run or stand still."""
        self.look()
        self.is_playing = on and not self.bench.is_over

    def step(self, minutes: int) -> None:
        """One step by hand. [min]"""
        with self.lock:
            self.bench.advance(minutes)

    def switch(self, fault: Fault, on: bool) -> None:
        """Switch a fault."""
        with self.lock:
            self.bench.set_fault(fault, on)

    @property
    def faults(self) -> list[str]:
        """Those that are on."""
        return sorted(self.bench.world.faults)


class BenchRoom:
    """Benches by garden. What is put away is watched no more: its streams end by themselves."""

    def __init__(self) -> None:
        self.viewers = 0
        self._runs: dict[int, BenchRun] = {}
        self._lock = Lock()

    @property
    def is_full(self) -> bool:
        """Whether nobody else can watch."""
        return self.viewers >= MOST_VIEWERS

    def find(self, garden_id: int) -> BenchRun | None:
        """A garden's bench, if there is one."""
        return self._runs.get(garden_id)

    def put(self, garden_id: int, run: BenchRun) -> None:
        """A new bench in the place of the garden's former one."""
        with self._lock:
            self._take(garden_id)
            while len(self._runs) >= MOST_BENCHES:
                self._take(next(iter(self._runs)))
            self._runs[garden_id] = run

    def put_away(self, garden_id: int) -> None:
        """The next look builds another."""
        with self._lock:
            self._take(garden_id)

    def _take(self, garden_id: int) -> None:
        if (former := self._runs.pop(garden_id, None)) is not None:
            former.is_put_away = True
