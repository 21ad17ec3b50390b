"""The bench: the plan on simulated devices, watched live."""

import asyncio
import json
from collections.abc import AsyncIterator
from datetime import date
from time import monotonic
from typing import Any

import numpy as np
from fastapi import APIRouter, HTTPException, Request
from starlette.responses import JSONResponse, Response, StreamingResponse

from euhydra.devices.bench import Reading
from euhydra.devices.faults import FAULT_NAMES, Fault
from euhydra.devices.simulated import DAY
from euhydra.garden import quantities
from euhydra.garden.quantities import System
from euhydra.garden.sentences import Amount, say
from euhydra.planner.answers import Gap, PlanError
from euhydra.planner.dates import WEEKDAYS, hour_in_words
from euhydra.web import bench_rig
from euhydra.web.bench_room import SPEEDS, BenchRoom, BenchRun
from euhydra.web.desk import Desk, RowId, Typed
from euhydra.web.drawing import plan
from euhydra.web.pages.plan_pieces import plan_of
from euhydra.web.pages.station import Shown, StationPage
from euhydra.web.pages.time import month_of, timed

router = APIRouter()

BEAT = 0.05
"""Time from one update to the next. [s]"""

STEP = 10
"""Minutes of a step by hand. [min]"""


def _show_bench(request: Request, desk: Desk, at: str) -> Shown:
    """The bench of this garden, laid out anew for another month or after an edit."""
    if not isinstance(desk.chain.season, Gap) and timed(desk):
        month = month_of(desk, at)
        try:
            run = _run_of(request, desk, month)
        except PlanError as error:
            return Shown(None, Gap.of(error))
        garden = desk.revision.garden
        zones = {z.zone.id: [p.id for p in z.zone.way.parts] for z in desk.chain.zones}
        return Shown(
            run,
            None,
            {
                "reading": told(run, run.look(), garden.units),
                "fault_names": FAULT_NAMES,
                "speeds": SPEEDS,
                "month": run.month,
                "plan": plan_of(request, desk),
                "zone_parts": zones,
                "backdrop": plan.backdrop_of(request.app, desk.revision.garden_id, garden),
            },
        )
    return Shown(None, desk.chain.season if isinstance(desk.chain.season, Gap) else NO_SETTINGS)


NO_SETTINGS = Gap(say("bench-no-settings", "No zone has settings yet: see Settings."))


def _run_of(request: Request, desk: Desk, month: int) -> BenchRun:
    """The garden's bench; a new one where there is none for this revision and month."""
    room: BenchRoom = request.app.state.benches
    garden_id = desk.revision.garden_id
    run = room.find(garden_id)
    if run is None or run.key != desk.key or run.month != month:
        bench, first, zone_ids = bench_rig.build(desk.chain, month)
        run = BenchRun(bench, first, zone_ids, month, desk.key)
        room.put(garden_id, run)
    return run


def _known(request: Request, garden_id: int) -> BenchRun:
    room: BenchRoom = request.app.state.benches
    run = room.find(garden_id)
    if run is None:
        raise HTTPException(409, "That bench has been put away: load the page again.")
    return run


@router.get("/gardens/{garden_id}/bench/stream", name="bench_stream")
async def stream(request: Request, garden_id: RowId, system: System = System.METRIC) -> Response:
    """Readings as server-sent events, twenty a second while it runs."""
    run = _known(request, garden_id)
    if request.app.state.benches.is_full:
        raise HTTPException(429, "Too many pages watch this bench: close some.")
    headers = {"cache-control": "no-store"}
    return StreamingResponse(
        _events(request, run, system), media_type="text/event-stream", headers=headers
    )


async def _events(request: Request, run: BenchRun, system: System) -> AsyncIterator[str]:
    room: BenchRoom = request.app.state.benches
    if room.is_full:
        return  # others were let in meanwhile
    room.viewers += 1
    last = ""
    try:
        while not (run.is_put_away or await request.is_disconnected()):
            began = monotonic()
            text = json.dumps(told(run, run.look(), system), ensure_ascii=False)
            # A comment now and then shows a dead connection even while nothing changes.
            yield f"data: {text}\n\n" if text != last else ":\n\n"
            last = text
            beat = BEAT if run.is_playing else 5 * BEAT
            await asyncio.sleep(max(0.0, began + beat - monotonic()))
    finally:
        room.viewers -= 1


@router.post("/gardens/{garden_id}/bench/control", name="bench_control")
def control(request: Request, garden_id: RowId, typed: Typed) -> Response:
    """Play, pause, step, speed, or a fault switched on or off."""
    run, action, value = _known(request, garden_id), typed.get("action", ""), typed.get("value", "")
    if action in ("play", "pause"):
        run.play(action == "play")
    elif action == "step":
        run.step(STEP)
    elif action == "again":
        request.app.state.benches.put_away(garden_id)
    elif action == "speed" and value in SPEEDS:
        run.speed = SPEEDS[value]
    elif action in ("fault-on", "fault-off") and value in set(Fault):
        run.switch(Fault(value), action == "fault-on")
    else:
        raise HTTPException(422, "The bench knows play, pause, step, again, speed and faults only.")
    return JSONResponse({"done": True})


def told(run: BenchRun, reading: Reading, system: System) -> dict[str, Any]:
    """A reading in the garden's units, for the page."""

    def volume(litres: float) -> str:
        return Amount.litres(litres).told(system)

    def flow(litres_an_hour: float) -> str:
        return Amount.litres_an_hour(litres_an_hour).told(system)

    return {
        "clock": _moment(run.first, reading.minute),
        "air": quantities.show(reading.celsius, "temperature", system, 2),
        "rain": quantities.show(reading.rain_today / 1000, "rain", system, 2),
        "playing": run.is_playing,
        "over": run.bench.is_over,
        "speed": str(run.speed),
        "faults": run.faults,
        "notices": [said.told(system) for said in reading.notices],
        "log": [
            f"{_moment(run.first, minute)}: {said.told(system)}"
            for minute, said in reversed(reading.log)
        ],
        "zones": [
            {
                "id": zone_id,
                "name": z.name,
                "open": z.flow > 0,
                "due": z.is_due,
                "flow": flow(z.flow),
                "expected": flow(z.expected),
                "given": volume(z.given_today),
            }
            for zone_id, z in zip(run.zone_ids, reading.zones, strict=True)
        ],
        "stores": [
            {
                "name": s.name,
                "percent": round(100 * s.level / s.capacity, 1),
                "words": f"{volume(s.level)} of {volume(s.capacity)}",
            }
            for s in reading.stores
        ],
    }


def _moment(first: np.datetime64, minute: int) -> str:
    day = date.fromisoformat(str(first + np.timedelta64(minute // DAY, "D"))[:10])
    return f"{WEEKDAYS[day.weekday()]} {day.day} {day:%b}, {hour_in_words(minute % DAY * 60)}"


PAGE = StationPage(
    key="bench",
    station="time",
    tab="On the bench",
    question="What happens when something breaks?",
    show=_show_bench,
)
