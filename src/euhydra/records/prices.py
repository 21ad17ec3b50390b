"""The owner's prices, and what is ticked off. All SQL about them is in this file."""

import sqlite3
from collections.abc import Mapping
from typing import Literal

from euhydra.records.database import transaction

PUT = """
    INSERT INTO price (good, pack, price) VALUES (:good, :pack, :price)
    ON CONFLICT (good) DO UPDATE
        SET pack = excluded.pack, price = excluded.price,
            changed_at = strftime('%Y-%m-%dT%H:%M:%fZ', 'now')
"""

TICK = "INSERT OR IGNORE INTO tick (garden_id, list, item) VALUES (:garden_id, :list, :item)"

UNTICK = "DELETE FROM tick WHERE garden_id = :garden_id AND list = :list AND item = :item"

List = Literal["there", "step"]


def all_prices(conn: sqlite3.Connection) -> dict[str, tuple[float, float]]:
    """Pack and its price by key of the good. Reads only."""
    return {r["good"]: (r["pack"], r["price"]) for r in conn.execute("SELECT * FROM price")}


def put_prices(conn: sqlite3.Connection, prices: Mapping[str, tuple[float, float]]) -> None:
    """Remember prices; those of other goods stay."""
    with transaction(conn):
        conn.executemany(
            PUT, [{"good": g, "pack": p, "price": cost} for g, (p, cost) in prices.items()]
        )


def ticked(conn: sqlite3.Connection, garden_id: int, which: List) -> dict[str, str]:
    """What is ticked off on a list, with when. Reads only."""
    query = "SELECT item, ticked_at FROM tick WHERE garden_id = ? AND list = ?"
    return {r["item"]: r["ticked_at"] for r in conn.execute(query, (garden_id, which))}


def tick(conn: sqlite3.Connection, garden_id: int, which: List, item: str, on: bool) -> None:
    """Tick something off, or take the tick back."""
    row = {"garden_id": garden_id, "list": which, "item": item}
    with transaction(conn):
        conn.execute(TICK if on else UNTICK, row)
