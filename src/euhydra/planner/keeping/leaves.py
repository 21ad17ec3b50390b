"""Leaves: they say that something is wrong; the finger says what."""

from dataclasses import dataclass

from euhydra.garden.logbook import LogEntry, entry_kinds
from euhydra.garden.sentences import Sentence, say

AT_NOON = "noon"
"""They droop at noon and stand up again by themselves."""


@dataclass(frozen=True)
class LeafSaid:
    """What is said of leaves, and why. Common practice."""

    summary: Sentence
    reason: Sentence


def in_muddy_soil(name: str) -> LeafSaid:
    """Roots drown."""
    return LeafSaid(
        say(
            "keeping-leaves-suffer-muddy",
            "The leaves of “{name}” suffer in muddy soil: roots without air. Give less.",
            name=name,
        ),
        say(
            "keeping-drooping-leaves-ask",
            "Drooping leaves ask for water only where the soil is dry.",
        ),
    )


def in_right_soil(name: str, word: str) -> LeafSaid:
    """Water is not what they lack."""
    if word == "yellow":
        return LeafSaid(
            say(
                "keeping-yellow-in-right-soil",
                "The water of “{name}” is right: leaves yellow from below are old, or hungry. Feed it; water no more.",
                name=name,
            ),
            say(
                "keeping-feed-is-washed-down",
                "Much water washes feed down past the roots: more of it would make it worse.",
            ),
        )
    if word == AT_NOON:
        return LeafSaid(
            say(
                "keeping-noon-in-right-soil",
                "The leaves of “{name}” droop in the heat of noon over soil that is right: leave it as it is.",
                name=name,
            ),
            say(
                "keeping-noon-passes",
                "At noon they lose more than any root can bring; they stand up again by the evening.",
            ),
        )
    return LeafSaid(
        say(
            "keeping-soil-right-heat",
            "The soil of “{name}” is right: heat, wind or salt marks its leaves. Shade it, and wait.",
            name=name,
        ),
        say(
            "keeping-leaves-stand-again",
            "Leaves that stand up again by the next morning need nothing.",
        ),
    )


def without_finger(name: str, leaf: LogEntry) -> LeafSaid:
    """Nothing is done before the soil was felt."""
    told = say(
        "keeping-what-finger-decides",
        "Dry a finger deep, it wants water; muddy, its roots lack air, and water makes it worse; right, it is heat or "
        "hunger.",
    )
    if leaf.word == AT_NOON:
        return LeafSaid(
            say(
                "keeping-look-in-the-evening",
                "The leaves of “{name}” droop at noon: look again in the evening. If they have not stood up by then, "
                "feel the soil.",
                name=name,
            ),
            told,
        )
    words = entry_kinds()["leaf"].words or {}
    return LeafSaid(
        say(
            "keeping-feel-the-soil-first",
            "The leaves of “{name}” are {word}: feel the soil first, a finger deep.",
            name=name,
            word=words[leaf.word],
        ),
        told,
    )
