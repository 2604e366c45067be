"""Tables of the kitchen as CSV, and the book on paper."""

import csv
import io

import pytest

from northfold.bench import services as bench
from northfold.bench.models import BenchEvent
from northfold.dough import services as dough
from northfold.dough.models import Formula
from northfold.kitchen.models import Ingredient, Tin
from northfold.makes import services as makes
from northfold.web.tables import tables


def rows(client, name):
    answer = client.get(f"/tables/{name}.csv")
    assert answer["Content-Type"].startswith("text/csv") and f"northfold-{name}.csv" in answer["Content-Disposition"]
    return list(csv.DictReader(io.StringIO(b"".join(answer.streaming_content).decode())))


def test_every_table_has_a_heading_and_as_many_cells_in_each_row(version, flan_tin, sign_in):
    client = sign_in("guest")
    assert len(tables()) >= 8
    for table in tables():
        for row in rows(client, table.key):
            assert None not in row and None not in row.values(), table.key
            assert tuple(row) == table.head
    assert client.get("/tables/nothing.csv").status_code == 404


def test_ingredients_tins_and_lines_go_out_whole(version, flan_tin, sign_in):
    client = sign_in("guest")
    shelf = {row["ingredient"]: row for row in rows(client, "ingredients")}
    assert len(shelf) == Ingredient.objects.kept().count()
    butter = shelf["unsalted butter"]
    assert (float(butter["water_g_per_g"]), float(butter["fat_g_per_g"])) == (0.16, 0.82)
    assert butter["allergens"] == "milk"
    assert [row["name"] for row in rows(client, "tins")] == [flan_tin.name] and Tin.objects.count() == 1
    lines = rows(client, "lines")
    assert [float(row["g"]) for row in lines] == [line.usual_g for line in version.weighed]
    assert {row["recipe"] for row in lines} == {version.formula.name}


def test_taps_go_out_in_order_and_nothing_in_them_is_reckoned(version, flan_tin, head, sign_in):
    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(make)
    for number, grams in enumerate((420.0, 279.5)):
        bench.record(head, make, step_key="weigh", kind="weighed", value={"line": number, "grams": grams},
                     client_id=f"tap-{number}")  # fmt: skip
    bench.record(head, make, step_key="weigh", kind="note", value={"text": "=1+1"}, client_id="note")
    found = rows(sign_in("guest"), "events")
    assert [int(row["seq"]) for row in found] == [each.seq for each in BenchEvent.objects.order_by("seq")]
    assert {row["make"] for row in found} == {str(make.uuid)} and '"grams": 279.5' in found[1]["value"]
    Formula.objects.update(name="=HYPERLINK(1)")
    assert rows(sign_in("guest"), "lines")[0]["recipe"] == "'=HYPERLINK(1)"


def test_the_lines_of_the_book_come_in_again_as_recipes(head, version, sign_in):
    said = b"".join(sign_in("guest").get("/tables/lines.csv").streaming_content)
    from northfold.formats.elsewhere import found_in

    (recipe,) = found_in(said, "lines.csv").recipes
    assert recipe.name == version.formula.name and "420.0 g plain flour" in recipe.text


@pytest.fixture
def book(head):
    texts = [
        ("Quay shell", "400 g plain flour\n280 g butter\n90 g water\n1 egg, to glaze\nMethod:\nRub it in.", "dough"),
        ("Rye lid", "400 g plain flour\n100 g rye flour\n250 g lard", "dough"),
        ("Plum filling", "800 g plum\n90 g sugar", "filling"),
    ]
    return dough.save_recipes(head, texts)


def test_the_book_is_printed_a_recipe_a_page(book, sign_in):
    client = sign_in("guest")
    said = client.get("/book/print/").content.decode()
    assert said.count('<article class="printed">') == 3 and "3 recipes" in said
    shell = said.split("<article", 2)[1] if "Quay shell" in said.split("<article", 2)[1] else said
    for words in ("Quay shell", "Rub it in.", "1 egg, to glaze", "(for the glaze)", "70.0", "<strong>Holds</strong>"):
        assert words in shell, words
    assert said.index("Plum filling") > said.index("Rye lid")  # mixtures stand behind the doughs
    some = client.get("/book/print/?q=rye").content.decode()
    assert some.count('<article class="printed">') == 1 and "for “rye”" in some
    assert "Nothing to print" in client.get("/book/print/?q=nowhere").content.decode()


def test_what_is_in_the_bin_is_not_printed(book, sign_in):
    dough.bin_formula(book[1].formula)
    assert "Rye lid" not in sign_in("guest").get("/book/print/").content.decode()
