"""What lines that are there would be wished as, so that laying them anew keeps what is not asked about."""

from euhydra.garden import edits
from euhydra.garden.model import Garden
from euhydra.garden.pipes import Pipe, Pump
from euhydra.garden.pots import Pots
from euhydra.garden.timers import Timer
from euhydra.planner.lay.wishes import Method, Wish
from euhydra.planner.water import laws


def wishes_there(garden: Garden) -> dict[str, Wish]:
    """By bed or group of pots that has lines: where they begin, what they are, and their timer."""
    first = {
        pipe.waters: pipe
        for pipe in reversed(garden.pipes)
        if pipe.dripper or laws.kind_of(pipe).has_outlets
    }
    return {
        part.id: _wish_of(garden, first[part.id], isinstance(part, Pots))
        for part in garden.planted
        if part.id in first
    }


def _wish_of(garden: Garden, line: Pipe, is_pots: bool) -> Wish:
    """As the first line: from what stays when its lines are taken out, or from the pump that drives them."""
    assert line.waters is not None  # by what they are sorted
    gone = edits.ids_of_lines(garden, {line.waters})
    by_id = {part.id: part for part in garden.fed}
    timer, here = None, line.begins_at or ""
    while here in gone:
        part = by_id[here]
        if isinstance(part, Pump):
            break
        if isinstance(part, Timer):
            timer = part.kind
        here = part.begins_at or ""
    method, kind = _method_of(line, is_pots)
    return Wish(line.waters, here, method, kind, timer=timer)


def _method_of(line: Pipe, is_pots: bool) -> tuple[Method, str]:
    if is_pots:
        return Method.POTS, line.dripper or ""
    if line.dripper:
        return Method.STEMS, line.dripper
    is_porous = laws.kind_of(line).family == "porous"
    return Method.SOAKER if is_porous else Method.ROWS, line.kind
