"""Settings told as a card, and a card followed."""

from dataclasses import replace
from typing import Any

from euhydra.core.schedule import Position
from euhydra.formats.card_json import (
    Card,
    CardHeat,
    CardMonth,
    CardPause,
    CardSetting,
    CardZone,
)
from euhydra.planner.chain import Chain
from euhydra.planner.season.replay import Season
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import HeatRule, Programme


def card_of(chain: Chain) -> Card:
    """What Time would have the owner set on every timer that runs."""
    return Card(zones=[_zone(zone.running) for zone in chain.zones if zone.running])


def _zone(answer: TimeAnswer) -> CardZone:
    plan = answer.programme
    return CardZone(
        id=answer.zone.id,
        months=[
            CardMonth(month=number, off=position is None, **_setting(position))
            for number, position in enumerate(plan.months, 1)
        ],
        new_plants=CardSetting(**_setting(plan.new)) if plan.new else None,
        heat=[
            CardHeat(month=number, from_et0_mm=rule.from_et0, **_setting(rule.position))
            for number, rule in enumerate(plan.heat, 1)
            if rule is not None
        ],
        rain_pause=[CardPause(days=days, from_mm=rain) for days, rain in plan.rain_plan],
        drinks_mm=list(plan.drinks),
        dry_share=answer.promised,
    )


def _setting(position: Position | None) -> dict[str, Any]:
    if position is None:
        return {}
    when = (
        {"weekdays": list(position.weekdays)}
        if position.weekdays
        else {"every_days": position.interval_days}
    )
    return {"run_min": position.run_minutes, "starts": position.starts, **when}


def programmes_of(card: Card, chain: Chain) -> dict[str, Programme]:
    """The card's settings on the timers of a garden, by the id of the zone.

    Raises
    ------
    KeyError : if a zone of the card is none of the garden's.
    """
    running = {zone.zone.id: zone.running for zone in chain.zones if zone.running}
    found: dict[str, Programme] = {}
    for zone in card.zones:
        answer = running[zone.id]
        months = {month.month: month for month in zone.months}
        rules = {rule.month: _heat_rule(rule, months.get(rule.month)) for rule in zone.heat}
        plan = Programme(
            answer.timer,
            tuple(_position(months.get(number)) for number in range(1, 13)),
            _position(zone.new_plants),
            tuple(zone.drinks_mm) or answer.programme.drinks,
            tuple(sorted(pause.days for pause in zone.rain_pause)),
            tuple(rules.get(number) for number in range(1, 13)),
        )
        found[zone.id] = plan
    return found


def _heat_rule(rule: CardHeat, month: CardMonth | None) -> HeatRule:
    """Where it does not say how often, as often as in its month."""
    usual = _position(month) or Position(rule.run_min, 1.0)
    position = (
        replace(usual, run_minutes=rule.run_min)
        if rule.every_days is None and not rule.weekdays
        else Position(rule.run_min, rule.every_days or 1.0, rule.starts, tuple(rule.weekdays))
    )
    return HeatRule(rule.from_et0_mm, position)


def _position(setting: CardSetting | None) -> Position | None:
    is_off = setting is None or (isinstance(setting, CardMonth) and setting.off)
    if setting is None or is_off or setting.run_min <= 0:
        return None
    return Position(
        setting.run_min, setting.every_days or 1.0, setting.starts, tuple(setting.weekdays)
    )


def beds_of(season: Season) -> list[dict[str, Any]]:
    """How each bed fared: days too dry, water given, drained, missed."""
    found = []
    for place, (way, run) in enumerate(zip(season.ways, season.beds, strict=True)):
        need = way.need
        wanted = float(need.crop_et[need.is_growing].sum())
        found.append(
            {
                "id": need.part.id,
                "days_in_season": int(need.is_growing.sum()),
                "days_too_dry": int(run.is_stressed.sum()),
                "given_l": float(season.run.supplied(place).sum()),
                "drained_l": float(run.drained.sum()) * need.area_m2,
                "missed_share": 1 - float(run.transpired.sum()) / wanted if wanted > 0 else 0.0,
            }
        )
    return found
