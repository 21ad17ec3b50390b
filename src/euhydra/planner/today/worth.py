"""What mornings are worth in a garden: the newest years of its weather by Today, beside the card left alone."""

from collections.abc import Iterator
from dataclasses import dataclass

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.today.following import Follow, Followed, follow

YEARS = 3
"""Years that are followed, the newest. [a] Our choice: some seconds are waited for that."""

WAYS = (Follow.CARD, Follow.RULE, Follow.TODAY)
"""Ways to go, as they are compared."""

WORTH_A_WORD = 0.01
"""Share of the water under which nothing is saved worth a word. [-] Our choice."""


@dataclass(frozen=True)
class Worth:
    """The same years by three ways to go, or by those that are followed so far.

    by : In the order of `WAYS`.
    """

    by: tuple[Followed, ...]

    @property
    def next_way(self) -> Follow | None:
        """The way that is still to be followed; None when all are."""
        return next(iter(WAYS[len(self.by) :]), None)

    @property
    def said(self) -> Sentence:
        """What a year by Today spares of water, and of dry days, against the card."""
        card, today = self.of(Follow.CARD), self.of(Follow.TODAY)
        years = max(len(card.years), 1)
        dry = [sum(year.dry_days for year in each.years) / years for each in (card, today)]
        saved = card.litres - today.litres
        values: dict[str, Amount | int] = {
            "saved": Amount.litres(abs(saved)),
            "share": Amount(abs(saved) / max(card.litres, 1e-9), "share"),
            "card": round(dry[0]),
            "today": round(dry[1]),
        }
        if saved >= WORTH_A_WORD * card.litres:
            return say(
                "worth-saves",
                "Following Today would save {saved} a year ({share}); days too dry a year, summed over beds: {today}, not"
                " {card}.",
                **values,
            )
        if -saved >= WORTH_A_WORD * card.litres:
            return say(
                "worth-gives-more",
                "Following Today would give {saved} a year more ({share}); days too dry a year, summed over beds: {today},"
                " not {card}.",
                **values,
            )
        return say(
            "worth-gives-alike",
            "Following Today would give as much as the card; days too dry a year, summed over beds: {today}, not"
            " {card}.",
            **values,
        )

    def of(self, by: Follow) -> Followed:
        """One of them."""
        return next(each for each in self.by if each.by is by)


def following(chain: Chain) -> Iterator[Worth | Gap]:
    """Follow the newest years of the weather by card, rule and Today, without any forecast, one after another.

    Each time it is told how far that is; a gap is the last.
    """
    if chain.record is None:
        yield Gap(say("worth-no-weather", "There is no weather yet: say where the garden is."))
        return
    found: tuple[Followed, ...] = ()
    yield Worth(found)
    newest = chain.record.last_years(YEARS)
    own = chain if len(newest.days) == len(chain.record.days) else run_chain(chain.garden, newest)
    for by in WAYS:
        followed = follow(own, by)
        if isinstance(followed, Gap):
            yield followed
            return
        found = (*found, followed)
        yield Worth(found)
