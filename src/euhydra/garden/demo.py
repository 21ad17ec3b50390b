"""Pilchard Steps, the invented demo garden, as it ships."""

import csv
from importlib.resources import files

from euhydra.garden import document
from euhydra.garden.model import Garden

WEATHER_NAME = "Pilchard Steps, usual months"


def garden_text() -> str:
    """The garden's JSON document, as it lies in the package."""
    return files("euhydra.data").joinpath("pilchard_steps.json").read_text("utf-8")


def garden() -> Garden:
    """The garden."""
    return document.loads(garden_text())


def log_text() -> str:
    """A summer's log of it as CSV, see ``formats.log_csv``; invented."""
    return files("euhydra.data").joinpath("pilchard_steps_log.csv").read_text("utf-8")


def normals() -> dict[str, list[float | None]]:
    """Its twelve usual months by column; invented."""
    text = files("euhydra.data").joinpath("pilchard_steps_normals.csv").read_text("utf-8")
    rows = list(csv.DictReader(text.splitlines()))
    columns = ("precip_mm", "tmin_c", "tmax_c", "wet_days")
    return {column: [float(row[column]) for row in rows] for column in columns}
