"""What mornings are worth in a garden: the newest years of its weather by Today, beside the card left alone."""

from dataclasses import dataclass

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Gap
from euhydra.planner.chain import Chain, run_chain
from euhydra.planner.today.following import Follow, Followed, follow

YEARS = 3
"""Years that are followed, the newest. [a] Our choice: some seconds are waited for that."""

WORTH_A_WORD = 0.01
"""Share of the water under which nothing is saved worth a word. [-] Our choice."""


@dataclass(frozen=True)
class Worth:
    """The same years by three ways to go.

    by : In the order in which they are shown.
    """

    by: tuple[Followed, ...]

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
                "Following Today would save {saved} a year ({share}); days too dry a year, summed over beds: {today} in"
                " place of {card}.",
                **values,
            )
        if -saved >= WORTH_A_WORD * card.litres:
            return say(
                "worth-gives-more",
                "Following Today would give {saved} a year more ({share}); days too dry a year, summed over beds: {today}"
                " in place of {card}.",
                **values,
            )
        return say(
            "worth-gives-alike",
            "Following Today would give as much as the card; days too dry a year, summed over beds: {today} in place of"
            " {card}.",
            **values,
        )

    def of(self, by: Follow) -> Followed:
        """One of them."""
        return next(each for each in self.by if each.by is by)


def worth_of(chain: Chain) -> Worth | Gap:
    """Follow the newest years of the weather by card, rule and Today, without any forecast."""
    if chain.record is None:
        return Gap(say("worth-no-weather", "There is no weather yet: say where the garden is."))
    newest = chain.record.last_years(YEARS)
    own = chain if len(newest.days) == len(chain.record.days) else run_chain(chain.garden, newest)
    found = []
    for by in (Follow.CARD, Follow.RULE, Follow.TODAY):
        followed = follow(own, by)
        if isinstance(followed, Gap):
            return followed
        found.append(followed)
    return Worth(tuple(found))
