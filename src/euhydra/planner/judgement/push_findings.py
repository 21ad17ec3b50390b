"""What keeps the water from being pushed through the lines: which piece, height or pump."""

from collections.abc import Iterator

from euhydra.garden import catalogue, plumbing
from euhydra.garden.part import Part
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, Sentence, Value, say
from euhydra.garden.sources import Tap
from euhydra.planner.answers import Gap, Mark, PlanError
from euhydra.planner.catch import taps
from euhydra.planner.chain import Chain
from euhydra.planner.judgement import losses
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.judgement.taken_heads import is_line, takes_head
from euhydra.planner.judgement.uneven_findings import uneven
from euhydra.planner.push import drives, shortfalls
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.push.shortfalls import Shortfall
from euhydra.planner.water import solving
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

THROTTLED = 20.0
"""Loss number of a pipe from which on somebody has throttled it. [-] Two bends are about 2."""


def push_findings(chain: Chain) -> Iterator[Finding]:
    """Of every zone."""
    for each in chain.zones:
        if isinstance(each.push, Gap):
            yield Finding.of(
                say(
                    "push-cannot-be-solved",
                    "“{zone}”: {why}",
                    zone=each.zone.name,
                    why=each.push.sentence,
                ),
                *_first_parts(each.zone),
                about=each.zone.id,
            )
        else:
            yield from _of_zone(each.push)


def _first_parts(zone: Zone) -> tuple[str, ...]:
    return (zone.way.parts[0].id, zone.source.id) if zone.way.parts else (zone.source.id,)


def _of_zone(push: PushAnswer) -> Iterator[Finding]:
    zone = push.zone
    for pump in zone.pumps:
        cannot_suck = drives.suction_fault(zone, pump)
        if cannot_suck is not None:
            yield Finding.of(cannot_suck, pump.id, about=zone.id)
    fatal = [fault for fault in push.faults if fault.is_fatal]
    for fault in fatal:
        yield _cause_of(push, fault)
    for sentence in push.air:
        yield Finding.of(sentence, *_named(zone, sentence), about=zone.id)
    for found in push.chains:
        verdict = found.verdict
        if verdict.mark is not Mark.WORKS:
            grave = Severity.CANNOT_WORK if verdict.mark is Mark.FAILS else Severity.BETTER
            cause = verdict.summary if verdict.mark is Mark.FAILS else verdict.reasons[0]
            yield Finding.of(
                cause, found.pots.id, about=zone.id, severity=grave, symptoms=verdict.reasons
            )
    if not fatal:
        yield from _starved(push)
        for fault in push.faults:
            yield Finding.of(
                _only_near_empty(zone, fault),
                zone.source.id,
                about=zone.id,
                symptoms=(fault.reason,),
            )


def _only_near_empty(zone: Zone, fault: Shortfall) -> Sentence:
    if fault.cause == "evenness":
        return say(
            "push-uneven-near-empty",
            "“{zone}” works until the {noun} is nearly empty; then outlets share unevenly.",
            zone=zone.name,
            noun=zone.noun,
        )
    return say(
        "push-fails-near-empty",
        "“{zone}” works until the {noun} is nearly empty; the last of it does not come.",
        zone=zone.name,
        noun=zone.noun,
    )


def _named(zone: Zone, sentence: Sentence) -> tuple[str, ...]:
    """The pipe that a sentence names."""
    name = sentence.values.get("pipe")
    return tuple(pipe.id for pipe in zone.pipes if pipe.name == name)[:1] or (zone.source.id,)


def _cause_of(push: PushAnswer, fault: Shortfall) -> Finding:
    """The finding behind what is seen: what takes the head, or is wanting."""
    zone = push.zone
    share = fault.share
    if fault.cause == "valve":
        return _valve(zone, share, fault)
    if fault.cause == shortfalls.PRESSURE:
        return _too_much(push, fault)
    state = _solved(zone, share)
    if fault.cause == "height" and (state is None or zone.head_at(share) <= 0):
        return _too_low(zone, share, fault)
    if state is None:
        return Finding.of(fault.reason, zone.source.id, about=zone.id)
    if fault.cause == "height":
        return _nothing_comes(zone, state, fault)
    if fault.cause == "tap":
        return _takes_too_much(zone, state, fault)
    if fault.cause == "time":
        return _too_slow(push, state, fault)
    return uneven(zone, state)


def _solved(zone: Zone, share: float) -> ZoneState | None:
    try:
        return solving.solve_zone(zone, share)
    except PlanError:
        return None


def _valve(zone: Zone, share: float, fault: Shortfall) -> Finding:
    assert zone.timer is not None
    assert zone.head is not None
    return Finding.of(
        say(
            "push-valve-does-not-open",
            "“{timer}” does not open: its valve needs {least} of head and has {head} with the {noun} {level}.",
            timer=zone.head.name,
            least=Amount(zone.timer.least_opening_head_m, "head"),
            head=Amount(zone.head_at_valve(share), "head"),
            noun=zone.noun,
            level=_level_name(zone, share),
        ),
        zone.head.id,
        about=zone.id,
        also=("time",),
    )


def _level_name(zone: Zone, share: float) -> str:
    return next(name for name, level in zone.levels.items() if level == share)


def _too_much(push: PushAnswer, fault: Shortfall) -> Finding:
    """Which piece is wanting, or too strong."""
    zone = push.zone
    pipe = fault.pipe
    assert pipe is not None
    has_regulator = any(
        isinstance(piece, Fitting)
        and catalogue.find(plumbing.fitting_kinds(), piece.kind).setting_m > 0
        for piece in zone.pieces
    )
    values: dict[str, Value] = {
        "pipe": pipe.name,
        "head": fault.reason.values["head"],
        "most": fault.reason.values["most"],
    }
    if zone.pumps:
        return Finding.of(
            say(
                "push-pump-bursts-line",
                "“{pump}” is too strong for the lines: “{pipe}” gets {head} of head and bears {most}, so joints let go.",
                pump=zone.pumps[0].name,
                **values,
            ),
            zone.pumps[0].id,
            pipe.id,
            about=zone.id,
        )
    if isinstance(zone.source, Tap) and not has_regulator:
        return Finding.of(
            say(
                "push-no-regulator",
                "No pressure regulator between “{tap}” and the lines: “{pipe}” gets {head} of head and bears {most}.",
                tap=zone.source.name,
                **values,
            ),
            zone.source.id,
            pipe.id,
            about=zone.id,
        )
    return Finding.of(
        say(
            "push-line-bursts",
            "“{pipe}” gets {head} of head and bears {most}: joints let go and outlets spray.",
            **values,
        ),
        pipe.id,
        about=zone.id,
    )


def _too_low(zone: Zone, share: float, fault: Shortfall) -> Finding:
    """The water stands under the outlets."""
    if zone.pumps:
        return Finding.of(
            say(
                "push-pump-too-weak",
                "“{pump}” does not lift the water to the outlets of “{zone}”: nothing comes out.",
                pump=zone.pumps[0].name,
                zone=zone.name,
            ),
            zone.pumps[0].id,
            about=zone.id,
            also=("time",),
        )
    return Finding.of(
        say(
            "push-water-too-low",
            "With the {noun} {level} the water stands {below} below the highest outlet of “{zone}”: it cannot run up there.",
            noun=zone.noun,
            level=_level_name(zone, share),
            below=Amount(max(-zone.head_at(share), 0.0), "height"),
            zone=zone.name,
        ),
        zone.source.id,
        about=zone.id,
        also=("time",),
    )


def _nothing_comes(zone: Zone, state: ZoneState, fault: Shortfall) -> Finding:
    """There is height, and yet nothing flows: outlets that open late, or a pump that cannot."""
    if zone.pumps:
        return _too_low(zone, state.share, fault)
    opens = max(zone.outlets, key=lambda outlet: outlet.law.opens_m)
    there = zone.surface_at(state.share) - opens.height
    if opens.law.opens_m > 0 and there < opens.law.full_m:
        return Finding.of(
            say(
                "push-outlets-do-not-open",
                "The outlets of “{pipe}” open at {opens} of head, and there are {head}: nothing comes out.",
                pipe=opens.pipe.name,
                opens=Amount(opens.law.opens_m, "head"),
                head=Amount(there, "head"),
            ),
            opens.pipe.id,
            about=zone.id,
            also=("time",),
        )
    loss = losses.greatest(state)
    if loss is None:
        return _too_low(zone, state.share, fault)
    return takes_head(zone, loss, fault, severity=Severity.CANNOT_WORK)


def _takes_too_much(zone: Zone, state: ZoneState, fault: Shortfall) -> Finding:
    tap = zone.source
    assert isinstance(tap, Tap)
    return Finding.of(
        say(
            "push-tap-too-weak",
            "“{zone}” asks {flow} of “{tap}”, which gives {usable} to one zone: water fewer outlets at a time, one bed"
            " after another.",
            zone=zone.name,
            flow=Amount(state.flow, "flow"),
            tap=tap.name,
            usable=Amount(taps.usable_flow(tap), "flow"),
        ),
        tap.id,
        about=zone.id,
    )


def _too_slow(push: PushAnswer, state: ZoneState, fault: Shortfall) -> Finding:
    """The day's water does not come in the time: a piece that takes the head, or too few outlets, or hours."""
    zone = push.zone
    loss = losses.greatest(state)
    if loss is not None and loss.share >= losses.TAKES_MOST and not is_line(loss.part):
        return takes_head(zone, loss, fault)
    assert push.duty is not None
    return Finding.of(
        say(
            "push-too-slow",
            "“{zone}” needs {hours} for the {litres} of a day in the hardest month; you allow {window}.",
            zone=zone.name,
            hours=Amount.hours(shortfalls.hours_for(zone, push.duty)),
            litres=Amount(push.duty.need_m3, "volume"),
            window=Amount(zone.window_s, "hours"),
        ),
        zone.head.id if zone.head else zone.source.id,
        about=zone.id,
    )


def _starved(push: PushAnswer) -> Iterator[Finding]:
    """It does for now, but one piece takes nearly all the head."""
    zone, state = push.zone, push.usual.state
    if zone.keeps_level or state.flow <= 0:
        return
    loss = losses.greatest(state)
    if loss is None or _is_throttled(loss.part):
        return
    if loss.share >= losses.TAKES_MOST and not is_line(loss.part):
        grave = loss.share >= losses.TAKES_ALL
        yield takes_head(zone, loss, severity=None if grave else Severity.BETTER)


def _is_throttled(part: Part) -> bool:
    """Whether it takes head because somebody throttles it there."""
    if isinstance(part, Pipe):
        return part.fittings_loss > THROTTLED
    return isinstance(part, Fitting) and part.role is FittingRole.THROTTLES
