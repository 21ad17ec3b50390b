"""What it takes to add one of each: a kind of part, a row of every catalogue, a page, a field."""

from collections.abc import Iterator
from contextlib import closing

import numpy as np
import pytest
from jinja2 import ChoiceLoader, DictLoader
from pydantic import Field, ValidationError

from euhydra.core.weather import DailyWeather
from euhydra.garden import catalogue, demo, edits, kinds, normals, plumbing, shapes
from euhydra.garden.drinker import Container, Drinker, OwnPlanting
from euhydra.garden.kinds import PartKind
from euhydra.garden.model import Garden
from euhydra.garden.part import Id, Point, asked, link_of
from euhydra.garden.pipes import JOINABLE, Fitting
from euhydra.garden.plantings import PlantingDate
from euhydra.garden.quantities import System
from euhydra.garden.sentences import say
from euhydra.planner.answers import Gap
from euhydra.planner.chain import run_chain
from euhydra.planner.keeping import upkeep, winter
from euhydra.planner.lay.answer import answer_lay
from euhydra.planner.need.daily import need_of
from euhydra.planner.parts import counting
from euhydra.records import database, gardens
from euhydra.web.app import create_app
from euhydra.web.drawing import plan, plan_shapes
from euhydra.web.forms import FormOn
from euhydra.web.pages import stations
from euhydra.web.pages.station import Shown, StationPage
from euhydra.web.part_forms import PART_FORMS, PartForm
from euhydra.web.rendering import templates
from gardens import one_barrel
from served import client_of

CACHED = (
    plumbing.fitting_kinds,
    plumbing.pipe_kinds,
    plumbing.drippers,
    catalogue.timers,
    catalogue.store_kinds,
)
"""Catalogues that a test lengthens by a row."""


# --- A kind of part: its class, its collection, its row, its form ---------------------------------


class Trough(Drinker):
    """A third drinker, of this test alone."""

    at: Point = Point()
    length_m: float = asked("Length", "length", default=1.0, ge=0.2, le=20)
    crop: str = "lettuce"
    planting: PlantingDate = PlantingDate(month=4, day=1)
    ground_m: float = 0.0
    need_factor: float = 1.0
    sources: tuple[Id, ...] = ()
    by_hand_d: int = 2

    @property
    def area_m2(self) -> float:
        return self.length_m * 0.3

    @property
    def area_words(self) -> str:
        return "trough area"

    @property
    def outlet_m(self) -> float:
        return self.ground_m + 0.4

    @property
    def soil_in_use(self) -> str:
        return "potting-mix"

    @property
    def rooting_depth_m(self) -> float | None:
        return 0.25

    @property
    def own_planting(self) -> OwnPlanting:
        return OwnPlanting(self.planting)

    @property
    def place_factor(self) -> float:
        return 1.0

    @property
    def thirst_choices(self) -> tuple[()]:
        return ()

    @property
    def container(self) -> Container:
        return Container(0.07, 0.25, 0.01, self.area_m2)


class WithTroughs(Garden):
    """A garden with a collection more."""

    troughs: tuple[Trough, ...] = Field((), max_length=40)


TROUGHS = PartKind(
    "troughs",
    Trough,
    "trough",
    "beds",
    lambda part: [shapes.rectangle(part.at, part.length_m, 0.3)],
    is_level=True,
)

FORM = PartForm("trough", "Trough", Trough, "troughs", ("name", "length_m", "crop"))


@pytest.fixture
def troughs(monkeypatch: pytest.MonkeyPatch) -> WithTroughs:
    """A garden with a trough at twenty metres from all else."""
    trough = Trough(id="trough", name="Trough", at=Point(x_m=20, y_m=3))
    without = dict(one_barrel())
    monkeypatch.setattr(kinds, "PART_KINDS", (*kinds.PART_KINDS, TROUGHS))
    monkeypatch.setitem(PART_FORMS, "trough", FORM)
    return WithTroughs(**without, troughs=(trough,))


@pytest.fixture
def year() -> DailyWeather:
    return normals.make_days(demo.normals(), 1)


def test_a_new_kind_is_checked_and_drawn_and_drinks(troughs, year):
    assert troughs.parts[-1].id == "trough"
    assert [part.id for part in troughs.planted][-1] == "trough"
    with pytest.raises(ValidationError, match="Two objects"):
        edits.replace(troughs, troughs=(troughs.troughs[0], troughs.troughs[0]))
    shape = next(s for s in plan_shapes.shapes_of(troughs, {}, System.METRIC) if s.id == "trough")
    assert (shape.layer, shape.kind) == ("beds", "trough")
    drawn = plan.draw(answer_lay(troughs), System.METRIC)
    assert drawn.box[0] + drawn.box[2] > 21
    need = need_of(troughs.troughs[0], troughs, year)
    assert need.year_litres > 0
    plants = run_chain(troughs, year).planted
    assert [plant.part.id for plant in plants][-1] == "trough"


def test_a_new_kind_is_asked_for_linked_to_and_taken_away(troughs):
    form = FormOn.of(FORM, troughs, "")
    added = form.read({"name": "Another", "length_m": "2", "crop": "lettuce"})
    assert [t.length_m for t in added.troughs] == [1.0, 2.0]
    # Beside what is there, since it was typed and not drawn.
    one, other = (kinds.outlines_of(t)[0] for t in added.troughs)
    assert not one.intersects(other)
    line = troughs.pipes[-1].model_copy(update={"waters": "trough"})
    watered = edits.put(troughs, "pipes", line)
    assert "trough" in FormOn.of(PART_FORMS["pipe"], watered, line.id).candidates(
        type(line).model_fields["waters"]
    )
    gone = edits.remove(watered, "trough")
    assert gone.troughs == ()
    assert gone.pipes[-1].waters is None


def test_a_link_to_a_part_of_no_garden_is_refused(troughs):
    line = troughs.pipes[-1].model_copy(update={"waters": "nowhere"})
    with pytest.raises(ValidationError, match="nowhere"):
        edits.put(troughs, "pipes", line)


# --- What cannot follow from the table agrees with it ----------------------------------------------


def test_every_collection_of_the_document_has_its_kind():
    held = {
        name
        for name, field in Garden.model_fields.items()
        if isinstance(field.default, tuple) and field.default == ()
    }
    assert set(kinds.collections()) == held
    for kind in kinds.PART_KINDS:
        assert Garden.model_fields[kind.collection].annotation == tuple[kind.model, ...]


def test_what_feeds_is_what_something_may_begin_at():
    assert set(JOINABLE) == set(kinds.collections(feeds=True))
    garden = demo.garden()
    fed = [p.id for c in kinds.collections(is_fed=True) for p in getattr(garden, c)]
    assert sorted(fed) == sorted(p.id for p in garden.fed)
    sources = [p.id for c in kinds.collections(is_source=True) for p in getattr(garden, c)]
    assert sources == [p.id for p in garden.sources]


def test_every_link_leads_to_collections_that_there_are():
    for kind in kinds.PART_KINDS:
        for field in kind.model.model_fields.values():
            link = link_of(field)
            if link is not None:
                assert set(kinds.linked_collections(link)) <= set(kinds.collections())


def test_every_kind_can_be_asked_about():
    assert {form.collection for form in PART_FORMS.values()} == set(kinds.collections())
    for form in PART_FORMS.values():
        assert form.model is kinds.kind_named(form.collection).model
        assert set(form.fields) <= set(form.model.model_fields)


def test_signs_of_fittings_and_kinds_of_parts_do_not_share_letters():
    own = {kind.letter for kind in kinds.PART_KINDS if kind.letter}
    rows = {row.letter for row in plumbing.fitting_kinds().values()}
    assert "" not in rows
    assert not own & rows


# --- A row of a catalogue ---------------------------------------------------------------------------


@pytest.fixture
def rows(monkeypatch: pytest.MonkeyPatch) -> Iterator[dict[str, str]]:
    """Rows by file, which the catalogues have besides their own."""
    more: dict[str, str] = {}
    own = catalogue.text_of
    monkeypatch.setattr(catalogue, "text_of", lambda file: own(file) + more.get(file, ""))
    for cached in CACHED:
        cached.cache_clear()
    yield more
    for cached in CACHED:
        cached.cache_clear()


def test_a_second_kind_of_filter_is_one_row(rows, year):
    rows["fitting_kinds.csv"] = (
        "disc,Disc filter,disc filter,filters,F,9,no,1,0,0,4,4,female 3/4,male 3/4,19,A test\n"
    )
    filter_ = Fitting(id="disc", name="Disc filter", kind="disc")
    garden = edits.put_before(one_barrel(), "fittings", filter_, "shed-timer")
    assert plan_shapes.letter_of(garden.fittings[0]) == "F"
    tasks = upkeep.answer_upkeep(run_chain(garden, year), [], year.days[-1].astype(object)).tasks
    assert any(task.key == "filter-disc" for task in tasks)
    (indoors, *_) = winter.winter_list(garden)
    assert any("Disc filter" in str(sentence) for sentence in indoors[1])
    assert any(use.good.key.endswith("disc") for use in counting.uses_of(garden))


def test_another_timer_store_line_and_dripper_are_one_row_each(rows):
    rows["timers.toml"] = """
[test-clock]
name = "A clock of this test"
about = ""
works_by = "clock"
run_minutes = [7]
interval_days = [1]
starts = 1
delay_days = []
outlets = 1
battery_months = 0
least_opening_head_m = 0.0
loss_coefficient = 1.0
source = "A test"
"""
    rows["store_kinds.csv"] = "urn,Urn,urn,0.1,on-ground,,A test\n"
    rows["pipe_kinds.csv"] = (
        "wide,Wide line,drip,0.02,0.0000015,1,1,0.5,0.1,0.3,0,0,0.3,10,60,760,,1,A test\n"
    )
    _, *rest = catalogue.text_of("drippers.csv").splitlines()[-1].split(",")
    rows["drippers.csv"] = ",".join(["test-drip", *rest]) + "\n"
    garden = one_barrel()
    row = next(i for i, p in enumerate(garden.pipes) if p.id == "middle-line-1")
    line = garden.pipes[row].model_copy(update={"kind": "wide", "bore_m": None})
    store = garden.stores[0].model_copy(update={"kind": "urn"})
    timer = garden.timers[0].model_copy(update={"kind": "test-clock"})
    garden = edits.put_all(garden, [("pipes", line), ("stores", store), ("timers", timer)])
    states = answer_lay(garden).states
    assert all(np.all(state.outlet_flow > 0) for state in states.values())
    assert any(use.good.key == "pipe-wide" for use in counting.uses_of(garden))
    assert "test-drip" in plumbing.drippers()


# --- A page: its module, its template, its line among the stations ---------------------------------


def test_a_page_more_is_served_under_its_station(tmp_path, monkeypatch):
    gap = Gap(say("extra-nothing", "Nothing else yet."))
    page = StationPage("extra", "keep", "Extra", "What else?", lambda *_: Shown(None, gap))
    template = DictLoader({"extra.html": '{% extends "_station.html" %}'})
    monkeypatch.setitem(stations.PAGES, "extra", page)
    monkeypatch.setattr(templates.env, "loader", ChoiceLoader([template, templates.env.loader]))
    with client_of(create_app(tmp_path)) as client:
        with closing(database.connect(client.app.state.database)) as conn:
            gardens.create(conn, one_barrel())
        shown = client.get("/gardens/1/extra")
        assert shown.status_code == 200
        assert "What else?" in shown.text
        assert "/gardens/1/extra" in client.get("/gardens/1/keep").text


# --- A field: of its model, and of its form ---------------------------------------------------------


def test_a_field_more_is_asked_and_kept(troughs):
    form = PartForm("trough", "Trough", Trough, "troughs", (*FORM.fields, "by_hand_d"))
    view = FormOn.of(form, troughs, "trough").show()
    assert [(f.name, f.value) for f in view.fields][-1] == ("by_hand_d", "2")
    typed = {f.name: f.value for f in view.fields} | {"by_hand_d": "5"}
    assert FormOn.of(form, troughs, "trough").read(typed).troughs[0].by_hand_d == 5
