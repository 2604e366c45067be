"""Public functions of the core say what they take and give: every parameter, and a unit or kind for each number."""

import importlib
import inspect
import pkgutil
import re

import pytest

import northfold.core

MODULES = [
    importlib.import_module(found.name)
    for found in pkgutil.walk_packages(northfold.core.__path__, "northfold.core.")
    if not found.ispkg
]
FUNCTIONS = [
    function
    for module in MODULES
    for name, function in inspect.getmembers(module, inspect.isfunction)
    if function.__module__ == module.__name__ and not name.startswith("_")
]


@pytest.mark.parametrize("function", FUNCTIONS, ids=lambda f: f"{f.__module__}.{f.__name__}")
def test_docstring_names_every_parameter(function):
    text = inspect.getdoc(function)
    assert text
    if "Parameters\n" not in text:
        assert len(text.splitlines()) <= 6, "a longer docstring has a Parameters section"
        return
    section = text.split("Parameters\n")[1].split("Returns\n")[0]
    named = {name.strip() for line in re.findall(r"^([\w, ]+) :", section, re.MULTILINE) for name in line.split(",")}
    assert named == set(inspect.signature(function).parameters)


def test_numbers_of_the_core_carry_their_unit():
    """A parameter that is a float is named with its unit, or its unit stands in brackets."""
    bare = []
    for function in FUNCTIONS:
        text = inspect.getdoc(function) or ""
        for name, parameter in inspect.signature(function).parameters.items():
            has_unit = re.search(r"_(g|mm|min|c|ml|g_m3|kg_m3|px|pct)$", name) or re.search(
                r"\[[^\]]+\]|share|parts|width", text
            )
            if parameter.annotation in (float, "float") and not has_unit:
                bare.append(f"{function.__module__}.{function.__name__}({name})")
    assert bare == []
