"""The map in CONTRIBUTING is that of the sources, and every module says what it is."""

import ast
from pathlib import Path

import pytest

import source_map
import sweeps


def test_the_map_is_that_of_the_sources():
    page = source_map.CONTRIBUTING.read_text("utf-8")
    assert page == source_map.page_with(source_map.drawn()), "run `make map`"


def test_every_module_says_what_it_is():
    silent = [
        str(module.relative_to(source_map.SOURCES))
        for module in source_map.SOURCES.rglob("*.py")
        if module.stat().st_size and len(source_map.first_line(module)) < 10
    ]
    assert silent == []


@pytest.mark.parametrize("kind", [ast.ClassDef])
def test_no_two_classes_share_a_name(kind):
    found: dict[str, list[str]] = {}
    for module in source_map.SOURCES.rglob("*.py"):
        for node in ast.parse(module.read_text("utf-8")).body:
            if isinstance(node, kind):
                found.setdefault(node.name, []).append(module.name)
    assert {name: places for name, places in found.items() if len(places) > 1} == {}


def test_no_two_modules_share_a_name_within_a_layer():
    """`answer` is each station's; a page is called as what it shows."""
    shared = {"__init__", "__main__", "answer", "cures", "figures"}
    for layer in ("core", "garden", "planner", "formats", "records", "devices"):
        names = [m.stem for m in (source_map.SOURCES / layer).rglob("*.py")]
        twice = {n for n in names if names.count(n) > 1} - shared
        assert twice == set(), layer


def test_no_line_of_a_template_is_too_long_to_read():
    long = [
        f"{template.name}:{number}"
        for template in (source_map.SOURCES / "web" / "templates").glob("*.html")
        for number, line in enumerate(template.read_text("utf-8").splitlines(), 1)
        if len(line) > 160
    ]
    assert long == []


def test_no_test_is_kept_for_the_sweep_alone_and_a_check_in_runs_both():
    here = Path(__file__).parent
    marked = [p.name for p in here.rglob("*.py") if f"mark.{'sweep'}" in p.read_text("utf-8")]
    assert marked == ["sweeps.py"]
    with pytest.raises(ValueError, match="some of the cases"):
        sweeps.swept(["a", "b"], [])
    with pytest.raises(ValueError, match="some of the cases"):
        sweeps.swept(["a", "b"], ["c"])
    asked = [case.marks for case in sweeps.swept(["a", "b"], ["b"])]
    assert [len(marks) for marks in asked] == [1, 0]
    for nobody in (
        "test_contributing.py::test_that_is_not_there",
        "browser/test_plan.py::test_a_band_drawn_with_shift_chooses_what_lies_in_it",
    ):
        with pytest.raises(ValueError, match="no test that is asked at once"):
            sweeps.again(nobody)
    run = (here.parent / ".ci" / "run").read_text("utf-8").splitlines()
    assert run[-2:] == ["make test", "make sweep"]


def test_nothing_but_sources_lies_among_the_tests():
    """What a test writes goes to its own folder, also when a name that it tries is a path."""
    here = Path(__file__).parent
    kinds = {".py", ".pyc", ".json", ".toml"}
    stray = [
        path.name
        for path in here.rglob("*")
        if path.is_file() and path.suffix not in kinds and path.parent.name != "vendor"
    ]
    assert stray == []
