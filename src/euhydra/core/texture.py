"""Soil texture from a jar test: what settles first is sand, then silt, then clay."""

CLASSES = (
    "sand",
    "loamy-sand",
    "sandy-loam",
    "loam",
    "silt-loam",
    "silt",
    "sandy-clay-loam",
    "clay-loam",
    "silty-clay-loam",
    "sandy-clay",
    "silty-clay",
    "clay",
)


def texture_class(sand: float, silt: float, clay: float) -> str:
    """Texture class of a soil by the shares of its grains.

    Parameters
    ----------
    sand, silt, clay : Amounts in any one unit, such as heights of the layers in a jar. [m]

    Returns
    -------
    One of `CLASSES`.

    Raises
    ------
    ValueError : if an amount is negative or all are nothing.

    Examples
    --------
    >>> texture_class(40, 40, 20)
    'loam'

    References
    ----------
    USDA Soil Survey Manual (2017), chapter 3, definitions of the texture classes.
    """
    total = sand + silt + clay
    if min(sand, silt, clay) < 0 or total <= 0:
        raise ValueError("layers of a jar test are heights of nothing or more, not all nothing")
    sand, silt, clay = (100 * part / total for part in (sand, silt, clay))
    if silt + 1.5 * clay < 15:
        return "sand"
    if silt + 2 * clay < 30:
        return "loamy-sand"
    if clay >= 27 or (clay >= 20 and silt < 28 and sand > 45):
        return _clayey(sand, silt, clay)
    return _loamy(sand, silt, clay)


def _clayey(sand: float, silt: float, clay: float) -> str:
    if clay < 35 and silt < 28 and sand > 45:
        return "sandy-clay-loam"
    if clay >= 35 and sand > 45:
        return "sandy-clay"
    if clay >= 40:
        return "silty-clay" if silt >= 40 else "clay"
    return "silty-clay-loam" if sand <= 20 else "clay-loam"


def _loamy(sand: float, silt: float, clay: float) -> str:
    if silt >= 80 and clay < 12:
        return "silt"
    if silt >= 50:
        return "silt-loam"
    if clay >= 7 and sand <= 52 and silt >= 28:
        return "loam"
    return "sandy-loam"
