"""Recipes from elsewhere: looked over, opened on the desk, saved all or none, taken back."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from northfold.dough import services
from northfold.dough.models import Draft, Formula

TWO = b"recipe,ingredient,g\nRye shell,plain flour,400\nRye shell,butter,280\nLid,plain flour,500\nLid,moon dust,3\n"


@pytest.fixture
def page(head, sign_in):
    return sign_in("head")


def read(page, data, name="two.csv"):
    return page.post("/book/read/", {"file": SimpleUploadedFile(name, data), "source": ""})


def test_a_file_is_looked_over_and_nothing_is_written(page):
    before = Formula.objects.count()
    said = read(page, TWO).content.decode()
    assert "2 recipes found" in said and "1 can be saved as it is" in said
    assert "“3 g moon dust”" in said and said.count('name="take"') == 1
    assert Formula.objects.count() == before and not Draft.objects.exists()


def test_what_is_ticked_is_saved_and_can_be_taken_back(page):
    shell = "Rye shell\n400 g plain flour\n280 g butter"
    sent = {"take": ["1", "2"], "name-1": "Rye shell", "text-1": shell, "kind-1": "dough"}
    sent |= {"name-2": "Plum filling", "text-2": "800 g plum\n90 g sugar", "kind-2": "filling"}
    answer = page.post("/book/read/save/", sent, follow=True)
    assert "2 formulas are in the book." in answer.content.decode()
    kept = Formula.objects.get(name="Rye shell")
    assert [line.usual_g for line in kept.newest.weighed] == [400, 280]
    assert Formula.objects.get(name="Plum filling").kind == "filling"
    again = page.post("/book/read/save/", {**sent, "take": ["1"]}, follow=True)
    assert (
        Formula.objects.filter(name="Rye shell 2").exists() and "Rye shell 2 is in the book" in again.content.decode()
    )
    page.post("/book/read/undo/")
    assert not Formula.objects.kept().filter(name="Rye shell 2").exists()
    assert Formula.objects.kept().filter(name="Rye shell").exists()


def test_one_that_is_not_settled_saves_none(page):
    sent = {"take": ["1", "2"], "name-1": "Good", "text-1": "500 g plain flour\n250 g lard", "kind-1": "dough"}
    sent |= {"name-2": "Odd", "text-2": "500 g plain flour\n3 g moon dust", "kind-2": "dough"}
    said = page.post("/book/read/save/", sent, follow=True).content.decode()
    assert "Nothing was saved" in said and "moon dust" in said
    assert not Formula.objects.filter(name__in=("Good", "Odd")).exists()
    assert "Tick the recipes" in page.post("/book/read/save/", {}, follow=True).content.decode()


def test_one_is_opened_on_the_desk_and_what_stood_there_comes_back(page, head):
    services.open_recipe(head, "Begun", "100 g plain flour")
    sent = {"name": "Lid", "text": "Lid\n500 g plain flour\n3 g moon dust", "kind": "dough"}
    said = page.post("/book/read/open/", sent, follow=True).content.decode()
    assert "moon dust" in said and "“Begun”, which you had not saved, was put aside." in said
    assert Draft.objects.get(user=head, formula=None).payload["name"] == "Lid"
    page.post("/book/0/undo-discard/")
    assert Draft.objects.get(user=head, formula=None).payload["name"] == "Begun"


def test_a_table_that_nobody_understands_is_mapped_by_hand(page):
    said = read(page, b"Zutat,Menge\nplain flour,about 420\nlard,about 210\n", "odd.csv").content.decode()
    assert "What do the columns of Odd hold?" in said
    table = json.dumps({"name": "Odd", "head": ["Zutat", "Menge"], "rows": [["plain flour", "about 420 g"]]})
    wrong = page.post("/book/read/", {"table": table, "column-0": "", "column-1": "amount"})
    assert wrong.status_code == 422 and "which column holds the ingredient" in wrong.content.decode()
    right = page.post("/book/read/", {"table": table, "column-0": "ingredient", "column-1": "amount"})
    assert "1 recipe found" in right.content.decode() and "420 g" in right.content.decode()


@pytest.mark.parametrize(
    "table", ["", "[1]", '{"head": [], "rows": []}', '{"head": ["a"], "rows": [["b", "c"]]}', "{" * 99, "[" * 200_000]
)
def test_a_table_that_was_changed_on_its_way_is_nothing(page, table):
    assert page.post("/book/read/", {"table": table, "column-0": "ingredient"}).status_code in (302, 422)


@pytest.mark.parametrize(
    ("data", "name", "words"),
    [
        (b"PK\x03\x04 half", "x.xlsx", "no spreadsheet that can be read"),
        (b'{"@type": "Person"}', "x.json", "tells no recipe"),
        (b"[" * 90, "x.json", "deeper than 40"),
        ("é".encode("latin-1"), "x.txt", "Line 1 is not UTF-8"),
        (b"", "x.txt", "empty"),
    ],
)
def test_a_hostile_file_is_refused_beside_its_field(page, data, name, words):
    answer = read(page, data, name)
    assert answer.status_code == 422 and words in answer.content.decode()
    assert not Formula.objects.exists()


def test_a_page_that_is_pasted_is_read_and_so_are_rows_of_a_spreadsheet(page):
    source = '<html><script type="application/ld+json">{"@type":"Recipe","name":"Quay","recipeIngredient":'
    source += '["250 g plain flour","125 g butter"]}</script></html>'
    assert "Quay" in page.post("/book/read/", {"source": source}).content.decode()
    rows = "ingredient\tShell\tLid\nplain flour\t400\t200\nlard\t200\t100\n"
    assert "2 recipes found" in page.post("/book/read/", {"source": rows}).content.decode()
    assert page.post("/book/read/", {"source": ""}).status_code == 422


def test_a_pages_source_pasted_on_the_desk_is_read_as_its_recipe(page, head):
    source = "<html><p>" + "x" * 30_000 + '</p><script type="application/ld+json">{"@type":"Recipe","name":"Quay",'
    source += '"recipeIngredient":["250 g plain flour","125 g butter"]}</script></html>'
    page.post("/book/0/edit/", {"paste": source, "edit_no": "0"})
    payload = Draft.objects.get(user=head, formula=None).payload
    assert payload["name"] == "Quay" and [line["text"] for line in payload["lines"]][1:] == [
        "250 g plain flour",
        "125 g butter",
    ]
    said = page.post("/book/0/edit/", {"paste": "<html><body>no recipe</body></html>", "edit_no": "1"})
    assert said.status_code == 422 and "tells no recipe in its source" in said.content.decode()
