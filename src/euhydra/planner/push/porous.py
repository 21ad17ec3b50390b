"""Porous hose at little head: what is known of how it seeps, and what is not."""

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.water import laws
from euhydra.planner.water.zones import Zone

LITTLE_HEAD = 2.0
"""Head under which nobody tells how a porous hose seeps. [m] Common practice: makers tell it from half a
bar on."""


def at_little_head(zone: Zone) -> tuple[Sentence, ...]:
    """Of the first porous hose of a zone that works at so little head; none where there is none."""
    hoses = [pipe for pipe in zone.pipes if laws.kind_of(pipe).family == "porous"]
    head = zone.head_at(1.0)
    if not hoses or head >= LITTLE_HEAD:
        return ()
    kind = laws.kind_of(hoses[0])
    return (
        say(
            "push-porous-at-little-head",
            "“{pipe}” seeps at {head} as its kind is told at {told}, in proportion to the head and not at all under "
            "{opens}: nobody measures that for hoses on barrels, new ones give twice what old ones do, and the far "
            "end dries first. Lay it out, let it run an hour, and catch what it gives.",
            pipe=hoses[0].name,
            head=Amount(head, "head"),
            told=Amount(kind.outlet.at_head_m, "head"),
            opens=Amount(kind.outlet.opens_m, "head"),
        ),
    )
