"""The open text format of the public-domain hydraulic engine, for what our solver knows.

Read and written: junctions with a steady demand, reservoirs, tanks at the level that they begin
with, pipes (open, closed or with a check valve), pumps with a head curve, pressure reducing and
throttling valves, emitters with the global exponent, minor losses, Darcy–Weisbach and
Hazen–Williams, SI flow units.
Read besides, as it stands at the first hour: US units, full tanks that take nothing and empty ones
that give nothing, demands with patterns, the status of links, pumps given by their power, controls
that act at once. What acts later is named as left out.
Sections that cannot change a flow (titles, drawings, reports, quality, energy prices) are read
over. Everything else is refused with its line, never skipped.

One difference in meaning: an emitter of ours lets no water back in when its pressure is
negative; the engine lets it, unless told otherwise.
"""

from euhydra.formats.inp.building import InpFile
from euhydra.formats.inp.reading import loads, read
from euhydra.formats.inp.terms import InpError
from euhydra.formats.inp.writing import TankShape, dumps

__all__ = ["InpError", "InpFile", "TankShape", "dumps", "loads", "read"]
