"""Templates are compiled once; where nothing can be kept they are compiled again."""

import pytest
from jinja2 import Environment, FileSystemLoader

from euhydra.web import rendering


@pytest.fixture
def environment(monkeypatch):
    """As that of the pages, with nothing compiled yet."""
    fresh = Environment(loader=FileSystemLoader(rendering.HERE / "templates"), trim_blocks=True)
    monkeypatch.setattr(rendering.templates, "env", fresh)
    return fresh


def test_a_template_is_taken_as_it_was_compiled(environment, tmp_path, monkeypatch):
    rendering.keep_compiled(tmp_path / "compiled")
    environment.get_template("_marks.html")
    environment.cache.clear()
    monkeypatch.setattr(environment, "compile", None)
    assert environment.get_template("_marks.html").name == "_marks.html"


def test_a_folder_that_takes_nothing_hinders_no_page(environment, tmp_path):
    place = tmp_path / "compiled"
    place.write_text("no folder")
    rendering.keep_compiled(place)
    assert environment.get_template("_marks.html").name == "_marks.html"
    assert place.read_text() == "no folder"
