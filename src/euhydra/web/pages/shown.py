"""What a station's page is given to show."""

from dataclasses import dataclass, field
from typing import Any

from euhydra.planner.answers import Gap


@dataclass(frozen=True)
class Shown:
    """An answer with what its template draws; or the gap in its place."""

    answer: Any
    gap: Gap | None
    more: dict[str, Any] = field(default_factory=dict)
