"""How much feed a volume of water takes."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Dose:
    """What to measure out.

    concentrate : Into the vessel that is filled. [m³]
    stock_water : Water to fill that vessel up with; 0 where it goes straight in. [m³]
    """

    concentrate: float
    stock_water: float


def into_water(volume: float, strength: float) -> Dose:
    """Concentrate for a barrel, a reserve or a can.

    Parameters
    ----------
    volume : Water that is there. [m³]
    strength : Concentrate by water, such as 0.005 for 5 mL a litre. [-]

    Examples
    --------
    >>> round(into_water(0.2, 0.005).concentrate, 6)
    0.001
    """
    return Dose(volume * strength, 0.0)


def by_injector(volume: float, strength: float, ratio: float) -> Dose:
    """Stock for an injector that adds one part to `ratio` parts of water.

    Parameters
    ----------
    volume : Water that shall run through, with feed in it. [m³]
    strength : Concentrate in that water. [-]
    ratio : Parts of water to one of stock, such as 100. [-]

    Raises
    ------
    ValueError : where the stock would have to be stronger than the concentrate itself.

    Examples
    --------
    >>> d = by_injector(0.1, 0.002, 100)
    >>> round(d.concentrate, 7), round(d.stock_water, 7)
    (0.0002, 0.0008)
    """
    stock = volume / ratio
    concentrate = volume * strength
    if concentrate > stock:
        raise ValueError("The stock would have to be stronger than the concentrate.")
    return Dose(concentrate, stock - concentrate)
