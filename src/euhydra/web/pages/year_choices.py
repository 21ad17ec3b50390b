"""Years of the log that pages of Keep can be turned to."""

from euhydra.planner.keeping import growing_year
from euhydra.web.desk import Desk
from euhydra.web.logged_year import day_told, years_of
from euhydra.web.pages.station import Choice


def year_choices(desk: Desk, at: str) -> list[Choice]:
    """Every year of which something is logged, the latest first."""
    here = growing_year.begins(day_told(desk, at), desk.revision.garden.place.latitude_deg)
    names = ((year, growing_year.name_of(year)) for year in years_of(desk))
    return [Choice(str(year.year), name, year == here, None) for year, name in names]
