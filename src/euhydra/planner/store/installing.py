"""Marks for setting up a barrel at its downspout, from heights that are already known."""

from dataclasses import dataclass

from euhydra.garden.beds import Bed
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.garden.stores import Store
from euhydra.planner.answers import Mark, Verdict

DIVERTER_BELOW_RIM = 0.05
"""Centre of the diverter's hole below the line of the barrel's rim. [m] Common practice: 50 mm."""

INLET_OVER_OVERFLOW = 0.03
"""Centre of the inlet above the centre of the overflow, so that nothing runs back. [m] Our
choice: a hose's width."""

LEAST_FALL = 0.01
"""Least fall from diverter to inlet. [m] Common practice: a hose that never holds water."""


@dataclass(frozen=True)
class Installation:
    """Heights, all over the barrel's base unless said otherwise. [m]

    diverter : Of the hole on the downspout; measured as `below_rim` from the rim's line.
    fall : From diverter to inlet.
    """

    store: Store
    rim: float
    inlet: float
    overflow: float
    tap: float
    below_rim: float
    verdict: Verdict
    steps: tuple[Sentence, ...]

    @property
    def diverter(self) -> float:
        """Hole on the downspout, over the barrel's base. [m]"""
        return self.rim - self.below_rim

    @property
    def fall(self) -> float:
        """From the diverter down to the inlet. [m]"""
        return self.diverter - self.inlet


def plan_installation(store: Store) -> Installation:
    """Where to mark, drill and level."""
    rim, overflow = store.top_m, store.height_m
    inlet = overflow + INLET_OVER_OVERFLOW
    diverter = rim - DIVERTER_BELOW_RIM
    heights = {
        "stand": Amount(store.stand_m, "tape"),
        "below": Amount(DIVERTER_BELOW_RIM, "tape"),
        "inlet": Amount(inlet, "tape"),
        "overflow": Amount(overflow, "tape"),
        "tap": Amount(store.outlet_height_m, "tape"),
        "fall": Amount(max(0.0, diverter - inlet), "tape"),
    }
    return Installation(
        store,
        rim,
        inlet,
        overflow,
        store.outlet_height_m,
        DIVERTER_BELOW_RIM,
        _verdict(store.noun, rim, inlet, diverter),
        _steps(store, heights),
    )


def stand_for_tap(store: Store, over_ground: float) -> Sentence:
    """The stand that brings the tap to a height over the ground. [m]"""
    stand = over_ground - store.outlet_height_m
    if stand < 0:
        return say(
            "store-tap-without-any",
            "The tap is already {tap} up without any stand.",
            tap=Amount(store.outlet_height_m, "tape"),
        )
    return say(
        "store-tap-above-ground",
        "For a tap {over} above the ground: a stand of {stand}.",
        over=Amount(over_ground, "tape"),
        stand=Amount(stand, "tape"),
    )


def stand_for_head(store: Store, bed: Bed, head: float) -> Sentence:
    """The stand with which the nearly empty store still has a head over the bed's outlets. [m]"""
    stand = bed.outlet_m + head - store.outlet_height_m - store.ground_m
    if stand <= 0:
        return say(
            "store-ground-alone-gives",
            "The ground alone gives more than {head}: no stand is needed for it.",
            head=Amount(head, "head"),
        )
    return say(
        "store-over-outlets-last",
        "For {head} over the outlets of “{bed}” to the last drop: a stand of {stand}.",
        bed=bed.name,
        head=Amount(head, "head"),
        stand=Amount(stand, "tape"),
    )


def _verdict(noun: str, rim: float, inlet: float, diverter: float) -> Verdict:
    if inlet > rim:
        return Verdict(
            Mark.FAILS,
            say(
                "store-room-inlet-between",
                "There is no room for an inlet between the overflow and the rim.",
            ),
            (
                say(
                    "store-drill-overflow-lower",
                    "Drill the overflow {lower} lower, and say so as the full water depth.",
                    lower=Amount(inlet + LEAST_FALL + DIVERTER_BELOW_RIM - rim, "tape"),
                ),
            ),
        )
    if diverter - inlet < LEAST_FALL:
        return Verdict(
            Mark.BUT,
            say(
                "store-hose-diverter-fall",
                "The hose from the diverter would not fall towards the {noun}.",
                noun=noun,
            ),
            (
                say(
                    "store-lead-through-lid",
                    "Lead it in through the lid, or drill the overflow {lower} lower.",
                    lower=Amount(inlet + LEAST_FALL - diverter, "tape"),
                ),
            ),
        )
    return Verdict(
        Mark.WORKS,
        say(
            "store-everything-falls-right",
            "Everything falls the right way: {fall} from diverter to inlet.",
            fall=Amount(diverter - inlet, "tape"),
        ),
    )


def _steps(store: Store, heights: dict[str, Amount]) -> tuple[Sentence, ...]:
    stand = (
        say(
            "store-dig-deep-firm",
            "Dig {sunk} deep, firm and level; only a store made for it goes into the ground.",
            sunk=Amount(store.sunk_m, "tape"),
        )
        if store.sunk_m > 0
        else say(
            "store-set-stand-high",
            "Set the stand, {stand} high, level both ways on ground that bears the full weight.",
            **heights,
        )
        if store.stand_m > 0
        else say(
            "store-make-ground-firm",
            "Make the ground firm and level both ways; the {noun} stands on it.",
            noun=store.noun,
        )
    )
    return (
        stand,
        say(
            "store-put-barrel-place",
            "Put the {noun} in its place, close to the downspout. Nothing is cut yet.",
            noun=store.noun,
        ),
        say(
            "store-lay-long-level",
            "Lay a long level on the rim and draw its line across to the downspout: line A.",
        ),
        say(
            "store-measure-down-line",
            "Measure {below} down from line A, in the middle of the downspout's width: hole B, for "
            "the diverter.",
            **heights,
        ),
        say(
            "store-barrel-measured-base",
            "On the {noun}, measured up from its base: tap at {tap}, overflow at {overflow}, inlet "
            "at {inlet}.",
            noun=store.noun,
            **heights,
        ),
        say(
            "store-wear-goggles-gloves",
            "Wear goggles and gloves: drilling throws chips and leaves sharp edges. File them.",
        ),
        say(
            "store-join-diverter-inlet",
            "Join diverter and inlet with the hose: it falls {fall}, with no sag that holds water.",
            **heights,
        ),
        say(
            "store-lead-overflow-away",
            "Lead the overflow away from walls before the first rain; screen inlet and overflow "
            "against mosquitoes.",
        ),
        say(
            "store-close-lid-fill",
            "Close the lid. Fill a hand's depth and look for drips before you fill it up.",
        ),
    )
