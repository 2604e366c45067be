"""Formulas as files: out in four kinds, in again to the last digit, as new, as next version, or as there already."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from jsonschema import Draft202012Validator

from northfold.dough import services
from northfold.dough.files import coming, file_of
from northfold.dough.models import Formula
from northfold.formats.files import checked, json_of
from northfold.formats.formula import FormulaFile
from northfold.formats.schemas import schema
from northfold.kitchen.models import Ingredient
from northfold.makes.services import create_make

SHELL = (
    "Quay shell\n400 g plain flour, sifted\n250-270 g unsalted butter, cold\n90 g water\n1 egg, to glaze\n"
    "Method:\nRub it in."
)


@pytest.fixture
def shell(head):
    return services.save_recipes(head, [("Quay shell", SHELL, "dough")])[0].formula


@pytest.fixture
def tart(head):
    """A mixture that holds another one."""
    services.save_recipes(
        head, [("Salt caramel", "200 g golden syrup\n90 g unsalted butter", "syrup"), ("x", SHELL, "dough")]
    )
    draft = services.open_draft(head, None)
    payload = {**draft.payload, "kind": "cream", "name": "Caramel cream"}
    lines = [services.editing.new_line("300 g double cream"), services.editing.new_line("120 g Salt caramel")]
    draft = services.edit_draft(head, None, draft.edit_no, {**payload, "lines": lines})
    return services.save_version(head, None, draft.edit_no).formula


def out(sign_in, formula, kind, n=1):
    answer = sign_in("guest").get(f"/book/{formula.pk}/v/{n}/file/{kind}/")
    assert answer.status_code == 200 and "attachment" in answer["Content-Disposition"]
    return answer


def test_a_version_goes_out_in_four_kinds(shell, sign_in):
    found = json.loads(out(sign_in, shell, "json").content)
    Draft202012Validator(schema("formula")).validate(found)
    assert found["id"] == str(shell.uuid) and found["version"] == 1
    assert [line.get("g") for line in found["lines"]] == [400, 260, 90, None]
    assert (found["lines"][1]["g_low"], found["lines"][1]["g_high"], found["lines"][3]["part"]) == (250, 270, "glaze")
    linked = json.loads(out(sign_in, shell, "jsonld").content)
    assert linked["@type"] == "Recipe" and linked["recipeIngredient"][0] == "400 g plain flour, sifted"
    assert linked["recipeInstructions"][0]["text"] == "Rub it in."
    table = out(sign_in, shell, "csv")
    assert table.content.decode().splitlines()[1] == 'plain flour,400.0,400.0,400.0,sifted,"400 g plain flour, sifted"'
    assert 'filename="quay-shell-v1.csv"' in table["Content-Disposition"]
    assert out(sign_in, shell, "txt").content.decode().startswith("Quay shell, version 1\n400 g plain flour")
    assert sign_in("guest").get(f"/book/{shell.pk}/v/1/file/exe/").status_code == 404


def read(sign_in, data):
    sent = {"file": SimpleUploadedFile("x.json", data), "source": ""}
    return sign_in("head").post("/book/read/", sent).content.decode()


def test_it_comes_in_as_it_was_and_plans_alike(shell, head, sign_in):
    file = file_of(shell.newest)
    said = read(sign_in, out(sign_in, shell, "json").content)
    assert "as version 1 of Quay shell has it" in said and "Keep it" not in said
    # Into a kitchen that does not have it.
    lines, schools, apart = shell.newest.dough_lines(), shell.newest.own_schools, shell.newest.part_lines()
    Formula.objects.filter(pk=shell.pk).update(uuid="00000000-0000-4000-8000-000000000001", name="Older")
    version = services.take_file(head, file)
    assert version.formula.name == "Quay shell" and str(version.formula.uuid) == file.id
    assert (version.dough_lines(), version.own_schools, version.part_lines()) == (lines, schools, apart)
    assert file_of(version) == file
    assert services.take_file(head, file) == version  # twice doubles nothing


def test_a_file_of_one_that_there_is_becomes_its_next_version(shell, sign_in):
    found = json.loads(out(sign_in, shell, "json").content)
    found["lines"][2]["g"] = 85.5
    assert "becomes version 2 of Quay shell" in read(sign_in, json.dumps(found).encode())
    answer = sign_in("head").post("/book/read/take/", {"file": json.dumps(found)}, follow=True)
    assert "Quay shell has version 2 now." in answer.content.decode()
    assert [line.usual_g for line in shell.newest.weighed] == [400, 260, 85.5]
    assert [line.usual_g for line in shell.versions.get(n=1).weighed] == [400, 260, 90]


def test_a_hand_written_file_without_an_id_and_with_its_own_flour(head, sign_in):
    flour = {"name": "heath flour", "role": "flour", "gluten_factor": 1, "allergens": ["gluten"],
             "composition": {"water": 0.13, "protein": 0.11, "starch": 0.74, "fibre": 0.02}}  # fmt: skip
    found = {"name": "Mine", "lines": [{"ingredient": "heath flour", "g": 500}, {"ingredient": "lard", "g": 250}]}
    assert "“heath flour” is not known" in read(sign_in, json.dumps(found).encode())
    said = read(sign_in, json.dumps({**found, "ingredients": [flour]}).encode())
    assert "New on the shelf: heath flour" in said and not Ingredient.objects.filter(name="heath flour").exists()
    sign_in("head").post("/book/read/take/", {"file": json.dumps({**found, "ingredients": [flour]})})
    mine = Formula.objects.get(name="Mine").newest
    assert mine.weighed[0].ingredient_revision.matter.composition.protein == 0.11
    again = coming(
        checked(json_of(json.dumps({**found, "ingredients": [{**flour, "gluten_factor": 0.5}]})), FormulaFile)
    )
    assert again.told_otherwise == ("heath flour",) and again.says == "new"


def test_a_mixture_takes_what_is_in_it_along(tart, head):
    file = file_of(tart.newest)
    assert [each.name for each in file.mixtures] == ["Salt caramel"] and file.lines[1].mixture == "Salt caramel"
    lines = tart.newest.dough_lines()
    Formula.objects.exclude(name="x").update(binned_at="2026-11-01T00:00Z")
    version = services.take_file(head, file)
    assert version.formula.name == "Caramel cream 2"  # the bin keeps its name
    made = version.weighed[1].of_mixture
    assert made.formula.name == "Salt caramel 2" and [line.grams for line in version.dough_lines()] == [
        line.grams for line in lines
    ]


@pytest.mark.parametrize(
    ("sent", "words"),
    [
        ("{", "no JSON"),
        ('{"name": "x", "lines": []}', "lines"),
        ('{"name": "x", "lines": [{"ingredient": "lard", "g": 5}]}', "No flour"),
        ('{"name": "x", "kind": "cream", "lines": [{"mixture": "y", "g": 5}]}', "no mixture “y” in this file"),
    ],
)
def test_a_wrong_file_writes_nothing(head, sign_in, sent, words):
    answer = sign_in("head").post("/book/read/take/", {"file": sent}, follow=True)
    assert words in answer.content.decode() and "Nothing was saved" in answer.content.decode()
    assert not Formula.objects.exists()


def test_a_formula_is_duplicated_with_the_figures_it_was_weighed_with(shell, head, sign_in, flan_tin):
    create_make(head, shell.newest, tin=flan_tin, count=2, due_at=None)
    answer = sign_in("head").post(f"/book/{shell.pk}/copy/", follow=True)
    copy = Formula.objects.get(name="Quay shell, copy")
    assert "Quay shell, copy is a copy of Quay shell" in answer.content.decode()
    assert copy.newest.dough_lines() == shell.newest.dough_lines() and copy.uuid != shell.uuid
    assert copy.newest.part_lines() == shell.newest.part_lines() and not copy.newest.makes.exists()
    sign_in("head").post(f"/book/{shell.pk}/copy/")
    assert Formula.objects.filter(name="Quay shell, copy 2").exists()
    sign_in("head").post("/book/read/undo/")
    assert not Formula.objects.kept().filter(name="Quay shell, copy 2").exists()


def test_schemas_are_served_for_programs(people, sign_in):
    answer = sign_in("guest").get("/formats/formula.json")
    assert answer["Content-Type"] == "application/schema+json" and json.loads(answer.content) == schema("formula")
    assert sign_in("guest").get("/formats/cake.json").status_code == 404
