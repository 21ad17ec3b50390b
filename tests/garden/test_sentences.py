"""One voice: names are values, only templates are filled, and every sentence has its code."""

import ast
import csv
from collections import defaultdict
from collections.abc import Iterator
from functools import cache
from importlib.resources import files
from pathlib import Path
from string import Formatter
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

import euhydra
from euhydra.garden import edits
from euhydra.garden.quantities import QuantityKind, System
from euhydra.garden.sentences import Amount, Sentence, listed, quoted, say, words
from euhydra.web import wording
from gardens import one_barrel, with_part

SOURCES = Path(euhydra.__file__).parent


VOICES = {"say", "refuse", "Sentence"}
"""What a sentence is made by."""


@cache
def every_call() -> list[tuple[Path, ast.Call]]:
    """Every sentence that is made anywhere."""
    return [
        (path, node)
        for path in SOURCES.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") in VOICES
    ]


def calls(*names: str) -> Iterator[tuple[Path, ast.Call]]:
    """Every call of a voice called so."""
    return ((path, call) for path, call in every_call() if call.func.id in names)


def literals(node: ast.AST) -> str:
    """The literal text of an expression, whatever it is put together from."""
    return "".join(
        part.value
        for part in ast.walk(node)
        if isinstance(part, ast.Constant) and isinstance(part.value, str)
    )


def test_names_are_listed_as_one_says_them():
    assert quoted(["Fig"]) == "“Fig”"
    assert quoted(["Fig", "Quince", "Pear"]) == "“Fig”, “Quince” and “Pear”"


@given(name=st.text(st.sampled_from("{}|lit re30cmhgx"), min_size=1, max_size=24))
def test_a_name_is_said_as_it_is_whatever_braces_it_has(name):
    sentence = say("a-test", "“{bed}” gets {litres}.", bed=name, litres=Amount.litres(10))
    assert sentence.told(System.METRIC) == f"“{name}” gets 10 L."


@pytest.mark.parametrize("name", ["{litres}", "{30 cm|height}", "{bed}", "<b>&"])
def test_a_name_on_a_page_is_itself_and_nothing_else(name):
    sentence = say("a-test", "“{bed}”: {litres}", bed=name, litres=Amount.litres(1))
    told = wording.say(sentence, System.US)
    assert told.striptags().startswith(f"“{name}”") or "&lt;b&gt;&amp;" in told


@pytest.mark.parametrize("name", ["{overflow} {top}", "{30 cm|height}"])
def test_a_name_in_a_refusal_is_itself(name):
    garden = with_part(one_barrel(), "stores", name=name)
    twice = garden.stores[0].model_copy(update={"overflow_to": garden.stores[0].id})
    with pytest.raises(ValueError, match="garden") as refused:
        edits.put(garden, "stores", twice)
    (error,) = refused.value.errors()
    assert f"“{name}”" in error["ctx"]["sentence"].told(System.US)


def test_what_is_told_within_a_sentence_is_told_in_its_own_way():
    kind = words("Hose of {12.7 mm|bore}")
    sentence = say("a-test", "Take {kinds}.", kinds=listed([kind, "{kinds}"]))
    assert sentence.told(System.US) == "Take Hose of 0.5 in, {kinds}."


def test_amounts_by_name_are_converted_once():
    assert Amount.litres(250) == Amount(0.25, "volume")
    assert Amount.millimetres(12) == Amount(0.012, "rain")
    assert Amount.days(2) == Amount(172800.0, "days")
    assert Amount.hours(1.5) == Amount(5400.0, "hours")
    assert Amount.minutes(30) == Amount(1800.0, "minutes")


def test_kinds_of_quantity_are_those_of_the_table():
    table = files("euhydra.data").joinpath("quantities.csv").read_text("utf-8")
    rows = [row["name"] for row in csv.DictReader(table.splitlines())]
    assert list(get_args(QuantityKind)) == rows


def test_every_place_in_a_template_has_its_value():
    missing = []
    for path, call in calls("say", "refuse"):
        given_names = {keyword.arg for keyword in call.keywords}
        if None in given_names or len(call.args) < 2:
            continue  # values that are passed on as they are
        for _, name, _, _ in Formatter().parse(literals(call.args[1])):
            if name and "|" not in name and name not in given_names:
                missing.append(f"{path.name}:{call.lineno} {name}")
    assert missing == []


def test_a_code_names_one_sentence():
    """Two places may say the same in the same words; no code stands for two sentences."""
    said = defaultdict(set)
    for _, call in calls("say", "refuse"):
        if isinstance(call.args[0], ast.Constant):
            said[call.args[0].value].add(literals(call.args[1]))
    assert len(said) > 380
    several = {code: texts for code, texts in said.items() if len(texts) > 1}
    assert set(several) <= TOLD_IN_SEVERAL_WAYS


TOLD_IN_SEVERAL_WAYS = {"keeping-one-step", "lay-turn"}
"""Codes whose sentence leaves a part out where it has nothing to say."""


def test_no_name_is_written_into_a_template():
    """A template is a literal: what differs from garden to garden is a value."""
    glued = [
        f"{path.name}:{call.lineno}"
        for path, call in calls("say", "refuse", "Sentence")
        for argument in call.args[:2]
        if path.name != "sentences.py"
        and any(isinstance(part, ast.JoinedStr) for part in ast.walk(argument))
    ]
    assert glued == []


def test_a_sentence_is_hashable_and_reads_in_metric():
    sentence = Sentence("a-test", "{head}", {"head": Amount(1.0, "head")})
    assert {sentence: 1}[sentence] == 1
    assert str(sentence) == "1 m"
