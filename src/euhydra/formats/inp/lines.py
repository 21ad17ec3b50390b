"""Lines of an `.inp` file by section, its options, and how a word becomes a number."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import numpy as np

from euhydra.core.network import HeadLossLaw, NetworkError
from euhydra.formats.inp.at_start import Rows
from euhydra.formats.inp.terms import ENGINE_VISCOSITY, SI_FLOWS, US_FLOWS, InpError, Units

NO_BEARING = {
    "TITLE",
    "COORDINATES",
    "VERTICES",
    "LABELS",
    "TAGS",
    "BACKDROP",
    "REPORT",
    "ENERGY",
    "QUALITY",
    "REACTIONS",
    "SOURCES",
    "MIXING",
}
"""Sections without bearing on a flow."""

OVER_TIME = {
    "PATTERNS": "patterns after their first value",
    "CONTROLS": "controls that act later",
    "RULES": "rules",
}
"""Sections about what changes in the course of time, and what of them is left out."""

NOT_KNOWN = {"LEAKAGE": "leakage"}
"""Sections that would change the flow and that the solver does not know."""

OPTIONS_WITHOUT_BEARING = {
    "TRIALS",
    "ACCURACY",
    "UNBALANCED",
    "QUALITY",
    "DIFFUSIVITY",
    "TOLERANCE",
    "MAP",
    "CHECKFREQ",
    "MAXCHECK",
    "DAMPLIMIT",
    "HEADERROR",
    "FLOWCHANGE",
    "SPECIFIC",
    "HYDRAULICS",
    "PRESSURE",
    "MINIMUM",
    "REQUIRED",
}
"""Options that steer the engine's own search, its reports or water quality."""

KNOWN = {
    "JUNCTIONS",
    "RESERVOIRS",
    "TANKS",
    "PIPES",
    "PUMPS",
    "VALVES",
    "CURVES",
    "EMITTERS",
    "DEMANDS",
    "STATUS",
    "TIMES",
    "OPTIONS",
}

DEFAULT_PATTERN = "1"
"""Pattern of a demand that names none, unless the options name another."""


@dataclass
class File:
    """What has been read so far, in the file's own units."""

    sections: dict[str, Rows] = field(default_factory=dict)
    units: Units | None = None
    law: HeadLossLaw | None = None
    viscosity: float = ENGINE_VISCOSITY
    emitter_exponent: float = 0.5
    demand_multiplier: float = 1.0
    pattern: str = DEFAULT_PATTERN

    def rows(self, section: str) -> Rows:
        """Its lines, with their numbers."""
        return self.sections.get(section, [])


def lines_of(text: str) -> Iterator[tuple[int, str, list[str]]]:
    """Each line that says something: its number, its section, its words.

    Raises
    ------
    InpError : naming a line that stands in no section that is known.
    """
    section = ""
    for number, line in enumerate(text.splitlines(), 1):
        if "\0" in line:
            raise InpError(f"Line {number}: this is not a text file.")
        words = line.split(";", 1)[0].split()
        if not words:
            continue
        if words[0].startswith("["):
            section = words[0].strip("[]").upper()
            if section == "END":
                return
            if section not in KNOWN | NO_BEARING | NOT_KNOWN.keys() | OVER_TIME.keys():
                raise InpError(f"Line {number}: section [{section}] is not known.")
        elif not section:
            raise InpError(f"Line {number}: “{words[0]}” stands before the first [SECTION].")
        elif section not in NO_BEARING:
            yield number, section, words


def read_option(file: File, number: int, words: list[str]) -> None:
    """Take one line of the options."""
    name, value = (
        words[0].upper(),
        word(number, words, -1 if len(words) > 1 else 1, "value").upper(),
    )
    if name == "UNITS":
        if value not in SI_FLOWS | US_FLOWS:
            known = ", ".join(SI_FLOWS | US_FLOWS)
            raise InpError(f"Line {number}: flow unit {value} is not known: use one of {known}.")
        file.units = Units.of(value)
    elif name == "HEADLOSS":
        if value not in set(HeadLossLaw):
            raise InpError(f"Line {number}: head loss law {value} is not known: use D-W or H-W.")
        file.law = HeadLossLaw(value)
    elif name == "PATTERN":
        file.pattern = words[-1]
    elif name == "VISCOSITY":
        viscosity = number_of(number, value, "viscosity", above=0)
        # Small numbers are absolute, in m²/s; others multiply the engine's own.
        file.viscosity = viscosity if viscosity < 1e-3 else viscosity * ENGINE_VISCOSITY
    elif name == "EMITTER" and words[1].upper() == "EXPONENT":
        file.emitter_exponent = number_of(number, value, "emitter exponent", above=0)
    elif name == "EMITTER" and words[1].upper() == "BACKFLOW":
        pass  # ours never flow back; see the module's text
    elif name == "DEMAND" and words[1].upper() == "MULTIPLIER":
        file.demand_multiplier = number_of(number, value, "demand multiplier")
    elif name == "DEMAND" and words[1].upper() == "MODEL":
        if value != "DDA":
            raise InpError(f"Line {number}: demand model {value} is not known: use DDA.")
    elif name not in OPTIONS_WITHOUT_BEARING:
        raise InpError(f"Line {number}: option “{' '.join(words)}” is not known.")


@contextmanager
def at_line(number: int) -> Iterator[None]:
    """What the network has against a line, with its number."""
    try:
        yield
    except NetworkError as error:
        raise InpError(f"Line {number}: {error}") from None


def word(number: int, words: list[str], place: int, what: str) -> str:
    """A word of a line; refused where there is none."""
    if len(words) <= place:
        raise InpError(f"Line {number}: {what} is missing for {words[0]}.")
    return words[place]


def number_of(
    number: int, text: str, what: str, above: float = -np.inf, least: float = -np.inf
) -> float:
    """A number within its limits; refused where it is none."""
    try:
        value = float(text)
    except ValueError:
        raise InpError(f"Line {number}: {what} “{text}” is not a number.") from None
    if not np.isfinite(value) or value <= above or value < least:
        limit = f"more than {above:g}" if above > -np.inf else f"at least {least:g}"
        raise InpError(f"Line {number}: {what} {text} will not do: it has to be {limit}.")
    return value
