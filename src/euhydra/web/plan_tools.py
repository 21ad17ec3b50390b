"""The tools that draw on the plan: what each asks for, and the part that it makes.

The page gets them as data; a tool for a new kind of part is one record here.
"""

from dataclasses import dataclass
from typing import Any, Literal

from euhydra.garden.model import Garden
from euhydra.garden.usual import drawn_fields

Makes = Literal["rectangle", "corners", "outline", "path", "place", ""]


@dataclass(frozen=True)
class PlanTool:
    """A tool.

    kind : Its name on the page.
    key : On the keyboard.
    noun : Of the parts that it makes, numbered.
    does : What the key does, in the list of keys.
    hint : What it asks for.
    makes : How its places become a part: two opposite corners, corners with their extent, an
        outline and nothing else, a line or one place; "" where it makes none.
    least, most : Places; none at the most where it has to be ended.
    outlines : Whether the first place again ends it.
    fields : Of the part that it makes, besides its places.
    """

    kind: str
    words: str
    key: str
    does: str
    hint: str
    makes: Makes
    least: int
    most: int | None = None
    outlines: bool = False
    collection: str = ""
    noun: str = ""
    fields: tuple[tuple[str, Any], ...] = ()

    def record(self, garden: Garden) -> dict[str, Any]:
        """As the page of this garden has it."""
        drawn = drawn_fields(self.collection, garden) if self.collection else {}
        return {
            "kind": self.kind,
            "words": self.words,
            "key": self.key,
            "does": self.does,
            "hint": self.hint,
            "makes": self.makes,
            "least": self.least,
            "most": self.most,
            "outlines": self.outlines,
            "collection": self.collection,
            "noun": self.noun,
            "fields": drawn | dict(self.fields),
        }


def _outline_hint(what: str) -> str:
    return f"{what} corners in order; the first corner again or F ends it."


TOOLS = (
    PlanTool(
        kind="bed",
        words="Bed",
        key="b",
        does="draw a bed",
        hint="Two opposite corners of the bed, or press, drag and let go.",
        makes="rectangle",
        least=2,
        most=2,
        collection="beds",
        noun="Bed",
    ),
    PlanTool(
        kind="corners",
        words="Odd bed",
        key="n",
        does="draw a bed of many corners",
        hint=_outline_hint("The bed's"),
        makes="corners",
        least=3,
        outlines=True,
        collection="beds",
        noun="Bed",
        fields=(("shape", "corners"),),
    ),
    PlanTool(
        kind="pots",
        words="Pots",
        key="o",
        does="set down pots",
        hint="Where the first pot stands.",
        makes="place",
        least=1,
        most=1,
        collection="pots",
        noun="Pots",
    ),
    PlanTool(
        kind="pipe",
        words="Pipe",
        key="w",
        does="draw a pipe",
        hint="From where water comes, bend by bend; the last place again or F ends it.",
        makes="path",
        least=2,
        collection="pipes",
        noun="Pipe",
        fields=(("kind", "hose-13"),),
    ),
    PlanTool(
        kind="terrace",
        words="Terrace",
        key="t",
        does="draw a terrace",
        hint=_outline_hint("The terrace's"),
        makes="outline",
        least=3,
        outlines=True,
        collection="patches",
        noun="Terrace",
        fields=(("kind", "terrace"),),
    ),
    PlanTool(
        kind="path",
        words="Path",
        key="h",
        does="draw a path",
        hint=_outline_hint("The path's"),
        makes="outline",
        least=3,
        outlines=True,
        collection="patches",
        noun="Path",
        fields=(("kind", "path"),),
    ),
    PlanTool(
        kind="spot",
        words="Height",
        key="e",
        does="mark a known height",
        hint="The place whose height you know.",
        makes="place",
        least=1,
        most=1,
        collection="spots",
        noun="Height",
        fields=(("ground_m", 0.0),),
    ),
    PlanTool(
        kind="measure",
        words="Measure",
        key="m",
        does="measure",
        hint="From place to place; F begins anew.",
        makes="",
        least=2,
    ),
    PlanTool(
        kind="piece",
        words="Set in",
        key="v",
        does="set a piece into a pipe",
        hint="The place on a pipe where the piece goes.",
        makes="",
        least=1,
        most=1,
    ),
)
"""In the order of the bar; the last stands beside its list of pieces."""


def tools_for(garden: Garden) -> list[dict[str, Any]]:
    """Every tool as the page has it."""
    return [tool.record(garden) for tool in TOOLS]
