"""The shopping list: goods with waste, in packs, at the owner's prices, less what is there."""

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import ceil, floor

from euhydra.core.constants import METRES_PER_FOOT
from euhydra.garden.goods import Unit
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, Sentence, counted, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.parts import counting
from euhydra.planner.parts.uses import Good, Use

WASTE = {"pipes": 0.10, "stands": 0.10}
"""Share that is bought over what is counted, by group. Common practice: a tenth."""

SPARE = {"joints": 0.05, "fixing": 0.05}
"""As `WASTE`, of small things that get lost; whole ones, from ten on."""


GROUPS = {
    "stores": "Stores and what is fixed to them",
    "stands": "Stands",
    "gutters": "Gutters and downspouts",
    "heads": "Timers, pumps and pieces at the head",
    "pipes": "Pipe and line",
    "joints": "Joints",
    "outlets": "Drippers",
    "fixing": "Stakes and clips",
    "greywater": "Greywater",
    "planters": "Planters that water themselves",
    "ground": "Drainage",
    "labels": "Labels",
}
"""Groups of goods, in the order in which they are bought."""


@dataclass(frozen=True)
class Price:
    """How many one pack holds, of pipe and timber how long it is [m], and what the pack costs."""

    pack: float
    price: float


@dataclass(frozen=True)
class Item:
    """One line of the list.

    counted, wanted : As in the garden; with waste and spares.
    is_there : Whether the owner has it already.
    where : Ids of the parts that it is for.
    """

    good: Good
    counted: float
    wanted: float
    packs: int
    pack: Price
    is_own_price: bool
    is_there: bool
    where: tuple[str, ...]

    @property
    def amount(self) -> Amount:
        """What is wanted, for the page."""
        return Amount(self.wanted, "length" if self.good.unit is Unit.METRE else "plain")

    @property
    def holds(self) -> Amount:
        """What one pack holds, for the page."""
        return Amount(self.pack.pack, "pack_length" if self.good.unit is Unit.METRE else "plain")

    @property
    def cost(self) -> float:
        """Of the packs; nothing where it is there."""
        return 0.0 if self.is_there else self.packs * self.pack.price


@dataclass(frozen=True)
class ShoppingList:
    """Every line, group by group, and what does not go together."""

    items: tuple[Item, ...]
    faults: tuple[Sentence, ...]

    @property
    def total(self) -> float:
        """Of all that is not there yet."""
        return sum(item.cost for item in self.items)

    @cached_property
    def groups(self) -> list[tuple[str, list[Item]]]:
        """Lines by group, in the order of `GROUPS`."""
        found = [(said, [i for i in self.items if i.good.group == g]) for g, said in GROUPS.items()]
        return [(said, items) for said, items in found if items]

    @property
    def verdict(self) -> Verdict:
        """What it comes to, and what does not go together."""
        wanted = [item for item in self.items if not item.is_there]
        reasons = list(self.faults)
        guessed = sum(not item.is_own_price for item in wanted)
        if not wanted:
            return Verdict(
                _mark(self.faults), say("parts-everything", "Everything is there."), tuple(reasons)
            )
        if guessed:
            reasons.append(
                say(
                    "parts-prices-guesses-type",
                    "{guessed} of the prices are guesses: type what your shop asks, and they are remembered.",
                    guessed=guessed,
                )
            )
        summary = say(
            "parts-goods-buy-money",
            "{things} to buy, for about {total} in your own money.",
            things=counted(len(wanted), "thing"),
            # What is guessed is not told to the penny.
            total=Amount(self.total, "plain" if guessed else "money"),
        )
        return Verdict(_mark(self.faults), summary, tuple(reasons))

    @cached_property
    def tools(self) -> tuple[str, ...]:
        """What has to be at hand, by name."""
        needed = {tool for item in self.items for tool in item.good.tools}
        return tuple(words for tool, words in TOOLS.items() if tool in needed or tool == "always")


def _mark(faults: Sequence[Sentence]) -> Mark:
    return Mark.BUT if faults else Mark.WORKS


TOOLS = {
    "always": "measuring tape, spirit level, bucket, stopwatch",
    "cutter": "tube cutter or sharp secateurs",
    "punch": "hole punch for tube",
    "drill": "drill with wood and stone bits",
    "hole-saw": "hole saw, file, eye protection",
    "saw": "saw and square",
    "screwdriver": "screwdriver",
    "scissors": "tin snips or strong scissors",
    "ladder": "ladder, and somebody to hold it",
    "level": "long spirit level, hand tamper",
    "spade": "spade",
}


def make_list(
    garden: Garden, prices: Mapping[str, Price], there: Collection[str] = ()
) -> ShoppingList:
    """The list of a garden.

    Parameters
    ----------
    prices : The owner's, by key of the good.
    there : Keys of what the owner has already.
    """
    return ShoppingList(
        tuple(items_of(counting.uses_of(garden), prices, garden.units, there)),
        tuple(counting.faults(garden)),
    )


def items_of(
    uses: Iterable[Use], prices: Mapping[str, Price], units: System, there: Collection[str] = ()
) -> list[Item]:
    """Uses added up, with waste, in packs; of those without a price, in packs as `units` has them."""
    found: dict[str, list[Use]] = defaultdict(list)
    for use in uses:
        found[use.good.key].append(use)
    items = [_item(same, prices, units, there) for same in found.values()]
    return sorted(items, key=lambda item: item.good.key)


def _item(
    same: Sequence[Use], prices: Mapping[str, Price], units: System, there: Collection[str]
) -> Item:
    good = same[0].good
    counted = sum(use.amount for use in same)
    wanted = _with_waste(good, counted)
    own = prices.get(good.key)
    pack = own or _guess(good, units)
    packs = ceil(wanted / pack.pack - 1e-9)
    where = tuple(dict.fromkeys(use.where for use in same))
    return Item(good, counted, wanted, packs, pack, own is not None, good.key in there, where)


def _guess(good: Good, units: System) -> Price:
    """A pack as shops have it: where feet are sold, of whole feet."""
    holds = good.pack
    if good.unit is Unit.METRE and units is System.US:
        holds = (1 if holds == 1 else round(holds / METRES_PER_FOOT)) * METRES_PER_FOOT
    return Price(holds, round(holds * good.price, 2))


def _with_waste(good: Good, counted: float) -> float:
    wasted = counted * (1 + WASTE.get(good.group, 0.0))
    if good.unit is Unit.EACH:
        return ceil(counted) + floor(counted * SPARE.get(good.group, 0.0) + 0.5)
    return wasted
