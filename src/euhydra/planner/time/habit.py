"""The settings beside what gardeners usually set, and why they differ where they do."""

from euhydra.core.schedule import Position
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES, how_often
from euhydra.planner.time.answer import MonthSetting, TimeAnswer
from euhydra.planner.time.design import BedShare

SPRING_DAYS, SUMMER_DAYS = 3.0, 2.0
"""From one watering of a bed to the next. [d] Common practice: every third day in spring, every second
in summer."""

BED_MINUTES = 45.0
"""Of a run on a bed. [min] Common practice: 45 minutes, an hour in heat."""

POT_MINUTES = 15.0
"""Of the daily run on pots. [min] Common practice: 10 to 15 minutes."""

SAME_DAYS, SAME_MINUTES = 0.6, 0.25
"""How far from the habit counts as the same. [d], and as a share of the run. [-] Our choice."""


def beside_habit(answer: TimeAnswer) -> tuple[Sentence, ...]:
    """Of the first month of the season that has a setting, and of the thirstiest; none without any."""
    told = [m for m in answer.months if m.choice and m.need and not m.choice.is_carried]
    if not told:
        return ()
    summer = max(told, key=lambda m: m.need_l_day)
    spring = told[0]
    pots = any(bed.need.part.container is not None for bed in answer.beds)
    if pots:
        return _month(answer, summer, 1.0, POT_MINUTES)
    first = () if spring is summer else _month(answer, spring, SPRING_DAYS, BED_MINUTES)
    return (*first, *_month(answer, summer, SUMMER_DAYS, BED_MINUTES))


def _month(
    answer: TimeAnswer, month: MonthSetting, days: float, minutes: float
) -> tuple[Sentence, ...]:
    setting = month.setting
    assert setting is not None
    own, bed = setting.position, max(answer.beds, key=lambda b: b.need.area_m2)
    return (_interval(month.month, own, bed, days), *_run(answer, month.month, own, bed, minutes))


def _interval(month: int, own: Position, bed: BedShare, days: float) -> Sentence:
    need = bed.need
    drinks, ready = float(need.crop_et_a_day[month - 1]), float(need.ready_by_month[month - 1])
    amounts = {
        "lasts": Amount.days(round(ready / drinks, 1) if drinks > 0 else 0.0),
        "wetted": Amount(need.wetted, "share"),
    }
    names = {
        "month": MONTH_NAMES[month - 1],
        "rule": how_often(Position(1.0, days)),
        "own": how_often(own),
    }
    every = own.mean_days / (own.runs_a_day if own.mean_days <= 1 else 1)
    if abs(every - days) <= SAME_DAYS:
        return say("time-habit-same", "In {month} {own}, as most gardeners do.", **names)
    if every > days:
        return say(
            "time-habit-seldomer",
            "In {month} most gardeners water {rule}, here it is {own}: what roots reach easily lasts {lasts} "
            "without rain.",
            **names,
            **amounts,
        )
    return say(
        "time-habit-oftener",
        "In {month} most gardeners water {rule}, here it is {own}: what roots reach easily in the {wetted} of the "
        "ground that is wetted lasts {lasts}.",
        **names,
        **amounts,
    )


def _run(
    answer: TimeAnswer, month: int, own: Position, bed: BedShare, minutes: float
) -> tuple[Sentence, ...]:
    if abs(own.run_minutes / minutes - 1) <= SAME_MINUTES:
        return ()
    drinks = float(bed.need.crop_et_a_day[month - 1]) * own.mean_days / own.runs_a_day
    brings = answer.design.litres(minutes, month) * bed.depth_per_litre
    return (
        say(
            "time-habit-minutes",
            "They run it for {rule}, which on this line would bring {brings} where {drinks} are drunk from one run "
            "to the next.",
            rule=Amount.minutes(minutes),
            brings=Amount.millimetres(brings),
            drinks=Amount.millimetres(drinks),
        ),
    )
