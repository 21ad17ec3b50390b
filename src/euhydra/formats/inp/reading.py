"""A network from the text of an `.inp` file."""

from euhydra.core.network import Network
from euhydra.formats.inp.building import Building, InpFile
from euhydra.formats.inp.lines import NOT_KNOWN, File, lines_of, read_option
from euhydra.formats.inp.terms import InpError

MOST_BYTES = 20_000_000
"""Largest file taken. [bytes]"""


def loads(text: str) -> Network:
    """A network from the text of an `.inp` file, as it stands at the first hour.

    Raises
    ------
    InpError : naming the line, what is wrong there and what to do.
    """
    return read(text).network


def read(text: str) -> InpFile:
    """As `loads`, with what is left out because it acts later.

    Raises
    ------
    InpError : naming the line, what is wrong there and what to do.
    """
    if len(text) > MOST_BYTES:
        raise InpError(f"The file is larger than {MOST_BYTES // 1_000_000} MB.")
    file = File()
    for number, section, words in lines_of(text):
        if section in NOT_KNOWN:
            raise InpError(
                f"Line {number}: {NOT_KNOWN[section]} ([{section}]) are not known to this solver: "
                "remove them or solve this network elsewhere."
            )
        file.sections.setdefault(section, []).append((number, words))
    for number, words in file.rows("OPTIONS"):
        read_option(file, number, words)
    if file.units is None:
        raise InpError(
            "[OPTIONS] has no Units line: state the unit of flow, such as “Units LPM” or “Units GPM”."
        )
    return Building(file, file.units).build()
