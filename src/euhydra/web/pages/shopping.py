"""Build: the shopping list, and the owner's prices."""

from collections.abc import Iterable, Mapping
from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Request, UploadFile
from starlette.responses import Response

from euhydra.formats import prices_csv
from euhydra.formats.prices_csv import PriceFileError, PriceRow
from euhydra.garden import edits, filled_text, goods, quantities
from euhydra.garden.goods import Unit
from euhydra.garden.quantities import QuantityError, System
from euhydra.garden.sentences import Amount
from euhydra.planner.answers import Gap
from euhydra.planner.lay import comparing
from euhydra.planner.lay.comparing import ZoneChoice
from euhydra.planner.parts.answer import Item, Price, ShoppingList, make_list
from euhydra.planner.push.answer import PushAnswer
from euhydra.records import gardens, prices
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import NOTHING_YET, Shown, StationPage, Tells, back_to, show_page

router = APIRouter()


def show_shopping(request: Request, desk: Desk, at: str) -> Shown:
    """The shopping list, at the owner's prices."""
    if not desk.revision.garden.parts:
        return Shown(None, NOTHING_YET)
    own, there = _own(request, desk)
    answer = desk.kept(
        request,
        ("list", _digest(own), there),
        lambda: make_list(desk.revision.garden, own, there),
    )
    choices = desk.kept(
        request,
        ("compared", _digest(own)),
        lambda: [comparing.compare(push, own) for push in _pushed(desk)],
    )
    return Shown(answer, None, {"compared": _several(choices), "names": _names(desk)})


def _own(request: Request, desk: Desk) -> tuple[dict[str, Price], frozenset[str]]:
    with desk.reading(request) as conn:
        own = as_prices(prices.all_prices(conn))
        there = frozenset(prices.ticked(conn, desk.revision.garden_id, "there"))
    return own, there


def as_prices(kept: Mapping[str, tuple[float, float]]) -> dict[str, Price]:
    return {good: Price(*pair) for good, pair in kept.items()}


def _digest(own: Mapping[str, Price]) -> frozenset[tuple[str, Price]]:
    return frozenset(own.items())


def _pushed(desk: Desk) -> list[PushAnswer]:
    return [z.push for z in desk.chain.zones if not isinstance(z.push, Gap)]


def _several(choices: Iterable[ZoneChoice]) -> list[ZoneChoice]:
    return [choice for choice in choices if len(choice.alternatives) > 1]


def _names(desk: Desk) -> dict[str, str]:
    return {part.id: part.name for part in desk.revision.garden.parts}


MOST_PRICE, MOST_PACK = 1e6, 1e5
"""Most that a pack may cost, and that it may hold."""


@router.post("/gardens/{garden_id}/prices", name="save_prices")
def save_prices(request: Request, garden_id: RowId, db: Db, typed: Typed) -> Response:
    """Take prices as typed, all or none."""
    desk = open_desk(request, db, garden_id)
    answer = make_list(desk.revision.garden, as_prices(prices.all_prices(db)))
    changed, faults = _read_prices(answer, typed, desk.revision.garden.units)
    if faults:
        return show_page(request, desk, PAGE, status=422, faults=faults, typed=typed)
    prices.put_prices(db, changed)
    return back_to(request, garden_id, PAGE.key)


@router.post("/gardens/{garden_id}/hose-thread", name="save_hose_thread")
def save_hose_thread(
    request: Request,
    garden_id: RowId,
    db: Db,
    hose_thread: Annotated[str, Form()],
    based_on: Annotated[int, Form()],
) -> Response:
    """Which thread hoses have there: the list fits its adapters to it."""
    garden = gardens.current(db, garden_id).garden
    if hose_thread not in goods.threads():
        raise HTTPException(422, "There is no such thread: choose one of the list.")
    place = garden.place.model_copy(update={"hose_thread": hose_thread})
    changed = edits.replace(garden, place=place)
    gardens.save(db, garden_id, based_on, changed, "Thread of the hoses: changed")
    return back_to(request, garden_id, PAGE.key)


@router.get("/gardens/{garden_id}/prices.csv", name="prices_csv")
def price_table(request: Request, garden_id: RowId, db: Db) -> Response:
    """Pack and price of every good on the list."""
    desk = open_desk(request, db, garden_id)
    units = desk.revision.garden.units
    answer = make_list(desk.revision.garden, as_prices(prices.all_prices(db)))
    rows = (_price_row(item, units) for item in answer.items)
    return download(prices_csv.write(rows), "prices.csv", "text/csv")


@router.post("/gardens/{garden_id}/prices.csv", name="bring_prices")
def bring_prices(request: Request, garden_id: RowId, db: Db, file: UploadFile) -> Response:
    """Remember the prices of a table; all of them, or none."""
    desk = open_desk(request, db, garden_id)
    try:
        text = file.file.read().decode("utf-8-sig")
        rows = prices_csv.read(text)
        _check_units(rows, make_list(desk.revision.garden, {}))
    except UnicodeDecodeError:
        fault = "This is not a table of text: save it as CSV in UTF-8, and bring it again."
        return show_page(request, desk, PAGE, status=422, faults={"file": fault})
    except PriceFileError as error:
        return show_page(request, desk, PAGE, status=422, faults={"file": str(error)})
    prices.put_prices(db, {row.good: (row.holds, row.price) for row in rows})
    return back_to(request, garden_id, PAGE.key)


def _check_units(rows: Iterable[PriceRow], answer: ShoppingList) -> None:
    by_piece = {i.good.key for i in answer.items if i.good.unit is Unit.EACH}
    wrong = next((row for row in rows if row.unit and row.good in by_piece), None)
    if wrong is not None:
        raise PriceFileError(
            f"“{wrong.good}” comes by the piece: leave its unit empty, instead of “{wrong.unit}”."
        )


def _price_row(item: Item, units: System) -> PriceRow:
    holds, unit = item.holds, ""
    if item.good.unit is Unit.METRE:
        unit = quantities.KINDS[holds.kind].display(units).unit
    return PriceRow(
        item.good.key,
        filled_text.fill(item.good.name, units),
        quantities.from_si(holds.value, holds.kind, units),
        unit,
        item.pack.price,
    )


def _read_prices(
    answer: ShoppingList, typed: Mapping[str, str], units: System
) -> tuple[dict[str, tuple[float, float]], dict[str, str]]:
    """Prices that were changed, and what is wrong, by field."""
    changed, faults = {}, {}
    for item in answer.items:
        before = item.pack
        try:
            pack = _typed(typed, f"pack-{item.good.key}", item.holds, units)
            cost = Amount(before.price, "money")
            price = _typed(typed, f"price-{item.good.key}", cost, units)
        except _UnreadableError as error:
            faults[error.field] = str(error)
            continue
        if (pack, price) != (before.pack, before.price):
            changed[item.good.key] = (pack, price)
    return changed, faults


class _UnreadableError(QuantityError):
    """What was typed in a field is no price or pack."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


def _typed(typed: Mapping[str, str], field: str, shown: Amount, units: System) -> float:
    """What was typed over what was shown; nothing, or the same again, leaves it as it is."""
    text = typed.get(field, "").strip()
    if text in ("", shown.told(units).replace(",", "")):
        return shown.value
    try:
        value = quantities.parse(text, shown.kind, units)
    except QuantityError as error:
        raise _UnreadableError(field, str(error)) from None
    if shown.kind == "money" and not 0 <= value <= MOST_PRICE:
        raise _UnreadableError(field, f"A price of {text} cannot be: type 0 or more, such as 4.50.")
    if shown.kind != "money" and not 0 < value <= MOST_PACK:
        raise _UnreadableError(field, f"A pack of {text} cannot be: type what it holds, 1 or more.")
    return value


PAGE = StationPage(
    key="build",
    station="build",
    tab="Shopping list",
    question="What do I buy, and what does it come to?",
    hint="Tick off what you have already: the sum leaves it out.",
    show=show_shopping,
    tells=Tells.GRAVE,
)
