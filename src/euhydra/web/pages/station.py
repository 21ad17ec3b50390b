"""A page of a station: what it asks, shows and is turned to, and how it is rendered."""

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, field, replace
from enum import Enum
from typing import Any

from fastapi import Request
from starlette.responses import RedirectResponse, Response

from euhydra.garden import quantities
from euhydra.garden.kinds import Collection as PartCollection
from euhydra.garden.model import Garden
from euhydra.garden.part import Part
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Gap, Mark, Verdict
from euhydra.planner.judgement import telling
from euhydra.planner.judgement.answer import BY_HAND, NOT_NEEDED, Judgement, stops_what_waits
from euhydra.planner.judgement.finding import Finding
from euhydra.web.desk import Desk, Typed, render
from euhydra.web.forms import FormOn, FormView
from euhydra.web.forms_on_several import forms_of_several, ids_of
from euhydra.web.part_forms import PART_FORMS, PartForm

NOTHING_YET = Gap(
    say(
        "build-nothing-yet",
        "There is nothing to build yet: draw a store, a bed and a line on Lay.",
    )
)


@dataclass(frozen=True)
class Shown:
    """An answer with what its template draws; or the gap in its place, or why it is not needed."""

    answer: Any
    gap: Gap | None
    more: dict[str, Any] = field(default_factory=dict)
    not_needed: Sentence | None = None


@dataclass(frozen=True)
class Choice:
    """A bed, a store or a zone that a page can be turned to."""

    id: str
    name: str
    is_here: bool
    mark: Mark | None


class Tells(Enum):
    """Which findings of its station a page tells: none, what is dangerous or cannot work, or all."""

    NOTHING = "nothing"
    GRAVE = "grave"
    ALL = "all"


@dataclass(frozen=True)
class SeveralAnswers:
    """Several answers under the worst of their verdicts."""

    verdict: Verdict


def _no_choices(desk: Desk, at: str) -> list[Choice]:
    return []


def _all_parts(desk: Desk, collection: PartCollection, at: str) -> Sequence[Part]:
    parts: Sequence[Part] = getattr(desk.revision.garden, collection)
    return parts


def _before_nothing(desk: Desk, at: str) -> str:
    return ""


def _about_everything(desk: Desk, at: str) -> None:
    return None


def _whatever_it_adds(desk: Desk, at: str, form: PartForm) -> bool:
    return True


@dataclass(frozen=True)
class StationPage:
    """A page of a station. Each function is given the desk and `at`, the id that the address names.

    key : Name in the address, and of the template.
    station : The station on the stream that it belongs to.
    tab : Its name among that station's pages.
    show : What its template shows.
    form_keys : Forms beside its drawing.
    choices : What it can be turned to; less than two are no choice.
    parts : Parts of a collection that it asks about.
    before : Part that something new is set before; "" for nothing.
    adds : Whether what it is turned to has a use for what a form adds.
    turns_to_new : Whether it turns to a part that was just added.
    tells : Which findings of its station lead its verdict.
    about : Ids of what it is turned to, whose findings it tells; None for all of the station.
    hint : What somebody who sees it for the first time might not think of trying.
    hint_of : Collection that the garden has to have something of for that; "" for none.
    """

    key: str
    station: str
    tab: str
    question: str
    show: Callable[[Request, Desk, str], Shown]
    form_keys: tuple[str, ...] = ()
    choices: Callable[[Desk, str], list[Choice]] = _no_choices
    parts: Callable[[Desk, PartCollection, str], Sequence[Part]] = _all_parts
    before: Callable[[Desk, str], str] = _before_nothing
    adds: Callable[[Desk, str, PartForm], bool] = _whatever_it_adds
    turns_to_new: bool = False
    tells: Tells = Tells.NOTHING
    about: Callable[[Desk, str], Collection[str] | None] = _about_everything
    hint: str = ""
    hint_of: str = ""


def pages_of(request: Request) -> dict[str, StationPage]:
    """Every page of a station by key, as the application has them."""
    pages: dict[str, StationPage] = request.app.state.pages
    return pages


def based_on(typed: Typed) -> int:
    """Revision that a form was shown from."""
    return quantities.whole_or(typed.get("based_on", ""), 0)  # which no revision has


def back_to(
    request: Request, garden_id: int, key: str, at: str = "", done: int | None = None
) -> RedirectResponse:
    """To the top of a page, where the verdict stands.

    Parameters
    ----------
    done : Revision that was just made: as long as the garden stands at it, the page says what it changed.
    """
    url = request.url_for("station", garden_id=garden_id, station=key)
    asked = {"at": at} if at else {}
    if done is None:
        return RedirectResponse(url.include_query_params(**asked), 303)
    # Without a place of its own a browser keeps that of the form, and shows the form again.
    url = url.include_query_params(**asked, done=str(done)).replace(fragment="main")
    return RedirectResponse(url, 303)


def show_page(
    request: Request,
    desk: Desk,
    page: StationPage,
    at: str = "",
    *,
    status: int = 200,
    retyped: FormView | None = None,
    typed: Typed | None = None,
    fault: str = "",
    faults: dict[str, str] | None = None,
) -> Response:
    """A page, as it stands or with what was typed and refused.

    Parameters
    ----------
    retyped : A part's form with its faults, in place of that form as it stands.
    typed : What was typed outside the parts' forms.
    fault, faults : What is wrong with that: as a whole, and by field.
    """
    shown = page.show(request, desk, at)
    views = _forms(desk, page, at)
    if retyped:
        views = [retyped if view.id == retyped.id else view for view in views]
    found = found_on(request, desk, page, at)
    choices = [_marked(request, desk, page, choice) for choice in page.choices(desk, at)]
    same_station = (p for p in pages_of(request).values() if p.station == page.station)
    return render(
        request,
        f"{page.key}.html",
        desk,
        status,
        station=page,
        at=at,
        forms=views,
        gap=shown.gap,
        not_needed=_not_needed(request, desk, page, shown),
        answer=shown.answer,
        judged_so=verdict_on(page, shown, found),
        findings=found,
        tabs=[p for p in same_station if p.tab],
        choices=choices if len(choices) > 1 else [],
        wished=typed or {},
        wish_fault=fault,
        faults=faults or {},
        **shown.more,
    )


def _not_needed(request: Request, desk: Desk, page: StationPage, shown: Shown) -> Sentence | None:
    """What a station says where the garden has no use for it: in place of a gap, and of all that builds nothing."""
    if shown.not_needed:
        return shown.not_needed
    is_told_there = page.key == page.station or page.station == "time"
    if not (page.station == "build" or (is_told_there and shown.gap is not None)):
        return None
    judged = _judged(request, desk, page).stations[page.station]
    return judged.summary if judged.summary.code in (NOT_NEEDED[0], BY_HAND[0]) else None


def _marked(request: Request, desk: Desk, page: StationPage, choice: Choice) -> Choice:
    """With the mark of the findings about it; without one while it waits."""
    if page.tells is not Tells.ALL:
        return choice
    about = page.about(desk, choice.id) or ()
    here = _judged(request, desk, page).at(page.station)
    marks = [f.severity.mark for f in here if f.about and telling.touches(f, about)]
    known = [Mark.WORKS] if choice.mark is not None else []
    worst = max([*known, *marks], key=list(Mark).index, default=None)
    return replace(choice, mark=worst)


def found_on(request: Request, desk: Desk, page: StationPage, at: str) -> tuple[Finding, ...]:
    """The findings that lead the verdict of a page."""
    if page.tells is Tells.NOTHING:
        return ()
    found = telling.found_at(_judged(request, desk, page), page.station, page.about(desk, at))
    return found if page.tells is Tells.ALL else tuple(f for f in found if f.severity.is_grave)


def _judged(request: Request, desk: Desk, page: StationPage) -> Judgement:
    """The garden as judged so far as a page tells it: what the log says is told by Keep alone."""
    is_keep = page.station == "keep"
    return desk.judgement(request) if is_keep else desk.plan_judgement(request)


def verdict_on(page: StationPage, shown: Shown, found: Sequence[Finding]) -> Verdict | None:
    """The verdict by the findings; None where the page's own stands, or it waits and nothing is wrong."""
    if page.tells is Tells.NOTHING:
        return None
    if shown.gap is None:
        tell = telling.verdict_of if page.tells is Tells.ALL else telling.warned
        return tell(found, shown.answer.verdict)
    grave = [finding for finding in found if stops_what_waits(finding, page.station)]
    return telling.verdict_of(grave, Verdict(Mark.WORKS, shown.gap.sentence)) if grave else None


def _forms(desk: Desk, page: StationPage, at: str) -> list[FormView]:
    """A part's own form, then those that ask more about it; last the forms that add one."""
    garden = desk.revision.garden
    keys = [PART_FORMS[key] for key in page.form_keys]
    known = {part.id for part in garden.parts}
    several = tuple(part_id for part_id in ids_of(at) if part_id in known)
    shown: list[FormView] = []
    if len(several) > 1 and page.turns_to_new:
        shown += forms_of_several(garden, several, tuple(keys))
    for form in keys:
        beside = [f for f in keys if f.collection == form.collection]
        if form.is_facet and (beside[0] is not form or any(not f.is_facet for f in beside)):
            continue
        for part in page.parts(desk, form.collection, at):
            shown += _views_of(garden, part.id, form, keys)
    for form in keys:
        adding = FormOn.of(form, garden, "", page.before(desk, at))
        is_here = form.can_add and form.station in (page.key, "") and page.adds(desk, at, form)
        if is_here and adding.can_be_asked:
            shown.append(adding.show())
    return shown


def _views_of(
    garden: Garden, part_id: str, form: PartForm, keys: Sequence[PartForm]
) -> list[FormView]:
    facets = [f for f in keys if f.is_facet and f.collection == form.collection]
    views = (FormOn.of(each, garden, part_id).show() for each in dict.fromkeys((form, *facets)))
    return [view for view in views if view.fields]


def forms_of_part(garden: Garden, part_id: str) -> list[FormView]:
    """The form of one part, or of several, and those that ask more about it."""
    keys = list(PART_FORMS.values())
    several = ids_of(part_id)
    if len(several) > 1:
        return forms_of_several(garden, several, tuple(keys))
    for form in keys:
        if not form.is_facet and any(p.id == part_id for p in getattr(garden, form.collection)):
            return _views_of(garden, part_id, form, keys)
    return []
