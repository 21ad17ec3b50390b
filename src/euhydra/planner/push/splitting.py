"""A zone whose rows are fed from their middle instead of their end."""

from euhydra.garden.pipes import Pipe
from euhydra.planner.water import laws, zones
from euhydra.planner.water.zones import Zone


def fed_from_middle(zone: Zone) -> Zone | None:
    """The header laid across the middle of the rows; None where the rows have no header.

    Each row that begins on a plain pipe across the bed becomes two, half as long; the header
    moves by half a row, and what feeds it grows by as much.
    """
    rows = [
        p
        for p in zone.pipes
        if laws.kind_of(p).has_outlets
        and p.ends_at is None
        and not any(other.begins_at == p.id for other in zone.way.parts)
    ]
    if not rows:
        return None
    by_id = {p.id: p for p in zone.pipes}
    fed_by = {row.begins_at for row in rows}
    headers = [by_id[i] for i in fed_by if i in by_id and not laws.kind_of(by_id[i]).has_outlets]
    if len(headers) != len(fed_by):
        return None
    half = max(row.lies_m for row in rows) / 2
    pipes: dict[str, Pipe] = {}
    for row in rows:
        middle = row.point_at(row.drawn_m / 2)
        pipes[row.id] = row.model_copy(
            update={"path": (middle, row.path[-1]), "length_m": row.lies_m / 2}
        )
    twins = [
        row.model_copy(
            update={
                "id": f"{row.id}-b",
                "path": (row.point_at(row.drawn_m / 2), row.path[0]),
                "length_m": row.lies_m / 2,
            }
        )
        for row in rows
    ]
    for header in headers:
        feeder = by_id.get(header.begins_at or "")
        longer = feeder if feeder is not None else header
        pipes[longer.id] = longer.model_copy(update={"length_m": longer.lies_m + half})
    garden = zone.garden.model_copy(
        update={"pipes": (*(pipes.get(p.id, p) for p in zone.garden.pipes), *twins)}
    )
    return zones.again(zone, garden)
