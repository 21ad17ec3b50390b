"""Benches that are running, one a garden, each on its own time."""

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
"""Pages that may watch at once."""


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
    viewers: int = 0
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
