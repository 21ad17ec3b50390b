"""Build: ticks and prices are kept; a line's own page; prices as a table."""

from collections.abc import Mapping
from typing import Annotated

from fastapi import APIRouter, Form, HTTPException, Request, UploadFile
from starlette.responses import JSONResponse, RedirectResponse, Response

from euhydra.formats import prices_csv
from euhydra.formats.prices_csv import PriceFileError, PriceRow
from euhydra.garden import quantities
from euhydra.garden.quantities import QuantityError
from euhydra.planner.parts.shopping import ShoppingList, make_list
from euhydra.records import prices
from euhydra.web.desk import Db, Typed, open_desk, render
from euhydra.web.pages import build_answers, stations
from euhydra.web.pages.gardens import download

router = APIRouter()


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
    return render(request, "line.html", desk, label=label, zone=zone, here="labels")


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
    changed, faults = _read_prices(answer, typed)
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
    rows = (
        PriceRow(i.good.key, quantities.fill(i.good.name, units), i.pack.pack, i.pack.price)
        for i in answer.items
    )
    return download(prices_csv.write(rows), "prices.csv", "text/csv")


@router.post("/gardens/{garden_id}/prices.csv", name="bring_prices")
def bring_prices(request: Request, garden_id: int, db: Db, file: UploadFile) -> Response:
    """Remember the prices of a table; all of them, or none."""
    desk = open_desk(request, db, garden_id)
    try:
        text = file.file.read().decode("utf-8-sig")
        rows = prices_csv.read(text)
    except UnicodeDecodeError:
        fault = "This is not a table of text: save it as CSV in UTF-8, and bring it again."
        return stations.show(request, desk, "build", "", {"file": fault}, {})
    except PriceFileError as error:
        return stations.show(request, desk, "build", "", {"file": str(error)}, {})
    prices.put_prices(db, {row.good: (row.pack, row.price) for row in rows})
    return RedirectResponse(request.url_for("station", garden_id=garden_id, station="build"), 303)


def _read_prices(
    answer: ShoppingList, typed: Mapping[str, str]
) -> tuple[dict[str, tuple[float, float]], dict[str, str]]:
    """Prices that were changed, and what is wrong, by field."""
    changed, faults = {}, {}
    for item in answer.items:
        key = item.good.key
        values = {}
        for what, before in (("pack", item.pack.pack), ("price", item.pack.price)):
            name = f"{what}-{key}"
            text = typed.get(name, "").strip()
            if not text:
                values[what] = before
                continue
            try:
                values[what] = _price(text, what)
            except QuantityError as error:
                faults[name] = str(error)
        if len(values) == 2 and values != {"pack": item.pack.pack, "price": item.pack.price}:
            changed[key] = (values["pack"], values["price"])
    return changed, faults


def _price(text: str, what: str) -> float:
    value = quantities.parse(text, "money", quantities.System.METRIC)
    if what == "price" and not 0 <= value <= 1e6:
        raise QuantityError(f"A price of {text} cannot be: type 0 or more, such as 4.50.")
    if what == "pack" and not 0 < value <= 1e5:
        raise QuantityError(f"A pack of {text} holds nothing: type 1 or more.")
    return value
