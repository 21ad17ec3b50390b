"""Build: ticks and prices are kept; a line's own page; prices as a table."""

from collections.abc import Iterable, Mapping
from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Request, UploadFile
from starlette.responses import JSONResponse, RedirectResponse, Response

from euhydra.formats import prices_csv
from euhydra.formats.prices_csv import PriceFileError, PriceRow
from euhydra.garden import quantities
from euhydra.garden.goods import Unit
from euhydra.garden.quantities import QuantityError, System
from euhydra.planner.answers import Amount
from euhydra.planner.parts.answer import Item, ShoppingList, make_list
from euhydra.records import prices
from euhydra.web import wording
from euhydra.web.desk import Db, Typed, open_desk, render
from euhydra.web.drawing import plan
from euhydra.web.pages import build_answers, stations
from euhydra.web.pages.gardens import download

router = APIRouter()

MOST_PRICE, MOST_PACK = 1e6, 1e5
"""Most that a pack may cost, and that it may hold."""


@router.get("/gardens/{garden_id}/lines/{part_id}", name="line")
def line_page(request: Request, garden_id: int, part_id: str, db: Db) -> Response:
    """The page that a label's code leads to: one hose or line."""
    desk = open_desk(request, db, garden_id)
    label = next(iter(build_answers.labels_of(request, desk, part_id)), None)
    if label is None:
        raise HTTPException(
            404, "This hose or line is no longer in the garden: take its label off."
        )
    zone = next(
        (z for z in desk.chain.zones if any(p.id == part_id for p in z.zone.pipes)), None
    )  # fmt: skip
    return render(
        request, "line.html", desk, label=label, zone=zone, here="labels",
        box=build_answers.box_of(plan.bounds_of(desk.revision.garden), [part_id]), **build_answers.cut_from(request, desk),
    )  # fmt: skip


@router.post("/gardens/{garden_id}/tick", name="tick")
def tick(
    request: Request, garden_id: int, db: Db,
    which: Annotated[prices.List, Form(alias="list")],
    item: Annotated[str, Form(max_length=200)],
    on: Annotated[bool, Form()] = False,
) -> Response:  # fmt: skip
    """Tick something off; answers with the page's new verdict, for the page to show."""
    desk = open_desk(request, db, garden_id)
    prices.tick(db, garden_id, which, item, on)
    show = build_answers.show_steps if which == "step" else build_answers.show_shopping
    shown = show(request, desk, "")
    verdict = render(request, "_verdict_only.html", desk, answer=shown.answer)
    return JSONResponse({"verdict": bytes(verdict.body).decode()})


@router.post("/gardens/{garden_id}/prices", name="save_prices")
def save_prices(request: Request, garden_id: int, db: Db, typed: Typed) -> Response:
    """Take prices as typed, all or none."""
    desk = open_desk(request, db, garden_id)
    answer = make_list(desk.revision.garden, build_answers.as_prices(prices.all_prices(db)))
    changed, faults = _read_prices(answer, typed, desk.revision.garden.units)
    if faults:
        return stations.show(request, desk, "build", "", faults, typed)
    prices.put_prices(db, changed)
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="build"), 303)


@router.get("/gardens/{garden_id}/prices.csv", name="prices_csv")
def price_table(request: Request, garden_id: int, db: Db) -> Response:
    """Pack and price of every good on the list."""
    desk = open_desk(request, db, garden_id)
    units = desk.revision.garden.units
    answer = make_list(desk.revision.garden, build_answers.as_prices(prices.all_prices(db)))
    rows = (_price_row(item, units) for item in answer.items)
    return download(prices_csv.write(rows), "prices.csv", "text/csv")


@router.post("/gardens/{garden_id}/prices.csv", name="bring_prices")
def bring_prices(request: Request, garden_id: int, db: Db, file: UploadFile) -> Response:
    """Remember the prices of a table; all of them, or none."""
    desk = open_desk(request, db, garden_id)
    try:
        text = file.file.read().decode("utf-8-sig")
        rows = prices_csv.read(text)
        _check_units(rows, make_list(desk.revision.garden, {}))
    except UnicodeDecodeError:
        fault = "This is not a table of text: save it as CSV in UTF-8, and bring it again."
        return stations.show(request, desk, "build", "", {"file": fault}, {})
    except PriceFileError as error:
        return stations.show(request, desk, "build", "", {"file": str(error)}, {})
    prices.put_prices(db, {row.good: (row.holds, row.price) for row in rows})
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="build"), 303)


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
        item.good.key, quantities.fill(item.good.name, units),
        quantities.from_si(holds.value, holds.kind, units), unit, item.pack.price,
    )  # fmt: skip


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
    if text in ("", wording.show(shown, units).replace(",", "")):
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
