"""The map of the sources in CONTRIBUTING.md: every module by its own first line.

`python tests/source_map.py` writes it; `test_contributing.py` holds it.
"""

import ast
from collections.abc import Iterator
from functools import cache
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCES = ROOT / "src" / "euhydra"
CONTRIBUTING = ROOT / "CONTRIBUTING.md"
BEGIN, END = "<!-- map: make map -->\n```\n", "```\n<!-- end of the map -->\n"


@cache
def first_line(module: Path) -> str:
    """First line of a Python module's docstring, or of a script's leading comment."""
    text = module.read_text("utf-8")
    if module.suffix == ".py":
        return (ast.get_docstring(ast.parse(text)) or "").partition("\n")[0]
    first = text.partition("\n")[0]
    return first.removeprefix("//").strip()


def lines(folder: Path = SOURCES, depth: int = 0) -> Iterator[str]:
    """A line a folder and module, folders after the modules beside them."""
    about = folder / "__init__.py"
    told = first_line(about) if about.exists() else ""
    yield f"{'  ' * depth}{folder.name}/".ljust(34) + told
    entries = sorted(folder.iterdir(), key=lambda entry: (entry.is_dir(), _rank(entry)))
    for entry in entries:
        if entry.is_dir() and entry.name not in ("__pycache__", "static", "templates", "data"):
            if any(entry.rglob("*.py")) or any(entry.rglob("*.js")):
                yield from lines(entry, depth + 1)
        elif entry.suffix in (".py", ".js") and entry.name not in ("__init__.py", "__main__.py"):
            yield f"{'  ' * (depth + 1)}{entry.name}".ljust(34) + first_line(entry)


def _rank(entry: Path) -> tuple[bool, str]:
    """A folder's answer stands first in it."""
    return entry.stem != "answer", entry.name


def drawn() -> str:
    """The map as it stands in the page."""
    return BEGIN + "".join(f"{line.rstrip()}\n" for line in lines()) + END


def page_with(text: str) -> str:
    """CONTRIBUTING with another map."""
    page = CONTRIBUTING.read_text("utf-8")
    return page[: page.index(BEGIN)] + text + page[page.index(END) + len(END) :]


if __name__ == "__main__":
    CONTRIBUTING.write_text(page_with(drawn()), "utf-8")
