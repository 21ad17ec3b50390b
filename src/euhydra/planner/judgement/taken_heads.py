"""One piece or pipe that takes most of the head there is."""

from euhydra.garden.part import Part
from euhydra.garden.pipes import Pipe
from euhydra.garden.sentences import Amount, say
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.judgement.losses import HeadLoss
from euhydra.planner.push.shortfalls import Shortfall
from euhydra.planner.water import laws
from euhydra.planner.water.zones import Zone


def is_line(part: Part) -> bool:
    """Whether it is a pipe with outlets, which takes head all along."""
    return isinstance(part, Pipe) and laws.kind_of(part).has_outlets


def takes_head(
    zone: Zone, loss: HeadLoss, *seen: Shortfall, severity: Severity | None = None
) -> Finding:
    """Of what head there is, one piece takes most."""
    noun = "piece" if not isinstance(loss.part, Pipe) else "pipe"
    return Finding.of(
        say(
            "push-piece-takes-head",
            "“{part}” takes {takes} of the {of} of head there is: water has too narrow a way through that {noun}.",
            part=loss.part.name,
            takes=Amount(loss.head, "head"),
            of=Amount(loss.of, "head"),
            noun=noun,
        ),
        loss.part.id,
        about=zone.id,
        symptoms=tuple(fault.reason for fault in seen),
        severity=severity,
    )
