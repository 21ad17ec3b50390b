"""Older garden documents made into newer ones, one version at a time."""

from typing import Any

Document = dict[str, Any]

FIRST_SPACING = 0.3
"""Metres between outlets where an old line says none."""

MOST_PIPES = 2000
"""Pipes that are made of an old document; a small file could ask for millions."""

OLD_DROP, MOST_STAND = 0.5, 3.0
"""Drop from a drum to its bed where an old line says none, and the highest stand. [m]"""

DRAINS_APART = 3.0
"""Metres below everything, and from each other, at which drains are set that were only described."""

BESIDE_BED = 0.6
"""Metres from a bed's corner to the drum that an old document only names."""

OLD_LINE_BORE = 0.0136
"""Inside width of every line of the first version. [m]"""


def from_1(old: Document) -> Document:
    """Version 2 draws every pipe: hoses, headers and rows were only counted before."""
    new = {k: v for k, v in old.items() if k not in ("hoses", "drip_lines", "timers")}
    stores = {store.get("id"): store for store in _list(old, "stores")}
    beds = {bed.get("id"): bed for bed in _list(old, "beds")}
    timed = {timer.get("hose_id"): timer for timer in _list(old, "timers")}
    timers: list[Document] = []
    pipes: list[Document] = []
    reached: set[Any] = set()
    for hose in _list(old, "hoses"):
        start = _place(stores.get(hose.get("store_id"), {}))
        bed = beds.get(hose.get("bed_id"), {})
        timer = timed.get(hose.get("id"))
        if timer is not None:
            timers.append(
                _without(timer, "hose_id") | {"at": start, "begins_at": hose.get("store_id")}
            )
        feeds = timer["id"] if timer is not None else hose.get("store_id")
        lines = [d for d in _list(old, "drip_lines") if d.get("bed_id") == hose.get("bed_id")]
        middle = bool(lines) and lines[0].get("fed_from") == "middle"
        x = _x(bed) + (_length(bed) / 2 if middle else 0.0)
        rows = lines[0].get("rows", 1) if lines else 1
        meets = {"x_m": x, "y_m": _y(bed) + bed.get("width_m", 1.0) / rows / 2}
        if meets == start:
            meets = meets | {"x_m": x + 0.1}
        pipes.append(
            _without(hose, "store_id", "bed_id")
            | {"kind": "hose-13", "path": [start, meets], "begins_at": feeds}
        )
        if lines and bed.get("id") not in reached:
            reached.add(bed.get("id"))
            if len(pipes) + 2 * rows > MOST_PIPES:
                raise ValueError("more rows than a garden can have")
            pipes += _rows(lines[0], bed, hose, x, middle)
    return new | {"schema_version": 2, "timers": timers, "pipes": pipes}


def from_2(old: Document) -> Document:
    """Version 3 has drums and drains where they are: only a drop to a bed, and lengths, were known before."""
    beds = {bed.get("id"): bed for bed in _list(old, "beds")}
    drums = [_drum(grey, beds.get(grey.get("bed_id"), {})) for grey in _list(old, "greywaters")]
    grounds = _list(old, "wet_grounds")
    low = min((_y(part) for c in ("beds", "stores") for part in _list(old, c)), default=0.0)
    placed = [
        ground | {"at": {"x_m": 0.0, "y_m": low - DRAINS_APART * (i + 1)}}
        for i, ground in enumerate(grounds)
    ]
    return old | {"schema_version": 3, "greywaters": drums, "wet_grounds": placed}


def _drum(grey: Document, bed: Document) -> Document:
    """The drum beside its bed, so high above it as it was said to be."""
    drop = grey.get("drop_m", OLD_DROP)
    stand = min(max(drop, 0.0), MOST_STAND)
    ground = bed.get("ground_m", 0.0) + bed.get("raised_m", 0.0) + drop - stand
    beside = {"x_m": _x(bed) - BESIDE_BED, "y_m": _y(bed)}
    return _without(grey, "drop_m") | {"at": beside, "ground_m": ground, "stand_m": stand}


def _rows(line: Document, bed: Document, hose: Document, x: float, middle: bool) -> list[Document]:
    """Header across the bed and a pipe for each row, or two where the header is in the middle."""
    count, width = line.get("rows", 1), bed.get("width_m", 1.0)
    gap = width / count
    pipes: list[Document] = []
    feeder: str = hose["id"]
    if count > 1:
        ends = [{"x_m": x, "y_m": _y(bed) + gap * (i + 0.5)} for i in (0, count - 1)]
        feeder = f"{line['id']}-header"
        pipes.append(
            {
                "id": feeder,
                "name": f"{line['name']}, header"[:60],
                "kind": "hose-13",
                "bore_m": OLD_LINE_BORE,
                "path": ends,
                "begins_at": hose["id"],
                "waters": bed["id"],
                "end": "shut",
            }
        )
    for row in range(count):
        y = _y(bed) + gap * (row + 0.5)
        begins = {"begins_at": feeder, "begins_along_m": gap * row if count > 1 else None}
        reaches = (
            ((_x(bed), "b"), (_x(bed) + _length(bed), ""))
            if middle
            else ((_x(bed) + _length(bed), ""),)
        )
        for end, letter in reaches:
            name = f"{line['name']} {row + 1}{letter}" if count > 1 or middle else line["name"]
            pipes.append(
                {
                    "id": f"{line['id']}-{row + 1}{letter}",
                    "name": name[:60],
                    "kind": line.get("kind"),
                    "path": [{"x_m": x, "y_m": y}, {"x_m": end, "y_m": y}],
                    "waters": bed["id"],
                    "spacing_m": line.get("spacing_m", FIRST_SPACING),
                    **begins,
                }
            )
    return pipes


def _list(document: Document, name: str) -> list[Document]:
    found = document.get(name)
    return (
        [entry for entry in found if isinstance(entry, dict)]
        if isinstance(found, list | tuple)
        else []
    )


def _without(part: Document, *names: str) -> Document:
    return {k: v for k, v in part.items() if k not in names}


def _place(part: Document) -> Document:
    return {"x_m": _x(part), "y_m": _y(part)}


def _x(part: Document) -> float:
    return float(part.get("at", {}).get("x_m", 0.0))


def _y(part: Document) -> float:
    return float(part.get("at", {}).get("y_m", 0.0))


def _length(bed: Document) -> float:
    return float(bed.get("length_m", 1.0))
