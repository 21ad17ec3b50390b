"""What a timer is set to now: the plan and the log say the same, whichever is told first."""

from datetime import datetime

import pytest

from euhydra.garden import demo, timer_settings

JSON = {"accept": "application/json"}
DAY = 86_400.0


def timer_of(client, timer_id="top-timer"):
    garden = client.get("/gardens/1/time").context["revision"].garden
    return next(t for t in garden.timers if t.id == timer_id)


def logged(client) -> list[str]:
    rows = client.get("/gardens/1/log.csv").text.splitlines()
    return [row for row in rows if ",setting," in row]


def log_setting(client, at, run, every):
    told = {"kind": "setting", "part": "top-timer", "at": at, "run": run, "every": every}
    answer = client.post("/gardens/1/log", data=told, headers=JSON)
    assert answer.status_code == 200
    return answer.json()["id"]


def test_what_is_logged_is_what_the_plan_has_it_set_to(drawn):
    log_setting(drawn, "2026-07-01T08:00", "20 min", "2 days")
    timer = timer_of(drawn)
    assert (timer.set_minutes, timer.set_every_d, timer.set_starts) == (1200.0, 2, 1)
    log_setting(drawn, "2026-06-01T08:00", "5 min", "1 day")  # of a month before
    assert timer_of(drawn).set_minutes == 1200.0
    last = log_setting(drawn, "2026-07-05T08:00", "10 min", "0.5 days")
    timer = timer_of(drawn)
    assert (timer.set_minutes, timer.set_every_d, timer.set_starts) == (600.0, 1, 2)
    assert len(logged(drawn)) == 3  # nothing was written down twice
    assert drawn.post(f"/gardens/1/log/{last}/removed", data={}).status_code == 200
    assert timer_of(drawn).set_minutes == 1200.0


def test_days_of_the_week_are_written_down_once(drawn):
    """Three runs a week are every 2.33 days in the log and every second day in the plan: that is no new setting."""
    log_setting(drawn, "2026-07-01T08:00", "29 min", "2.333333 days")
    assert timer_of(drawn).set_every_d == 2
    assert len(logged(drawn)) == 1


def test_what_the_plan_is_told_is_written_into_the_log_and_undone_there(drawn):
    page = drawn.get("/gardens/1/time?at=top-timer")
    timer = timer_of(drawn)
    typed = {"part_id": timer.id, "based_on": str(page.context["revision"].id), "at": timer.id}
    typed |= {"set_minutes": "30 min", "set_every_d": "1", "set_starts": "1"}
    forms = [f for f in page.context["forms"] if f.part_id == timer.id]
    fields = {field.name: field.value for form in forms for field in form.fields}
    key = next(form.key for form in forms if any(f.name == "set_minutes" for f in form.fields))
    saved = drawn.post(f"/gardens/1/time/{key}", data=fields | typed)
    assert saved.status_code == 200
    assert timer_of(drawn).set_minutes == 1800.0
    assert len(logged(drawn)) == 1
    drawn.post("/gardens/1/undo", data={})
    assert timer_of(drawn).set_minutes is None
    assert logged(drawn) == []
    drawn.post("/gardens/1/redo", data={})
    assert timer_of(drawn).set_minutes == 1800.0
    assert len(logged(drawn)) == 1


def test_what_the_gardener_wrote_stays_in_the_log_when_the_plan_is_taken_back(drawn):
    log_setting(drawn, "2026-07-01T08:00", "20 min", "2 days")
    drawn.post("/gardens/1/undo", data={})
    assert len(logged(drawn)) == 1


@pytest.mark.parametrize(
    ("run", "every", "planned"),
    [
        (1200.0, 2 * DAY, (1200.0, 2, 1)),
        (600.0, DAY / 3, (600.0, 1, 3)),
        (0.0, DAY, (None, 1, 1)),
        (900.0, None, (900.0, 1, 1)),
    ],
)
def test_a_setting_is_the_same_in_both_tongues(run, every, planned):
    timer = demo.garden().timers[0]
    entry = timer_settings.LogEntry("setting", datetime(2026, 7, 1, 8), timer.id, (run, every))
    found = timer_settings.planned_as(timer, entry)
    assert (found.set_minutes, found.set_every_d, found.set_starts) == planned
    said = timer_settings.said_of(found, entry.at)
    if run and every:
        assert said.amounts == pytest.approx((run, every))
