"""Keep: the log, its entries and photos."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any
from uuid import NAMESPACE_OID, uuid4, uuid5

from fastapi import APIRouter, File, HTTPException, Request, UploadFile
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, RedirectResponse, Response

from euhydra.formats import log_csv
from euhydra.formats.log_csv import MOST_ID, LogFileError, LogRow
from euhydra.garden import edits, logbook, quantities, timer_settings
from euhydra.garden.logbook import EntryError, LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.sentences import Sentence, say
from euhydra.planner.answers import Mark, Verdict
from euhydra.planner.dates import day_in_words
from euhydra.planner.judgement.answer import Judgement
from euhydra.records import gardens, log, pictures
from euhydra.records.log import Search
from euhydra.records.pictures import PictureError
from euhydra.web import log_words
from euhydra.web.desk import Db, Desk, RowId, Typed, open_desk, piece_of, render
from euhydra.web.log_words import EntryShown
from euhydra.web.pages.gardens import download
from euhydra.web.pages.station import Shown, StationPage, back_to, pages_of, show_page
from euhydra.web.rendering import HERE

router = APIRouter()

A_PAGE = 30
"""Entries on a page."""


@dataclass(frozen=True)
class LogAnswer:
    """What the log says at a glance."""

    verdict: Verdict


def show_log(request: Request, desk: Desk, at: str) -> Shown:
    """The forms, and the newest entries, or those that are looked for."""
    garden, asked = desk.revision.garden, request.query_params
    names = {part.id: part.name for part in garden.parts}
    text = asked.get("text", "").strip()
    wanted = Search(
        asked.get("kind", ""),
        asked.get("part", ""),
        text,
        tuple(key for key, name in names.items() if text and text.lower() in name.lower()),
    )
    page = max(quantities.whole_or(asked.get("page", ""), 1), 1)
    with desk.reading(request) as conn:
        found = log.find(conn, desk.revision.garden_id, wanted, A_PAGE + 1, (page - 1) * A_PAGE)
        latest = [
            kept
            for kind in LATEST
            for kept in log.find(conn, desk.revision.garden_id, Search(kind), 1)
        ]
        newest = log.find(conn, desk.revision.garden_id, Search(), 1)
    rows = [log_words.shown(kept, garden, names) for kept in found[:A_PAGE]]
    said = [log_words.shown(kept, garden, names) for kept in latest]
    judged = desk.known_judgement(request)
    return Shown(
        LogAnswer(_verdict(desk, said, (*_clock_said(newest), *_worst(judged)))),
        None,
        {
            "waits_for_log": judged is None,
            "entries": rows,
            "has_more": len(found) > A_PAGE,
            "page_number": page,
            "search": wanted,
            "kinds": log_words.kinds_shown(garden),
            "groups": GROUPS,
            "all_kinds": logbook.entry_kinds(),
            "parts": garden.parts,
        },
    )


GROUPS = {"measured": "I measured", "seen": "I saw", "done": "I did"}


LATEST = ("rain", "dip", "finger")
"""Kinds whose latest entry stands at the top."""


def _worst(judged: Judgement | None) -> tuple[Sentence, ...]:
    """The first that the log shows to be wrong; nothing as long as it is not read."""
    kept = judged.kept if judged else ()
    wrong = [finding for finding in kept if finding.severity.mark is not Mark.WORKS]
    return tuple(finding.cause for finding in wrong[:1])


def _clock_said(newest: list[log.KeptEntry]) -> tuple[Sentence, ...]:
    """What is odd where an entry is dated later than this computer's clock."""
    if not newest or newest[0].entry.at <= datetime.now() + logbook.AHEAD:
        return ()
    day = f"{day_in_words(newest[0].entry.at.date())} {newest[0].entry.at.year}"
    return (
        say(
            "log-later-than-clock",
            "The newest entry is of {day}, later than the clock of the computer that keeps the log: "
            "it may have been set back. Set it right; the entry is kept as it is.",
            day=day,
        ),
    )


def _verdict(desk: Desk, latest: list[EntryShown], odd: tuple[Sentence, ...]) -> Verdict:
    if not desk.entries:
        return Verdict(
            Mark.BUT,
            say(
                "log-empty",
                "Nothing is in the log yet. Ten seconds a day are enough: rain, a dip, a finger in the "
                "soil.",
            ),
        )
    count = desk.entries
    said = [
        f"{e.kind}{' of ' + e.about if e.about else ''}, {e.day}: {e.said}"
        for e in latest
        if e.said
    ]
    summary = say(
        "log-entries-so-far",
        "{count} {entries} so far.",
        count=count,
        entries="entries" if count > 1 else "entry",
    )
    seen = (say("log-latest", "Latest: {names}.", names="; ".join(said)),) if said else ()
    return Verdict(Mark.BUT if odd else Mark.WORKS, summary, (*odd, *seen))


Photo = Annotated[UploadFile | None, File()]


@router.post("/gardens/{garden_id}/log", name="add_entry")
def add_entry(
    request: Request, garden_id: RowId, db: Db, typed: Typed, photo: Photo = None
) -> Response:
    """Keep an entry, or those of a round; the same `sent_id` is kept once, however often it comes."""
    garden = gardens.current(db, garden_id).garden
    sent_id = typed.get("sent_id", "") or uuid4().hex
    try:
        if len(sent_id) > MOST_ID:
            raise EntryError({"note": "Another program sent this: its id is too long."})
        entries = [
            _read(request, db, garden_id, garden, one, photo, sent_id) for one in _one_by_one(typed)
        ]
    except EntryError as error:
        if _wants_json(request):
            return JSONResponse({"faults": error.faults}, 422)
        desk = open_desk(request, db, garden_id)
        at = typed.get("at_zone", "")
        return show_page(
            request,
            desk,
            _page_back(request, typed),
            at,
            status=422,
            typed=typed,
            faults=error.faults,
        )
    first, *others = entries
    # That which carries the id comes last: once it is kept, all of its round are.
    ids = (uuid5(NAMESPACE_OID, f"{sent_id} {n}").hex for n in range(len(others)))
    log.add_all(db, garden_id, zip(ids, others, strict=True))
    entry_id, is_new = log.add(db, garden_id, sent_id, first)
    if "once" in typed and not is_new:  # taken back, and done after all
        log.set_removed(db, garden_id, entry_id, False)
    _set_as_logged(db, garden_id, first)
    if _wants_json(request):
        return JSONResponse({"id": entry_id, "is_new": is_new})
    return back_to(request, garden_id, _page_back(request, typed).key, typed.get("at_zone", ""))


ROUND = "word-"
"""Beginning of the fields of a round: what was felt at each bed, by its id."""


def _one_by_one(typed: Mapping[str, str]) -> list[Mapping[str, str]]:
    """What was typed as entries: a round of the garden makes one of each bed that was felt."""
    if "part" in typed or typed.get("kind") != "finger":
        return [typed]
    felt = {
        name.removeprefix(ROUND): word
        for name, word in typed.items()
        if name.startswith(ROUND) and word
    }
    if not felt:
        raise EntryError({"word": "Say of one bed at least how its soil is."})
    return [{**typed, "part": part, "word": word} for part, word in felt.items()]


@router.get("/gardens/{garden_id}/log/{entry_id}", name="entry")
def entry_page(request: Request, garden_id: RowId, entry_id: RowId, db: Db) -> Response:
    """One entry: its form, and what it was before."""
    return _show_entry(request, garden_id, entry_id, db)


@router.post("/gardens/{garden_id}/log/{entry_id}", name="change_entry")
def change_entry(
    request: Request, garden_id: RowId, entry_id: RowId, db: Db, typed: Typed, photo: Photo = None
) -> Response:
    """Take an entry as it was typed anew; the former one stays in its history."""
    garden = gardens.current(db, garden_id).garden
    try:
        was = log.one(db, garden_id, entry_id)
        entry = _read(request, db, garden_id, garden, typed, photo, was.sent_id, was)
        log.change(db, garden_id, entry_id, entry)
        _set_as_logged(db, garden_id, was.entry, entry)
    except EntryError as error:
        return _show_entry(request, garden_id, entry_id, db, typed, error.faults)
    except log.NoSuchEntryError as error:
        raise HTTPException(404, str(error)) from None
    return RedirectResponse(request.url_for("entry", garden_id=garden_id, entry_id=entry_id), 303)


@router.post("/gardens/{garden_id}/log/{entry_id}/removed", name="remove_entry")
def remove_entry(
    request: Request, garden_id: RowId, entry_id: RowId, db: Db, typed: Typed
) -> Response:
    """Take an entry out of the log, or with `undo` bring it back."""
    try:
        log.set_removed(db, garden_id, entry_id, "undo" not in typed)
        _set_as_logged(db, garden_id, log.one(db, garden_id, entry_id).entry)
    except log.NoSuchEntryError as error:
        raise HTTPException(404, str(error)) from None
    if "back" in typed:
        return back_to(request, garden_id, _page_back(request, typed).key)
    return RedirectResponse(request.url_for("entry", garden_id=garden_id, entry_id=entry_id), 303)


@router.get("/gardens/{garden_id}/log.csv", name="log_csv")
def log_table(garden_id: RowId, db: Db) -> Response:
    """The whole log as a table."""
    garden = gardens.current(db, garden_id).garden
    found = log.find(db, garden_id, log.Search(), most=-1)
    rows = (LogRow(kept.sent_id, kept.entry) for kept in reversed(found))
    return download(log_csv.write(rows, garden), "log.csv", "text/csv")


@router.post("/gardens/{garden_id}/log.csv", name="bring_log")
def bring_log(
    request: Request, garden_id: RowId, db: Db, file: Annotated[UploadFile, File()]
) -> Response:
    """Take the entries of a table, all or none; those that are here already are left as they are."""
    desk = open_desk(request, db, garden_id)
    try:
        text = file.file.read().decode("utf-8-sig")
        rows = log_csv.read(text, desk.revision.garden, datetime.now())
    except UnicodeDecodeError:
        fault = "This is not a table of text: save it as CSV in UTF-8, and bring it again."
        return show_page(request, desk, PAGE, status=422, faults={"file": fault})
    except LogFileError as error:
        return show_page(request, desk, PAGE, status=422, faults={"file": str(error)})
    log.add_all(db, garden_id, [(row.id or uuid4().hex, row.entry) for row in rows])
    _set_as_logged(db, garden_id, *(row.entry for row in rows))
    return back_to(request, garden_id, PAGE.key)


@router.get("/gardens/{garden_id}/photos/{digest}", name="photo")
def photo_file(request: Request, garden_id: RowId, digest: str, db: Db) -> Response:
    """A photo of this garden's log."""
    path = pictures.find(request.app.state.data, digest)
    if path is None or not log.has_photo(db, garden_id, digest):
        raise HTTPException(404, "This photo is not here.")
    return FileResponse(path, headers={"cache-control": "private, max-age=31536000, immutable"})


@router.get("/gardens/{garden_id}/keep-mark", name="keep_mark")
def keep_mark(request: Request, garden_id: RowId, db: Db) -> HTMLResponse:
    """How Keep stands by the log: pages of the other stations do not wait for it."""
    desk = open_desk(request, db, garden_id)
    mark = desk.judgement(request).stations["keep"].mark
    return HTMLResponse(piece_of(request, "_keep_mark.html", desk, value=mark))


@router.get("/gardens/{garden_id}/keep-verdict", name="keep_verdict")
def keep_verdict(request: Request, garden_id: RowId, db: Db) -> HTMLResponse:
    """The verdict of the log once it is read: who has just written something down does not wait for it."""
    desk = open_desk(request, db, garden_id)
    desk.judgement(request)
    shown = show_log(request, desk, "")
    return HTMLResponse(
        piece_of(request, "_verdict_only.html", desk, answer=shown.answer, judged_so=None)
    )


@router.get("/sw.js", name="service_worker")
def service_worker() -> Response:
    """What keeps the pages for the garden at hand when there is no connection."""
    return FileResponse(
        Path(HERE) / "static" / "js" / "sw.js",
        media_type="text/javascript",
        headers={"cache-control": "no-cache"},
    )


def _read(
    request: Request,
    db: Db,
    garden_id: int,
    garden: Garden,
    typed: Mapping[str, str],
    photo: UploadFile | None,
    sent_id: str,
    was: log.KeptEntry | None = None,
) -> LogEntry:
    """The entry as typed; of one that is changed, what it is about may be gone meanwhile."""
    is_old = was is not None and typed.get("part", "") == (was.entry.part_id or "")
    now = datetime.now()
    if "at" in typed:
        now = logbook.later_clock(now, typed.get("made_at", ""))
    else:
        now = logbook.made_before(now, typed.get("ago_s", ""))
    entry = logbook.read(typed, garden, now, is_old)
    if entry.kind == "meter":
        around = log.meter_around(db, garden_id, entry, was.id if was else 0)
        logbook.check_meter(entry, around, garden.units)
    if entry.kind == "rain" and entry.amounts[0] and typed.get("sure") != "yes":
        same = log.same_rain(db, garden_id, entry, sent_id)
        logbook.ask_of_rain(same, garden.units, entry.amounts[0])
    # The photo that it had, and no other: a digest alone opens none of another garden's.
    had = was.entry.photo if was is not None else None
    digest = had if had == typed.get("photo_kept") else None
    if photo is not None and photo.size:
        try:
            digest = pictures.keep_photo(request.app.state.data, photo.file.read()).digest
        except PictureError as error:
            raise EntryError({"photo": str(error)}) from None
    return LogEntry(
        entry.kind, entry.at, entry.part_id, entry.amounts, entry.word, entry.note, digest
    )


def _set_as_logged(db: Db, garden_id: int, *entries: LogEntry) -> None:
    """The plan follows what the log says timers are set to now."""
    parts = {entry.part_id for entry in entries if entry.kind == timer_settings.KIND}
    if not parts:
        return
    revision = gardens.current(db, garden_id)
    garden = revision.garden
    for timer in [timer for timer in garden.timers if timer.id in parts]:
        newest = log.newest(db, garden_id, timer_settings.KIND, timer.id)
        if newest is not None:
            garden = edits.put(garden, "timers", timer_settings.planned_as(timer, newest))
    if garden != revision.garden:
        names = ", ".join(f"“{t.name}”" for t in garden.timers if t.id in parts)
        gardens.save(db, garden_id, revision.id, garden, f"{names}: set as logged")


def _wants_json(request: Request) -> bool:
    return "application/json" in request.headers.get("accept", "")


def _page_back(request: Request, typed: Mapping[str, str]) -> StationPage:
    """The page that an entry came from."""
    return pages_of(request).get(typed.get("back", ""), PAGE)


def _show_entry(
    request: Request,
    garden_id: int,
    entry_id: int,
    db: Db,
    typed: Mapping[str, str] | None = None,
    faults: Mapping[str, str] | None = None,
) -> Response:
    desk = open_desk(request, db, garden_id)
    garden = desk.revision.garden
    try:
        kept = log.one(db, garden_id, entry_id)
    except log.NoSuchEntryError as error:
        raise HTTPException(404, str(error)) from None
    names = {part.id: part.name for part in garden.parts}
    history: list[dict[str, Any]] = [
        {"when": when, "shown": log_words.shown(log.KeptEntry(0, "", was, when), garden, names)}
        for was, when in log.history(db, entry_id)
    ]
    kind = logbook.entry_kinds()[kept.entry.kind]
    return render(
        request,
        "entry.html",
        desk,
        422 if faults else 200,
        kept=kept,
        here="keep",
        shown=log_words.shown(kept, garden, names),
        history=history,
        k=log_words.KindShown(kind, kind.parts(garden)),
        typed=typed or log_words.typed_of(kept.entry, garden.units),
        faults=faults or {},
    )


PAGE = StationPage(
    key="keep",
    station="keep",
    tab="Log",
    question="What did I see, and what did I do?",
    hint="A stick in the barrel, a finger in the soil: what you write down here sets the plan right.",
    show=show_log,
)
