"""Small files of the engine's format, for tests to change."""

OVER_TIME = """
[JUNCTIONS]
 a 10 2 day
 b 5
[TANKS]
 t 20 {level} 1 8 10 0
[PIPES]
 one t a 300 4 110 0 Open
 two a b 200 3 110
[PUMPS]
 p b t POWER 1
[PATTERNS]
 day 0.5 2.0
 day 3.0
[STATUS]
 p {status}
[CONTROLS]
 LINK p CLOSED IF NODE t ABOVE 6
 LINK p OPEN AT TIME 5
[TIMES]
 Pattern Timestep 1:00
 Pattern Start {start}
[OPTIONS]
 Units GPM
 Headloss H-W
[END]
"""
"""A tank, a pump, patterns and controls; `level`, `status` and `start` are to be filled in."""
