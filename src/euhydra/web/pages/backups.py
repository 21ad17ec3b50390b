"""Everything saved as one file, and brought back; a garden file from somebody else."""

import hashlib
import re
import shutil
import tempfile
from datetime import date
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, File, Form, HTTPException, Request, UploadFile
from starlette.background import BackgroundTask
from starlette.responses import FileResponse, RedirectResponse, Response

from euhydra.garden import document, edits
from euhydra.garden.document import GardenError
from euhydra.records import backup, gardens
from euhydra.records.backup import BackupError
from euhydra.web.desk import Db, render
from euhydra.web.pages.gardens import show_home

router = APIRouter()

INCOMING = "incoming"
"""Folder in which a backup waits for its owner's yes."""

DIGEST = re.compile(r"[0-9a-f]{64}")

CHUNK = 1 << 20


@router.get("/backup", name="backup")
def save_backup(request: Request) -> Response:
    """Everything, as one file."""
    folder = tempfile.TemporaryDirectory()
    path = Path(folder.name) / "backup.zip"
    backup.make(request.app.state.data, path)
    return FileResponse(
        path,
        media_type="application/zip",
        filename=f"euhydra-{date.today().isoformat()}.zip",
        background=BackgroundTask(folder.cleanup),
    )


@router.post("/restore", name="bring_backup")
def bring_backup(request: Request, file: Annotated[UploadFile, File()]) -> Response:
    """Prove a backup, and ask whether it is to replace what is here."""
    data: Path = request.app.state.data
    waits = data / INCOMING
    shutil.rmtree(waits, ignore_errors=True)  # an older one, or what a full disk cut short
    waits.mkdir()
    digest = hashlib.sha256()
    new = waits / "new"
    with new.open("wb") as copy:
        while chunk := file.file.read(CHUNK):
            digest.update(chunk)
            copy.write(chunk)
    path = new.rename(waits / f"{digest.hexdigest()}.zip")
    try:
        found = backup.check(path)
    except BackupError as error:
        path.unlink(missing_ok=True)
        return render(request, "restore.html", None, 422, fault=str(error))
    now = backup.contents_of(data)
    return render(request, "restore.html", digest=digest.hexdigest(), found=found, now=now)


@router.post("/restore/confirmed", name="restore")
def restore(request: Request, digest: Annotated[str, Form()]) -> Response:
    """Replace what is here by a backup that was proved; what is here is saved first."""
    data: Path = request.app.state.data
    path = data / INCOMING / f"{digest}.zip"
    if not DIGEST.fullmatch(digest) or not path.is_file():
        raise HTTPException(409, "This backup is no longer waiting here: choose its file again.")
    try:
        backup.restore(data, path)
    except BackupError as error:
        return render(request, "restore.html", None, 422, fault=str(error))
    path.unlink(missing_ok=True)
    home = request.url_for("home").include_query_params(restored="yes")
    return RedirectResponse(home, 303)


@router.post("/gardens/from-file", name="bring_garden")
def bring_garden(request: Request, db: Db, file: Annotated[UploadFile, File()]) -> Response:
    """A garden from a file, which may be anybody's: it is checked as typed input is, and added."""
    try:
        garden = document.loads(file.file.read().decode("utf-8-sig"))
    except UnicodeDecodeError:
        return _home(
            request, db, "This is no garden file: choose one that was saved as garden.json."
        )
    except GardenError as error:
        return _home(request, db, str(error))
    # The picture under a plan stays with its owner; a file only names it.
    garden_id = gardens.create(db, edits.replace(garden, backdrop=None))
    return RedirectResponse(request.url_for("place", garden_id=garden_id), 303)


def _home(request: Request, db: Db, fault: str) -> Response:
    return show_home(request, db, 422, typed={}, errors={}, file_fault=fault)
