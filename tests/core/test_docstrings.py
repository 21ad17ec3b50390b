"""Every float of the core says its unit."""

import importlib
import inspect
import pkgutil
import re

import pytest

import euhydra.core

MODULES = [m.name for m in pkgutil.iter_modules(euhydra.core.__path__)]


def public_functions():
    for name in MODULES:
        module = importlib.import_module(f"euhydra.core.{name}")
        for owner in [module, *(c for _, c in inspect.getmembers(module, inspect.isclass))]:
            if inspect.isclass(owner) and (
                owner.__module__ != module.__name__ or owner.__name__.startswith("_")
            ):
                continue
            for function_name, function in inspect.getmembers(owner, inspect.isfunction):
                if function.__module__ == module.__name__ and not function_name.startswith("_"):
                    yield pytest.param(function, id=f"{name}.{function_name}")


@pytest.mark.parametrize("function", list(public_functions()))
def test_every_float_parameter_names_its_unit(function):
    text = function.__doc__ or ""
    for parameter in inspect.signature(function).parameters.values():
        kind = str(parameter.annotation)
        if kind != "<class 'float'>" and "float64" not in kind:
            continue
        stated = re.search(rf"\b{parameter.name}\b[^\[]*?(\[[^\]]+\]|any unit)", text, re.S)
        assert stated or "Units as in" in text, f"{parameter.name} has no unit in the docstring"
