"""The public-domain hydraulic engine, through the wrapper that WNTR ships: a reference only."""

import contextlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from wntr.epanet.toolkit import ENepanet

HEAD, EMITTER_AND_DEMAND, FLOW, TANK_VOLUME = 10, 9, 8, 24


@contextlib.contextmanager
def opened(inp_text: str, folder: Path) -> Iterator[ENepanet]:
    """The engine with a network loaded."""
    file = folder / "network.inp"
    file.write_text(inp_text)
    engine = ENepanet(version=2.2)
    with contextlib.chdir(folder):  # the engine leaves scratch files where it runs
        engine.ENopen(str(file), str(folder / "report.txt"), str(folder / "out.bin"))
        try:
            yield engine
        finally:
            engine.ENclose()


def solve(inp_text: str, nodes: tuple[str, ...], folder: Path) -> tuple[np.ndarray, np.ndarray]:
    """Head [m] and outflow [L/min] of `nodes`."""
    with opened(inp_text, folder) as engine:
        engine.ENsolveH()
        places = [engine.ENgetnodeindex(name) for name in nodes]
        heads = [engine.ENgetnodevalue(place, HEAD) for place in places]
        outflows = [engine.ENgetnodevalue(place, EMITTER_AND_DEMAND) for place in places]
    return np.array(heads), np.array(outflows)


def volume_after(inp_text: str, tank: str, hours: float, folder: Path) -> float:
    """Water in a tank after the engine has run on for so long. [m³]"""
    seconds = round(hours * 3600)
    times = f"Duration 0:00:{seconds}\nHydraulic Timestep 0:01"
    with opened(inp_text.replace("Duration 0", times), folder) as engine:
        engine.ENopenH()
        engine.ENinitH(0)
        while True:
            now = engine.ENrunH()
            if now >= seconds or engine.ENnextH() <= 0:
                break
        place = engine.ENgetnodeindex(tank)
        volume = engine.ENgetnodevalue(place, TANK_VOLUME)
        engine.ENcloseH()
    return float(volume)
