"""Texts with quantities in them, filled in the units that a garden shows."""

import re
from collections.abc import Callable
from functools import lru_cache

from euhydra.garden import quantities
from euhydra.garden.quantities import QuantityError, System

PLACEHOLDER = re.compile(r"\{(~?)([^{}|]+)\|(\w+)\}|\{(\w+)\}")
"""A fixed quantity, metric as it is written; with a tilde it is a usual one, and round in other units
too. Or the name of a value."""


TEXTS_KEPT = 2048
"""Texts that are kept as they are told: labels and hints come again on every page."""


def fill(text: str, system: System, value: Callable[[str], str | None] | None = None) -> str:
    """A text with its quantities, such as `{30 cm|height}`, in the units of `system`.

    Parameters
    ----------
    value : What stands for the name of a value in braces; None where there is none so called.

    Examples
    --------
    >>> fill("Usual: {30 cm|height}; about {~30 cm|height}.", System.US)
    'Usual: 11.8 in; about 12 in.'
    """
    return _filled(text, system) if value is None else _fill(text, system, value)


@lru_cache(maxsize=TEXTS_KEPT)
def _filled(text: str, system: System) -> str:
    return _fill(text, system, lambda name: None)


def _fill(text: str, system: System, value: Callable[[str], str | None]) -> str:
    def shown(found: re.Match[str]) -> str:
        if found[4]:
            known = value(found[4])
            return found[0] if known is None else known
        try:
            number = quantities.parse(found[2], found[3], System.METRIC)
            if found[1] and system is not System.METRIC:
                number = quantities.rounded(number, found[3], system)
            return quantities.show(number, found[3], system)
        except (QuantityError, KeyError):
            return found[0]  # somebody's own words in braces

    return PLACEHOLDER.sub(shown, text)
