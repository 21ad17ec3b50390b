"""Pipe networks that several tests and the benchmarks solve."""

from euhydra.core.network import HeadLossLaw, Network, NetworkBuilder, ValveKind
from euhydra.core.pumps import PumpCurve

SMOOTH = 1.5e-6
DRIPPER = 2 / 3.6e6 / 10.2**0.5  # 2 L/h at 1 bar, x = 0.5 [m³ s⁻¹ m⁻ˣ]
GRAVITY_DRIPPER = 1 / 3.6e6  # 1 L/h at 1 m


def comb(rows: int, outlets: int, head: float, k: float = DRIPPER, x: float = 0.5) -> Network:
    """A hose, a header, and rows of outlets."""
    net = NetworkBuilder()
    net.add_source("tank", head)
    net.add_junction("head", 0.2)
    net.add_pipe("hose", "tank", "head", 10, 0.019, SMOOTH, minor_loss=5)
    before = "head"
    for row in range(rows):
        start = f"r{row}"
        net.add_junction(start, 0.2)
        net.add_pipe(start, before, start, 0.3, 0.0136, SMOOTH)
        before = last = start
        for number in range(outlets):
            name = f"r{row}o{number}"
            net.add_junction(name, 0.2, 0.0, k, x)
            net.add_pipe(name, last, name, 0.3, 0.0136, SMOOTH, minor_loss=0.3)
            last = name
    return net.build()


def gravity_lateral() -> Network:
    """40 outlets on one line under a barrel."""
    return comb(1, 40, 1.4, GRAVITY_DRIPPER)


def mains_lateral() -> Network:
    """A long line under mains pressure: laminar at its end, turbulent at its start."""
    return comb(1, 200, 25.0, 4 * DRIPPER)


def terraced_tree(law: HeadLossLaw = HeadLossLaw.DARCY_WEISBACH) -> Network:
    """Three terraces at different heights on one downhill main, outlets on each."""
    wall = SMOOTH if law is HeadLossLaw.DARCY_WEISBACH else 140.0
    net = NetworkBuilder(law)
    net.add_source("tank", 4.0)
    before = "tank"
    for step, height in enumerate((2.5, 1.5, 0.4)):
        net.add_junction(f"t{step}", height)
        net.add_pipe(f"main{step}", before, f"t{step}", 6.0, 0.0204, wall, minor_loss=1.5)
        before = last = f"t{step}"
        for number in range(12):
            name = f"t{step}o{number}"
            net.add_junction(name, height + 0.1, 0.0, 2 * GRAVITY_DRIPPER)
            net.add_pipe(name, last, name, 0.4, 0.0136, wall, minor_loss=0.3)
            last = name
    return net.build()


def loop() -> Network:
    """A ring main round a bed, fed at two corners, with a steady draw and outlets."""
    net = NetworkBuilder()
    net.add_source("tank", 3.0)
    net.add_source("well", 2.6)
    corners = 12
    for i in range(corners):
        demand = 5e-6 if i == 4 else 0.0
        net.add_junction(f"c{i}", 0.1 * (i % 3), demand, 5 * GRAVITY_DRIPPER)
    for i in range(corners):
        net.add_pipe(f"ring{i}", f"c{i}", f"c{(i + 1) % corners}", 1.5, 0.0136, SMOOTH, 0.5)
    net.add_pipe("across", "c2", "c8", 2.5, 0.0095, SMOOTH)
    net.add_pipe("from-tank", "tank", "c0", 8, 0.0127, SMOOTH, 3)
    net.add_pipe("from-well", "well", "c6", 5, 0.0127, SMOOTH, 3)
    return net.build()


POROUS = 6 / 3.6e6 / 5.0
"""A metre of porous hose: 6 L/h at 5 m, x = 1. [m³ s⁻¹ m⁻ˣ]"""


def _row(
    net: NetworkBuilder,
    name: str,
    start: str,
    count: int,
    *,
    step: float,
    height: float,
    k: float,
    x: float = 0.5,
    bore: float = 0.0136,
    barb: float = 0.3,
) -> str:
    """Outlets one after another from `start`; the last one's name."""
    last = start
    for number in range(count):
        here = f"{name}-{number}"
        net.add_junction(here, height, 0.0, k, x)
        net.add_pipe(here, last, here, step, bore, SMOOTH, barb)
        last = here
    return last


def micro_tube_pots() -> Network:
    """Twelve pots on 4 mm tube from one 13 mm line under a small tank: laminar everywhere."""
    net = NetworkBuilder()
    net.add_source("tank", 0.9)
    before = "tank"
    for i in range(12):
        tee, pot = f"tee{i}", f"pot{i}"
        net.add_junction(tee, 0.1)
        net.add_pipe(f"line{i}", before, tee, 0.4, 0.0127, SMOOTH, 0.4)
        net.add_junction(pot, 0.3 + 0.02 * (i % 3), 0.0, 2 * GRAVITY_DRIPPER, 0.5)
        net.add_pipe(f"tube{i}", tee, pot, 0.6 + 0.1 * (i % 4), 0.003, SMOOTH, 1.5)
        before = tee
    return net.build()


def drilled_pipe_with_pump() -> Network:
    """A small 12 V pump out of a barrel into a pipe with thirty 1.5 mm holes."""
    net = NetworkBuilder()
    net.add_source("barrel", 0.4)
    net.add_junction("lifted", 0.6)
    net.add_pump(
        "pump", "barrel", "lifted", PumpCurve.through([(0, 5.0), (1.5e-4, 3.5), (3e-4, 0.5)])
    )
    _row(net, "hole", "lifted", 30, step=0.25, height=0.7, k=0.61 * 7.83e-6, barb=0.0)
    return net.build()


def soaker() -> Network:
    """Twenty metres of porous hose behind a regulator of 7 m."""
    net = NetworkBuilder()
    net.add_source("tap", 30.0)
    net.add_junction("before", 0.5)
    net.add_junction("after", 0.5)
    net.add_pipe("pipe", "tap", "before", 8.0, 0.0127, SMOOTH, 4.0)
    net.add_valve("regulator", "before", "after", ValveKind.REGULATOR, 0.0127, 3.0, 7.0)
    _row(net, "hose", "after", 100, step=0.2, height=0.5, k=0.2 * POROUS, x=1.0, barb=0.0)
    return net.build()


def drip_tape_with_sump_pump() -> Network:
    """A sump pump by its rated point into a header with four lengths of tape."""
    net = NetworkBuilder()
    net.add_source("drum", 0.3)
    net.add_junction("out", 0.2)
    net.add_pump("pump", "drum", "out", PumpCurve.through([(1e-3, 5.0)]))
    net.add_junction("filter", 0.2)
    net.add_valve("screen", "out", "filter", ValveKind.THROTTLE, 0.019, 25.0)
    for i in range(4):
        net.add_junction(f"header{i}", 0.2)
        net.add_pipe(
            f"header{i}", f"header{i - 1}" if i else "filter", f"header{i}", 0.5, 0.019, SMOOTH
        )
        _row(
            net,
            f"tape{i}",
            f"header{i}",
            40,
            step=0.2,
            height=0.2,
            k=GRAVITY_DRIPPER / 2,
            bore=0.0159,
        )
    return net.build()


def throttled_towers() -> Network:
    """Three towers of five tiers, the near ones throttled."""
    net = NetworkBuilder()
    net.add_source("tank", 2.6)
    before = "tank"
    for i, loss in enumerate((60.0, 25.0, 0.5)):
        net.add_junction(f"tee{i}", 0.1)
        net.add_pipe(f"main{i}", before, f"tee{i}", 3.0, 0.0127, SMOOTH, 1.0)
        net.add_junction(f"valve{i}", 0.1)
        net.add_valve(f"tap{i}", f"tee{i}", f"valve{i}", ValveKind.THROTTLE, 0.0095, loss)
        last = f"valve{i}"
        for tier in range(5):
            here = f"tower{i}-{tier}"
            net.add_junction(here, 0.2 + 0.25 * tier, 0.0, 3 * GRAVITY_DRIPPER)
            net.add_pipe(here, last, here, 0.25, 0.0095, SMOOTH, 0.5)
            last = here
        before = f"tee{i}"
    return net.build()


def regulated_drip() -> Network:
    """Drip line behind filter and regulator on a tap; the regulator works."""
    net = NetworkBuilder()
    net.add_source("tap", 28.0)
    for name in ("a", "b", "c"):
        net.add_junction(name, 0.4)
    net.add_pipe("service", "tap", "a", 15.0, 0.0127, SMOOTH, 3.0)
    net.add_valve("filter", "a", "b", ValveKind.THROTTLE, 0.0127, 12.0)
    net.add_valve("regulator", "b", "c", ValveKind.REGULATOR, 0.0127, 4.0, 14.0)
    for i in range(3):
        _row(net, f"row{i}", "c", 30, step=0.3, height=0.3, k=2 * DRIPPER)
    return net.build()


def regulator_without_work() -> Network:
    """The same regulator under a barrel, where it only stands open."""
    net = NetworkBuilder()
    net.add_source("barrel", 2.0)
    net.add_junction("a", 0.4)
    net.add_junction("b", 0.4)
    net.add_pipe("hose", "barrel", "a", 5.0, 0.0127, SMOOTH, 3.0)
    net.add_valve("regulator", "a", "b", ValveKind.REGULATOR, 0.0127, 4.0, 14.0)
    _row(net, "row", "b", 20, step=0.3, height=0.3, k=GRAVITY_DRIPPER)
    return net.build()


def two_sources_with_flaps() -> Network:
    """A low barrel and a well, each behind a check valve: the barrel's holds shut."""
    net = NetworkBuilder()
    net.add_source("barrel", 1.0)
    net.add_source("well", 4.0)
    for name in ("from-barrel", "from-well", "main"):
        net.add_junction(name, 0.2)
    net.add_pipe("p1", "barrel", "from-barrel", 3.0, 0.0159, SMOOTH, 1.0)
    net.add_pipe("p2", "well", "from-well", 12.0, 0.0127, SMOOTH, 1.0)
    net.add_valve("flap1", "from-barrel", "main", ValveKind.CHECK, 0.0159, 2.0)
    net.add_valve("flap2", "from-well", "main", ValveKind.CHECK, 0.0127, 2.0)
    _row(net, "row", "main", 25, step=0.3, height=0.25, k=GRAVITY_DRIPPER)
    return net.build()


def pump_of_points_in_a_ring() -> Network:
    """A pump known by five points into a ring with outlets at different heights."""
    net = NetworkBuilder()
    points = [(0.0, 12.0), (1e-4, 11.5), (2e-4, 10.0), (3e-4, 7.0), (4e-4, 2.0)]
    net.add_source("tank", 0.5)
    net.add_junction("c0", 0.5)
    net.add_pump("pump", "tank", "c0", PumpCurve.through(points).at_speed(0.9))
    for i in range(1, 10):
        net.add_junction(f"c{i}", 0.15 * i, 0.0, 6 * GRAVITY_DRIPPER)
    for i in range(10):
        net.add_pipe(f"ring{i}", f"c{i}", f"c{(i + 1) % 10}", 2.0, 0.0136, SMOOTH, 0.5)
    return net.build()


def two_thousand() -> Network:
    """A tree of twenty rows of a hundred drippers on the mains."""
    return comb(20, 100, 12.0)


GARDENS = {
    "gravity lateral": gravity_lateral,
    "mains lateral": mains_lateral,
    "terraced tree": terraced_tree,
    "terraced tree, Hazen–Williams": lambda: terraced_tree(HeadLossLaw.HAZEN_WILLIAMS),
    "ring main with two sources": loop,
    "micro-tube pots": micro_tube_pots,
    "drilled pipe with a pump": drilled_pipe_with_pump,
    "soaker behind a regulator": soaker,
    "drip tape with a sump pump": drip_tape_with_sump_pump,
    "throttled towers": throttled_towers,
    "regulated drip": regulated_drip,
    "regulator without work": regulator_without_work,
    "two sources with check valves": two_sources_with_flaps,
    "pump of five points in a ring": pump_of_points_in_a_ring,
    "two thousand outlets": two_thousand,
}
"""Networks of garden shape, by name."""
