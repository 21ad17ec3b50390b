"""A storage unit in the public-domain storm-water engine: a reference only."""

import contextlib
from pathlib import Path

import numpy as np
from swmm.toolkit import output, shared_enum, solver

TEMPLATE = """\
[OPTIONS]
FLOW_UNITS LPS
FLOW_ROUTING DYNWAVE
ALLOW_PONDING NO
START_DATE 01/01/2021
START_TIME 00:00:00
END_DATE {end}
END_TIME 00:00:00
REPORT_STEP 01:00:00
ROUTING_STEP 10
IGNORE_RAINFALL YES

[OUTFALLS]
OUT -50 FREE NO

[STORAGE]
TANK 0 {depth} {start} FUNCTIONAL 0 0 {area} 0 0

[PUMPS]
TAP TANK OUT DRAW ON 0 0

[CURVES]
DRAW PUMP1 {dust} {draw}
DRAW {large} {draw}

[INFLOWS]
TANK FLOW RAIN

[TIMESERIES]
{series}

[REPORT]
NODES ALL
LINKS ALL
"""


def evening_levels(
    inflow: np.ndarray, draw: float, volume: float, depth: float, start: float, folder: Path
) -> np.ndarray:
    """Litres in an upright tank at each midnight. [L]

    `inflow` of each day [L] comes evenly through it; `draw` [L d⁻¹] leaves evenly while there is
    water; what does not fit floods away. The engine takes flows of drops a second for none, so it
    is given cubic metres for litres.
    """
    day = 86400.0
    series = []
    for i, litres in enumerate(inflow.tolist()):
        for hour in (24 * i + 0.0001, 24 * (i + 1)):
            series.append(f"RAIN {hour:.4f} {litres * 1000 / day:.6f}")
    end = np.datetime64("2021-01-01") + len(inflow)
    year, month, number = str(end).split("-")
    text = TEMPLATE.format(
        end=f"{month}/{number}/{year}",
        depth=depth,
        start=start / volume * depth,
        area=volume / depth,
        draw=draw * 1000 / day,
        dust=1e-6,
        large=volume,
        series="\n".join(series),
    )
    inp, rpt, out = (str(folder / f"tank.{kind}") for kind in ("inp", "rpt", "out"))
    Path(inp).write_text(text)
    with contextlib.chdir(folder):
        solver.swmm_run(inp, rpt, out)
    handle = output.init()
    output.open(handle, out)
    try:
        hourly = output.get_node_series(
            handle, 1, shared_enum.NodeAttribute.INVERT_DEPTH, 0, 24 * len(inflow) - 1
        )
    finally:
        output.close(handle)
    return np.array(hourly)[23::24] / depth * volume
