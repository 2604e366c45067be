"""Files of the open formats: exact both ways, and refused with the place where they are wrong."""

import json
import re
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from northfold.core.formula.ratio import MEAL_COUNTS, Counting, DoughLine
from northfold.core.matter import reference_ingredients
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.formulated import Formulated
from northfold.core.shape.tins import kinds
from northfold.formats.files import BadFile, checked, dumped, json_of, line_of, text_of
from northfold.formats.formula import FormulaFile, formula_file, ingredient_file
from northfold.formats.schemas import KINDS, schema, schema_text
from northfold.formats.tins import read_tins

SHELF = reference_ingredients()
GOOD = {"name": "Mine", "lines": [{"ingredient": "plain flour", "g": 420}, {"ingredient": "lard", "g": 200}]}


def taken(found, shelf=SHELF):
    return checked(json_of(json.dumps(found)), FormulaFile).formulated(shelf)


# -- both ways

grams = st.floats(min_value=0, max_value=1e6, allow_nan=False)
names = st.sampled_from(sorted(SHELF))


@given(
    st.lists(st.tuples(names, st.tuples(grams, grams, grams), st.text(max_size=30), st.text(max_size=20)), min_size=1),
    st.sampled_from(sorted(MEAL_COUNTS)),
    grams,
)
def test_any_formula_comes_back_to_the_last_digit(rows, meal, base_g):
    lines = tuple(
        DoughLine(SHELF[name], g[1], g[0], g[2], text, prep) for name, w, text, prep in rows for g in [sorted(w)]
    )
    parts = (PartLine("glaze", SHELF["whole egg"], "1 egg, to glaze"), PartLine("filling", None, "some moon dust"))
    found = Formulated(tuple(lines[:300]), (("first_rest", "night"),), parts, Counting(meal, base_g))
    file = formula_file("Any", found, SHELF)
    again = checked(json_of(dumped(file)), FormulaFile)
    assert again.formulated(SHELF) == found and again == file
    Draft202012Validator(schema("formula")).validate(json.loads(dumped(file)))
    assert not file.ingredients  # everybody knows these


@pytest.mark.parametrize("name", sorted(SHELF))
def test_every_ingredient_comes_back_with_its_fat_and_densities(name):
    own = replace(SHELF[name], name=f"our own {name}")
    lines = (DoughLine.of(SHELF["plain flour"], 500), DoughLine.of(own, 100))
    file = formula_file("With our own", Formulated(lines), SHELF)
    assert [each.name for each in file.ingredients] == [own.name]
    back = checked(json_of(dumped(file)), FormulaFile).formulated(SHELF)
    assert back.lines == lines and ingredient_file(back.lines[1].ingredient) == file.ingredients[0]


def test_schemas_are_valid_themselves_and_name_their_format():
    for name in KINDS:
        Draft202012Validator.check_schema(schema(name))
        assert schema(name)["$id"] == f"northfold/{name}/1"


# -- what is wrong


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"lines": []}, "lines: "),
        (
            {"lines": [{"ingredient": "plain flour"}]},
            "lines → number 1: a line of the dough has an ingredient and its g",
        ),
        (
            {"lines": [{"ingredient": "plain flour", "g": -1}]},
            "number 1 → g: Input should be greater than or equal to 0",
        ),
        ({"lines": [{"ingredient": "plain flour", "g": 5, "g_low": 6}]}, "in that order, not 6, 5, 5"),
        ({"lines": [{"ingredient": "plain flour", "g": 5, "grams": 5}]}, "grams: is not known here"),
        ({"lines": [{"ingredient": "moon dust", "g": 5}]}, "number 1: “moon dust” is not known"),
        ({"name": ""}, "name: "),
        ({"kind": "cake"}, "“cake” is no kind"),
        ({"schools": {"first_rest": "for ever"}}, "first_rest: for ever"),
        ({"format": "northfold/formula/2"}, "format: "),
        ({"ingredients": [{"name": "x", "role": "flour", "composition": {"water": 0.5}}]}, "add up to 0.500"),
        ({"ingredients": [{"name": "x", "role": "dust", "composition": {"water": 1}}]}, "“dust” is no role"),
    ],
)
def test_a_wrong_file_is_refused_with_its_place(change, words):
    with pytest.raises(BadFile, match=re.escape(words)):
        taken({**GOOD, **change})


def test_a_name_that_is_written_otherwise_is_known_where_that_is_sure():
    assert taken(GOOD).lines[1].ingredient.name == "lard"
    found = taken({**GOOD, "lines": [{"ingredient": "cold unsalted butter", "g": 5}]})
    assert found.lines[0].ingredient.name == "unsalted butter"
    with pytest.raises(BadFile, match="Is it "):
        taken({**GOOD, "lines": [{"ingredient": "plain flower", "g": 5}]})


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ('{"name": "x",\n "lines": [}', "Line 2, column 12"),
        ('{"name": "x", "name": "y"}', "“name” stands twice"),
        ('{"g": NaN}', "NaN is no number"),
        ("[" * 60 + "]" * 60, "deeper than 40"),
        ('{"a": "' + "[" * 60 + '"', "no JSON"),
        ("{" * 100_000, "deeper than 40"),
    ],
)
def test_hostile_json_is_refused_with_its_line(text, words):
    with pytest.raises(BadFile, match=words):
        json_of(text)
    assert json_of('{"a": "[[[\\"[["}') == {"a": '[[["[['}  # brackets in words are words


def test_bytes_are_text_or_refused():
    assert text_of("é".encode("utf-8-sig")) == "é" == text_of("é".encode("utf-16"))
    with pytest.raises(BadFile, match="Line 2 is not UTF-8"):
        text_of("a\né".encode("latin-1"))
    with pytest.raises(BadFile, match=r"20\.0 MB; at most 20 MB"):
        text_of(b" " * 20_000_001)


# -- tins in one line


@pytest.mark.parametrize(
    ("said", "count", "kind", "size"),
    [
        ("6 x 230x25", 6, "round", "Ø 230 × 25"),
        ("6×230×25", 6, "round", "Ø 230 × 25"),
        ("230 x 25", 1, "round", "Ø 230 × 25"),
        ("24 x mould 95/75x20", 24, "mould", "Ø 95/75 × 20"),
        ("2 * 350x110x28", 2, "rectangle", "350 × 110 × 28"),
        ("60 x cut_round 48", 60, "cut_round", "Ø 48"),
        ("24 x 95 x 20", 24, "round", "Ø 95 × 20"),
        ("350 x 110 x 28", 1, "rectangle", "350 × 110 × 28"),
        ("3 x free-round 24cm x 5cm", 3, "free_round", "Ø 240 + 50"),
        ("9 in x 1 in", 1, "round", "Ø 228.6 × 25.4"),
        ("4 x plate 180/165 x 22 x 28", 4, "plate", "Ø 180/165 × 22, rim 28"),
        ("12 x hand pie 140x95", 12, "hand_pie", "140 × 95"),
        ("Ø 230 x 25", 1, "round", "Ø 230 × 25"),
    ],
)
def test_tins_are_read_as_people_write_them(said, count, kind, size):
    item = read_tins(said)
    assert (item.count, item.tin.kind, item.tin.size) == (count, kind, size)


def test_every_kind_is_read_by_its_key():
    for key, kind in kinds().items():
        sizes = " x ".join(
            {"top": "160", "top_width": "120", "height": "30", "border": "40"}[each]
            for each in kind.measures
            if not each.startswith("base")
        )
        assert read_tins(f"3 x {key} {sizes}").tin.kind == key


@pytest.mark.parametrize("said", ["", "six", "6 x", "6 x 230x25x30x40x50", "mould 95", "0 x 230x25", "6 x 230x9999"])
def test_a_tin_that_makes_no_sense_is_refused_with_how_it_is_written(said):
    with pytest.raises(BadFile, match=r"“"):
        read_tins(said)


def test_the_schemas_that_are_kept_are_those_that_hold():
    kept = Path(__file__).parents[2] / "docs/formats"
    for name in KINDS:
        assert (kept / f"{name}.json").read_text(encoding="utf-8") == schema_text(name), "run scripts/schemas.py"


@pytest.mark.parametrize(
    ("loc", "line"),
    [
        ((), 1),
        (("name",), 2),
        (("lines",), 3),
        (("lines", 0), 4),
        (("lines", 1), 5),
        (("lines", 1, "g"), 6),
        (("x",), 1),
    ],
)
def test_the_line_of_a_place_is_found(loc, line):
    text = '{\n "name": "a, [b",\n "lines": [\n  {"g": 1},\n  {"x": "}",\n   "g": -2}]}'
    assert line_of(text, loc) == line
    if loc == ("lines", 1, "g"):
        with pytest.raises(BadFile, match="Line 6, lines → number 2 → g"):
            checked(json_of(text.replace(', "x"', "")), FormulaFile, text)
