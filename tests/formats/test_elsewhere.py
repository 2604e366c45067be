"""Recipes from elsewhere: pages, tables, spreadsheets; each through the reader; hostile ones refused."""

import io
import json
import zipfile

import pytest
from openpyxl import Workbook

from northfold.core.formula.reading import read_recipe
from northfold.formats.elsewhere import found_in
from northfold.formats.files import BadFile
from northfold.formats.pages import duration_iso, recipe_out
from northfold.formats.tables import csv_text, guessed, plain_cell, recipes_of_table, safe_cell, table_of_csv

SHELL = {
    "@context": "https://schema.org",
    "@type": "Recipe",
    "name": "Quay tart shell &amp; lid",
    "recipeYield": ["1", "one 23 cm tart"],
    "recipeIngredient": ["250g plain flour", "<b>125 g</b> butter, diced", "1 egg yolk", "2&ndash;3 tbsp cold water"],
    "recipeInstructions": [
        {"@type": "HowToSection", "name": "Dough", "itemListElement": [{"@type": "HowToStep", "text": "Rub it in"}]},
        {"@type": "HowToStep", "text": "Bake at 190 °C for 20 minutes."},
    ],
}


def page(*scripts):
    bodies = "".join(f'<script type="application/ld+json">{each}</script>' for each in scripts)
    return f"<!doctype html><html><head>{bodies}</head><body><p>1 kg of advertisement</p></body></html>".encode()


def grams(text):
    lines = read_recipe(text).lines
    return {line.ingredient.name: line.grams.usual for line in lines if line.ingredient and line.grams}


# -- pages


def test_a_pages_recipe_is_read_out_of_its_source():
    (found,) = found_in(page('{"@type": "WebSite", "name": "x"}', json.dumps({"@graph": [SHELL]}))).recipes
    assert found.name == "Quay tart shell & lid"
    read = grams(found.text)
    assert read["plain flour"] == 250 and read["unsalted butter"] == 125 and "egg yolk" in read and "water" in read
    assert "Dough:\nRub it in.\nBake at 190 °C for 20 minutes.\nMakes one 23 cm tart." in found.text
    assert "advertisement" not in found.text and "<b>" not in found.text


@pytest.mark.parametrize(
    "wrapped",
    [
        SHELL,
        [SHELL],
        {"@graph": [{"@type": "Organization"}, SHELL]},
        {"@type": "WebPage", "mainEntity": SHELL},
        {**SHELL, "@type": ["Recipe", "NewsArticle"]},
        {**SHELL, "@type": "http://schema.org/Recipe"},
        {**SHELL, "recipeIngredient": "250 g plain flour\n125 g butter"},
        {**SHELL, "recipeInstructions": "Rub it in.<br>Bake it.", "recipeYield": 8},
        {**SHELL, "recipeInstructions": None, "recipeYield": None},
    ],
)
def test_it_is_found_however_it_is_wrapped(wrapped):
    for data in (page(json.dumps(wrapped)), json.dumps(wrapped).encode()):
        (found,) = found_in(data).recipes
        assert grams(found.text)["plain flour"] == 250


def test_a_broken_script_does_not_hide_a_good_one_and_none_is_said():
    good = json.dumps(SHELL)
    (found,) = found_in(page('{"@type": "Recipe", ', f"//<![CDATA[\n{good}\n//]]>")).recipes
    assert grams(found.text)["plain flour"] == 250
    with pytest.raises(BadFile, match=r"tells no recipe in its source.*Copy its ingredients as text"):
        found_in(page('{"@type": "WebSite"}'))
    with pytest.raises(BadFile, match="tells no recipe"):
        found_in(b'{"@type": "Person"}')
    with pytest.raises(BadFile, match="deeper than 40"):
        found_in(page("[" * 90))


def test_plain_text_stays_as_it_is_and_is_named_by_its_file():
    (found,) = found_in(b"420 g plain flour\n280 g butter\n", "quay-shell.txt").recipes
    assert (found.name, found.text) == ("Quay shell", "420 g plain flour\n280 g butter\n")
    with pytest.raises(BadFile, match="nothing in it"):
        found_in(b"  \n")


def test_what_goes_out_comes_in_again_and_has_what_is_asked_for():
    said = recipe_out("Shell", ["420 g plain flour", "280 g lard"], ["Rub it in."], makes="6 pieces", minutes=208)
    found = json.loads(said)
    assert found["totalTime"] == "PT3H28M" and found["recipeInstructions"][0]["@type"] == "HowToStep"
    for asked in ("@context", "@type", "name", "recipeYield", "recipeIngredient", "recipeInstructions"):
        assert found[asked]
    (again,) = found_in(said.encode()).recipes
    assert again.name == "Shell" and grams(again.text) == {"plain flour": 420, "lard": 280}
    assert [duration_iso(minutes) for minutes in (0, 59.6, 60, 1445)] == ["PT0M", "PT1H", "PT1H", "PT24H5M"]


# -- tables


def test_a_table_of_one_recipe_by_its_headings():
    data = "Ingredient;Weight (g);Notes\nplain flour;420;sifted\nlard;210,5;cold\nTotal;630,5;\n"
    (found,) = found_in(data.encode(), "harbour pie.csv").recipes
    assert found.name == "Harbour pie" and found.text.splitlines()[1] == "420 g plain flour, sifted"
    assert grams(found.text) == {"plain flour": 420, "lard": 210.5}


def test_a_table_with_a_recipe_in_each_column_or_each_name():
    columns = "what,Shell kg,Lid\nplain flour,1.2,500\nlard,,250\nwater,0.3,125\n"
    shell, lid = found_in(columns.encode(), "two.csv").recipes
    assert (shell.name, grams(shell.text)) == ("Shell kg", {"plain flour": 1200, "water": 300})
    assert grams(lid.text) == {"plain flour": 500, "lard": 250, "water": 125}
    names = "recipe,ingredient,qty,unit\nShell,plain flour,1,kg\nLid,plain flour,500,g\nShell,lard,8,oz\n"
    shell, lid = found_in(names.encode(), "two.csv").recipes
    assert shell.name == "Shell" and grams(shell.text)["lard"] == pytest.approx(8 * 28.3495, abs=0.1)


def test_a_table_that_nobody_understands_is_mapped_by_hand():
    data = "Zutat,Menge\nplain flour,about 420\nlard,about 210\n"
    found = found_in(data.encode(), "odd.csv")
    assert not found.recipes and found.tables[0].head == ("Zutat", "Menge")
    assert guessed(found.tables[0]) == ("ingredient", "")
    (recipe,) = recipes_of_table(found.tables[0], ("ingredient", "amount"))
    assert "about 420" in recipe.text
    with pytest.raises(BadFile, match="which column holds the ingredient"):
        recipes_of_table(found.tables[0], ("", "amount"))


def sheets(**found):
    book = Workbook()
    book.remove(book.active)
    for name, rows in found.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_spreadsheet_with_a_recipe_on_each_sheet():
    rows = [("ingredient", "g"), ("plain flour", 420), ("lard", 210.5)]
    shell, lid = found_in(
        sheets(Shell=rows, Lid=[("item", "weight"), ("plain flour", 100)], Empty=[]), "b.xlsx"
    ).recipes
    assert (shell.name, lid.name) == ("Shell", "Lid")
    assert grams(shell.text) == {"plain flour": 420, "lard": 210.5}


@pytest.mark.parametrize(
    ("data", "name", "words"),
    [
        (b"PK\x03\x04 and half a file", "x.xlsx", "no spreadsheet that can be read"),
        (sheets(A=[("ingredient", "g"), ("lard", 1)])[:3000], "x.xlsx", "no spreadsheet that can be read"),
        (sheets(A=[]), "x.xlsx", "is empty"),
        (b"ingredient,g\n", "x.csv", "no row under a heading"),
        (b"ingredient,g\nlard,5,6\n", "x.csv", "row 2: it has more cells"),
        (b'ingredient,g\n"lard,5\n', "x.csv", "no table"),
        (("ingredient,g\n" + "lard,5\n" * 2001).encode(), "x.csv", "2,002 rows; at most 2,000"),
        ("ingredient,g\nlärd,5\n".encode("latin-1"), "x.csv", "Line 2 is not UTF-8"),
        (b"x" * 20_000_001, "x.txt", "at most 20 MB"),
    ],
)
def test_a_table_that_is_wrong_is_refused_with_its_row(data, name, words):
    with pytest.raises(BadFile, match=words):
        found_in(data, name)


def test_a_packed_bomb_is_refused_before_it_is_opened():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/workbook.xml", b"0" * 70_000_000)
    assert len(out.getvalue()) < 200_000
    with pytest.raises(BadFile, match="would unpack to 70 MB"):
        found_in(out.getvalue(), "bomb.xlsx")


def test_entities_of_a_spreadsheet_are_not_opened():
    out, bomb = io.BytesIO(), sheets(A=[("ingredient", "g"), ("lard", 1)])
    entity = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/hostname">]><workbook>&a;</workbook>'
    with zipfile.ZipFile(io.BytesIO(bomb)) as whole, zipfile.ZipFile(out, "w") as packed:
        for each in whole.namelist():
            packed.writestr(each, entity if each == "xl/workbook.xml" else whole.read(each))
    with pytest.raises(BadFile, match="no spreadsheet that can be read"):
        found_in(out.getvalue(), "x.xlsx")


@pytest.mark.parametrize("cell", ["=1+1", "+cmd", "-2+3", "@sum", "\tx", "'=x", "plain", "-4.5", "12"])
def test_no_cell_is_reckoned_and_every_cell_comes_back(cell):
    written = csv_text(("a", "b"), [(cell, 1.5)])
    kept = written.splitlines()[1].split(",")[0].strip('"')
    assert not kept.startswith(("=", "+", "@")) and (kept == cell or kept == f"'{cell}")
    assert plain_cell(safe_cell(cell)) == cell or cell == "'=x"


def test_a_csv_of_our_own_is_a_table_again():
    table = table_of_csv(csv_text(("ingredient", "g"), [("=lard", 5), ("butter", 2.25)]), "own")
    assert table.rows == (("=lard", "5"), ("butter", "2.25"))
