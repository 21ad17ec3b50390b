"""Templates with their filters, and the paths that they link to."""

import re
from contextlib import suppress
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

from fastapi.templating import Jinja2Templates
from jinja2 import FileSystemBytecodeCache, pass_context
from jinja2.bccache import Bucket
from jinja2.runtime import Context
from starlette.applications import Starlette

from euhydra.garden import plumbing
from euhydra.web import wording
from euhydra.web.cautions import cautions_at
from euhydra.web.how_to_tell import how_to_tell

HERE = Path(__file__).parent

TONE = re.compile(r"--color-([a-z-]+):\s*light-dark\((#\w+)")
"""A colour of the theme: its name, and what it is by day."""


@lru_cache(maxsize=4096)
def _path(app: Starlette, name: str, params: tuple[tuple[str, Any], ...]) -> str:
    return str(app.url_path_for(name, **dict(params)))


@pass_context
def path(context: Context, name: str, **params: Any) -> str:
    """In a template, the path of the route called `name`."""
    return _path(context["request"].app, name, tuple(sorted(params.items())))


@cache
def _tones() -> dict[str, str]:
    """Colours of the built styles by name, as they are by day."""
    styles = (HERE / "static" / "css" / "app.css").read_text("utf-8")
    return dict(TONE.findall(styles))


def tone(name: str) -> str:
    """In a drawing that leaves the program, the colour that the pages have under that name."""
    return _tones()[name]


templates = Jinja2Templates(HERE / "templates")
templates.env.trim_blocks = templates.env.lstrip_blocks = True
templates.env.auto_reload = False  # they come with the program, and stay as they are while it runs
templates.env.filters.update(wording.FILTERS)
templates.env.globals.update(
    path=path,
    tone=tone,
    cautions_at=cautions_at,
    choice_lists=wording.choice_lists,
    hose_threads=wording.hose_threads,
    how_to_tell=how_to_tell,
    pipe_kinds=lambda: list(plumbing.pipe_kinds().values()),
    fitting_kinds=lambda: list(plumbing.fitting_kinds().values()),
    parts_of=lambda parts: [(part.id, part.name) for part in parts],
)


class _CompiledTemplates(FileSystemBytecodeCache):
    """Templates as they were compiled before; a disk that takes no more keeps none of them."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        with suppress(OSError):
            super().dump_bytecode(bucket)


def keep_compiled(folder: Path) -> None:
    """Keep templates in a folder as they are compiled, so that the next start takes them from there.

    Where it cannot be made they are compiled at each start.
    """
    with suppress(OSError):
        folder.mkdir(mode=0o700, exist_ok=True)
        templates.env.bytecode_cache = _CompiledTemplates(str(folder))
