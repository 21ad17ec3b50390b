"""The growing year: from winter to winter, in either hemisphere."""

from datetime import date, timedelta

SOUTHERN_BEGIN = 7
"""Month in which it begins south of the equator."""


def begins(day: date, latitude: float) -> date:
    """The winter day from which the growing year of a day is counted.

    Parameters
    ----------
    latitude : [°]
    """
    if latitude >= 0:
        return date(day.year, 1, 1)
    return date(day.year - (day.month < SOUTHERN_BEGIN), SOUTHERN_BEGIN, 1)


def ends(first: date) -> date:
    """Its last day."""
    return first.replace(year=first.year + 1) - timedelta(days=1)


def name_of(first: date) -> str:
    """As one says it: 2025, or 2025/26 where it runs over two."""
    last = ends(first)
    return str(first.year) if last.year == first.year else f"{first.year}/{last.year % 100:02}"


def between(first: date, last: date, latitude: float) -> list[date]:
    """The first day of every growing year from that of one day to that of another, the latest first.

    Parameters
    ----------
    latitude : [°]
    """
    begun, end = begins(first, latitude), begins(last, latitude)
    return [end.replace(year=year) for year in range(end.year, begun.year - 1, -1)]
