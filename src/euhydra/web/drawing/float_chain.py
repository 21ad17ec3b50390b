"""A chain of planters from the side: walls, levels in the peak hour, and the foot of the wicks."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from euhydra.planner.push.float_chain import FloatChain

WIDTH, HEIGHT = 720.0, 150.0
LEFT, RIGHT, TOP, BOTTOM = 12.0, 12.0, 10.0, 24.0

ROOM = 1.5
"""Height that is drawn, over that at which the float shuts. [-]"""

GAP = 0.2
"""Share of a planter's place that is left between it and the next."""

MOST_LABELS = 12
"""Planters of which each is numbered; of more, the first and the last."""


@dataclass(frozen=True)
class ChainSide:
    """Paths on paper."""

    width: float
    height: float
    boxes: tuple[str, ...]
    clean: str
    blocked: str
    foot: str
    floor: str
    labels: tuple[tuple[float, str], ...]


def draw(chain: FloatChain) -> ChainSide:
    """The box and every planter, heights to scale."""
    if chain.chain.is_trough:
        return _trough(chain)
    count = chain.pots.count + 1
    step = (WIDTH - LEFT - RIGHT) / count
    bottom = HEIGHT - BOTTOM
    y = _heights(chain)

    def x(place: int) -> float:
        return round(LEFT + step * place, 1)

    inner = round(step * (1 - GAP), 1)
    clean = _levels(chain.peak.box, chain.peak.levels)
    blocked = _levels(chain.blocked.box, chain.blocked.levels)
    numbers = range(1, count) if count <= MOST_LABELS + 1 else (1, count - 1)
    labels = [(round(x(0) + inner / 2, 1), "box")]
    labels += [(round(x(n) + inner / 2, 1), str(n)) for n in numbers]
    return ChainSide(
        WIDTH,
        HEIGHT,
        tuple(f"M{x(i)},{TOP}V{bottom}H{x(i) + inner:.1f}V{TOP}" for i in range(count)),
        "".join(f"M{x(i)},{bottom}V{y(h)}h{inner}V{bottom}Z" for i, h in enumerate(clean)),
        "".join(f"M{x(i)},{y(h)}h{inner}" for i, h in enumerate(blocked)),
        f"M{x(1)},{y(chain.pots.foot_m)}H{WIDTH - RIGHT}" if count > 1 else "",
        f"M{LEFT},{bottom}H{WIDTH - RIGHT}",
        tuple(labels),
    )


def _heights(chain: FloatChain) -> Callable[[float], float]:
    """Where a level over the floor stands on paper; half as high again as the float's fills it."""
    tall, bottom = chain.pots.set_level_m * ROOM, HEIGHT - BOTTOM

    def y(level: float) -> float:
        return round(bottom - (bottom - TOP) * min(max(level, 0.0), tall) / tall, 1)

    return y


def _trough(chain: FloatChain) -> ChainSide:
    """One long water with the planters in it."""
    count, bottom = max(chain.pots.columns, 1), HEIGHT - BOTTOM
    y = _heights(chain)
    step = (WIDTH - LEFT - RIGHT) / count
    inner = step * (1 - GAP)

    lefts = [round(LEFT + step * i + (step - inner) / 2, 1) for i in range(count)]
    foot, right = y(chain.pots.foot_m), WIDTH - RIGHT
    water = (
        "" if chain.peak.box is None else f"M{LEFT},{bottom}V{y(chain.peak.box)}H{right}V{bottom}Z"
    )
    return ChainSide(
        WIDTH,
        HEIGHT,
        tuple(f"M{x},{TOP}V{foot}h{inner:.1f}V{TOP}" for x in lefts),
        water,
        "",
        f"M{LEFT},{foot}H{right}",
        f"M{LEFT},{TOP}V{bottom}H{right}V{TOP}",
        tuple((round(x + inner / 2, 1), str(i)) for i, x in enumerate(lefts, 1)),
    )


def _levels(box: float | None, levels: Sequence[float]) -> list[float]:
    return [] if box is None else [box, *levels]
