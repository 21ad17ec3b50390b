"""Ground that takes the overflow: a patch it spreads over, or a rain garden."""


def soaks_in(area: float, intake: float, seconds: float) -> float:
    """Water that a patch of wet ground takes in a time. [m³]

    Parameters
    ----------
    area : That the water spreads over. [m²]
    intake : Steady intake rate of the soil. [m s⁻¹]
    seconds : [s]
    """
    return area * intake * seconds


def rain_garden_area(volume: float, ponding: float, intake: float, seconds: float) -> float:
    """Area of a hollow that holds and soaks a spill. [m²]

        A = V / (h + i t)

    Parameters
    ----------
    volume : Spill of the storm V. [m³]
    ponding : Depth of the hollow h. [m]
    intake : Steady intake rate of the soil i. [m s⁻¹]
    seconds : Length of the storm t, in which it soaks already. [s]

    Examples
    --------
    >>> round(rain_garden_area(1.5, 0.15, 10e-3 / 3600, 3600), 2)
    9.38
    """
    return volume / (ponding + intake * seconds)


def soak_time(depth: float, intake: float) -> float:
    """Time until standing water has soaked away. [s]

    Parameters
    ----------
    depth : [m]
    intake : Steady intake rate of the soil. [m s⁻¹]
    """
    return depth / intake
