"""What a new garden waters: beds side by side, pots in a row, planters, towers."""

from typing import Any

from euhydra.garden.pots import PotKind
from euhydra.planner.beginning.scene import PATH, Scene
from euhydra.planner.beginning.sources import ROW

AHEAD = 0.5
"""Room before the plants for the pieces of a head. [m]"""


def beds(
    scene: Scene, count: int, name: str = "Bed", step: float = 0.0, **fields: Any
) -> list[str]:
    """Beds alike, side by side and beyond the distance that was asked; their ids, the highest first.

    Parameters
    ----------
    step : How much lower each next lies. [m]
    """
    width = float(fields.get("width_m") or scene.number_or("bed_width", 1.0))
    begins = scene.x + scene.number_or("distance", 3.0) + AHEAD
    given = {
        "length_m": scene.number("bed_length"),
        "width_m": width,
        "soil": scene.choice_or("soil", "loam"),
        "crop": scene.choice("crop"),
        "raised_m": scene.number_or("raised", 0.0),
    }
    ground = float(fields.pop("ground_m", 0.0))
    return [
        scene.put(
            "beds",
            "bed",
            name,
            at=scene.at(begins, ROW + n * (width + PATH)),
            ground_m=round(ground - n * step, 3),
            **(given | fields),
        )
        for n in range(count)
    ]


def pots(scene: Scene, count: int, name: str = "Pots", place: int = 0, **fields: Any) -> str:
    """Pots in a row; its id.

    place : Which group of several it is, side by side.
    """
    across = scene.number("pot_width")
    begins = scene.x + scene.number_or("distance", 2.0) + AHEAD + across / 2
    given = {
        "kind": PotKind.POT,
        "at": scene.at(begins, ROW + place * (across + PATH)),
        "across_m": across,
        "columns": count,
        "pitch_m": round(across + 0.1, 3),
        "crop": scene.choice("pot_crop"),
        "plants_each": scene.count("plants_each"),
    }
    return scene.put("pots", "pots", name, **(given | fields))
