"""The public-domain hydraulic engine, through the wrapper that WNTR ships: a reference only."""

import contextlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from wntr.epanet.toolkit import ENepanet

HEAD, EMITTER_AND_DEMAND, FLOW = 10, 9, 8


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
