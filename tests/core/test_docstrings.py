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


def entry_of(text, name):
    """What a docstring says of one parameter; all of it where it has no section of them."""
    if "Parameters\n" not in text:
        return text
    section = text.split("Parameters\n")[1].split("Returns\n")[0]
    found = re.search(rf"^[\w, ]*\b{name}\b[\w, ]* :.*\n(?:[ ].*\n?|\n(?=[ ]))*", section, re.MULTILINE)
    return found[0] if found else ""


SUFFIX = re.compile(r"_(g|mm|min|c|k|ml|s|g_m3|kg_m3|kj_kg|px|pct|um|h|cm3|mm2|m2|g_ml)$")
COUNTED = re.compile(r"\[[^\]]+\]|\bshares?\b|\bparts\b|\bpower\b|\btimes\b|\bfactor\b|any unit")


def test_numbers_of_the_core_carry_their_unit():
    """A number is named with its unit, or what the docstring says of it has the unit, or that it is a share."""
    bare = []
    for function in FUNCTIONS:
        text = inspect.getdoc(function) or ""
        for name, parameter in inspect.signature(function).parameters.items():
            kind = str(parameter.annotation)
            is_number = re.search(r"\bfloat\b", kind) and "Callable" not in kind
            if is_number and not SUFFIX.search(name) and not COUNTED.search(entry_of(text, name)):
                bare.append(f"{function.__module__}.{function.__name__}({name})")
    assert bare == []


@pytest.mark.parametrize("room", ["matter.thermal", "heat.conduction", "gluten.pull", "fold.lamination"])
def test_models_name_what_they_rest_on(room):
    """Where a model of heat, gluten or folds is stated, so is its source, and it is one that is named and numbered."""
    module = importlib.import_module(f"northfold.core.{room}")
    named = [inspect.getdoc(each) or "" for each in FUNCTIONS if each.__module__ == module.__name__]
    sources = [text.split("References\n----------\n")[1] for text in named if "References\n" in text]
    assert sources and all(re.match(r"\.\. \[1\] (Choi and Okos|North Fold)", source) for source in sources)
