"""Catch: roofs and downspouts, the washing water, the tap or the well."""

from typing import Any

from fastapi import Request

from euhydra.garden.sentences import say
from euhydra.planner.answers import Figure, Gap, PlanError, worst_of
from euhydra.planner.catch import greywater
from euhydra.planner.catch.order import greywater_rule
from euhydra.planner.catch.taps import answer_tap
from euhydra.planner.chain import NO_BED
from euhydra.planner.judgement.answer import NOT_NEEDED
from euhydra.planner.season import shares
from euhydra.web.desk import Desk
from euhydra.web.drawing import (
    charts,
    drains,
    washday,
)
from euhydra.web.pages.station import SeveralAnswers, Shown, StationPage, Tells


def _catch(request: Request, desk: Desk, at: str) -> Shown:
    chain, garden = desk.chain, desk.revision.garden
    drawn: dict[str, Any] = {"drains": drains.draw(garden)} if garden.roofs else {}
    if isinstance(chain.catch, Gap):
        is_needed = garden.roofs or not garden.greywaters
        names = ", ".join(f"“{source.name}”" for source in garden.sources)
        why = None if is_needed else say(*NOT_NEEDED, sources=names)
        return Shown(None, chain.catch, drawn, why)
    return Shown(chain.catch, None, drawn | {"chart": charts.catch_chart(chain, garden.units)})


def _greywater(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.planted:
        return Shown(None, NO_BED)
    if not garden.greywaters:
        return Shown(
            None, Gap(say("catch-no-greywater", "There is no greywater line yet: add one."))
        )
    try:
        lines = [greywater.answer_washing(garden, grey) for grey in garden.greywaters]
    except PlanError as error:
        return Shown(None, Gap.of(error))
    worst = worst_of([line.verdict for line in lines])
    drawn = [washday.draw(line, garden.units) for line in lines]
    rules = [(part, greywater_rule(garden, part)) for part in garden.planted]
    return Shown(SeveralAnswers(worst), None, {"lines": lines, "washdays": drawn, "rules": rules})


def _taps(request: Request, desk: Desk, at: str) -> Shown:
    garden = desk.revision.garden
    if not garden.taps:
        return Shown(
            None,
            Gap(
                say(
                    "catch-no-tap",
                    "There is no tap or well yet: add one, with bucket and stopwatch.",
                )
            ),
        )
    taps = [answer_tap(tap) for tap in garden.taps]
    costs: tuple[Figure, ...] = ()
    if not isinstance(desk.chain.season, Gap):
        costs = shares.answer_balance(desk.chain.season).figures
    return Shown(
        SeveralAnswers(worst_of([tap.verdict for tap in taps])),
        None,
        {"taps": taps, "costs": costs},
    )


ROOFS = StationPage(
    key="catch",
    station="catch",
    tab="Roofs",
    question="How much water can I catch, and from which roof?",
    show=_catch,
    form_keys=("roof", "downspout"),
    tells=Tells.ALL,
)

GREYWATER = StationPage(
    key="greywater",
    station="catch",
    tab="Greywater",
    question="What can the washing water do, and where may it go?",
    show=_greywater,
    form_keys=("greywater", "drum"),
    tells=Tells.ALL,
    about=lambda desk, at: [grey.id for grey in desk.revision.garden.greywaters],
)

TAPS = StationPage(
    key="taps",
    station="catch",
    tab="Tap and well",
    question="What does the tap or the well give?",
    show=_taps,
    form_keys=("tap",),
    tells=Tells.ALL,
    about=lambda desk, at: [tap.id for tap in desk.revision.garden.taps],
)
