"""Ingredients as this kitchen knows them: added, changed by revision, refused where they make no sense."""

import pytest

from northfold.core.matter import reference_ingredients
from northfold.core.matter.checks import BadComposition, OutOfOrder, check_ingredient
from northfold.dough import services as dough
from northfold.dough.models import Draft, FormulaVersion
from northfold.dough.queries import desk_of
from northfold.kitchen.ingredient_form import IngredientForm
from northfold.kitchen.models import Ingredient, IngredientRevision
from northfold.kitchen.queries import shelf


def form_of(name):
    """What a browser would send of an ingredient's form, unchanged."""
    form = IngredientForm.of(Ingredient.objects.get(name=name))
    sent = {}
    for field in form:
        value = field.value()
        value = form.fields[field.name].prepare_value(value)
        if value not in (None, "", []):
            sent[field.name] = value
    return sent


def test_every_reference_ingredient_makes_sense():
    for item in reference_ingredients().values():
        check_ingredient(item)


def test_keeping_an_ingredient_unchanged_makes_no_revision(sign_in, pantry):
    client = sign_in("head")
    for name in ("unsalted butter", "plain flour", "whole egg", "sunflower oil"):
        pk = Ingredient.objects.get(name=name).pk
        before = IngredientRevision.objects.count()
        assert client.post(f"/kitchen/ingredients/{pk}/", form_of(name)).status_code == 302, name
        assert IngredientRevision.objects.count() == before, name


def test_new_figures_move_no_saved_formula_and_offer_a_new_version(sign_in, version):
    client = sign_in("head")
    butter = Ingredient.objects.get(name="unsalted butter")
    sent = {**form_of("unsalted butter"), "fat": "84", "water": "14"}
    answer = client.post(f"/kitchen/ingredients/{butter.pk}/", sent, follow=True)
    page = answer.content.decode()
    assert "Harbour tart shell" in page
    assert version.facts.true_fat == pytest.approx(54.7, abs=0.1)
    for figure in ("54.7", "56.0", "44.0", "42.7"):  # 280 × 0.84 ÷ 4.2; (140 + 280 × 0.14) ÷ 4.2
        assert figure in page, figure
    assert FormulaVersion.objects.count() == 1
    client.post(f"/book/using/{butter.pk}/{version.formula_id}/renew/")
    second = version.formula.newest
    assert (second.n, second.facts.true_fat) == (2, pytest.approx(56.0, abs=0.05))
    assert [line.usual_g for line in second.lines.all()] == [420, 280, 140, 7]
    assert "None" in client.get(f"/book/using/{butter.pk}/").content.decode()


def test_an_own_ingredient_is_read_in_recipes(sign_in, pantry):
    client = sign_in("head")
    sent = {"name": "kelp flour", "aliases": "seaweed flour", "role": "flour", "water": "10", "protein": "9",
            "fat": "2", "starch": "50", "fibre": "27", "salt_ash": "2", "g_per_ml": "0.5", "thirst_g_per_100g": "12",
            "may_hold": ["fish"]}  # fmt: skip
    assert client.post("/kitchen/ingredients/new/", sent).status_code == 302
    kelp = shelf()["kelp flour"]
    assert (kelp.composition.starch, kelp.may_hold, kelp.aliases) == (0.5, ("fish",), ("seaweed flour",))
    assert "kelp flour" in client.get("/kitchen/ingredients/?q=seaweed").content.decode()
    named = client.get("/kitchen/ingredients/new/?name=20+g+of+dulse+flakes").content.decode()
    assert 'value="dulse flakes"' in named


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"fat": "50"}, "The parts make 68.0 %"),
        ({"fat": "abc"}, "“abc” is not a number of %"),
        ({"water": "160"}, "160 % is outside 0 to 100 %"),
        ({"sfc": "58 52 60 32 18 11 5 1 0"}, "Fat melts as it warms"),
        ({"sfc": "58 52"}, "nine numbers"),
        ({"roll_c": "warm"}, "Write it like 9–16"),
        ({"roll_c": "16-9"}, "the first must be the colder one"),
        ({"name": "Lard"}, "There is Lard already"),
        ({"g_per_ml_low": "1.2"}, "Densities go from spooned"),
    ],
)
def test_what_makes_no_sense_is_named_and_stays(sign_in, pantry, change, words):
    butter = Ingredient.objects.get(name="unsalted butter")
    answer = sign_in("head").post(f"/kitchen/ingredients/{butter.pk}/", {**form_of("unsalted butter"), **change})
    page = answer.content.decode()
    assert answer.status_code == 422
    assert words in page
    (value,) = change.values()
    assert f'value="{value}"' in page
    assert butter.revisions.count() == 1


def test_checks_of_the_core_name_number_and_remedy():
    item = reference_ingredients()["lard"]
    from dataclasses import replace

    with pytest.raises(BadComposition, match="add what is missing"):
        check_ingredient(replace(item, composition=replace(item.composition, fat=0.5)))
    with pytest.raises(OutOfOrder, match="nine numbers"):
        check_ingredient(replace(item, fat=replace(item.fat, sfc=(1.0, 0.5))))


def test_only_the_head_changes_ingredients(sign_in, pantry):
    pk = Ingredient.objects.get(name="lard").pk
    for role in ("bench", "guest"):
        assert sign_in(role).get(f"/kitchen/ingredients/{pk}/").status_code == 403


def test_an_ingredient_added_for_a_line_leads_back_to_it(sign_in, version, head):
    client = sign_in("head")
    draft = dough.open_draft(head, version.formula)
    sent = {"edit_no": draft.edit_no, "paste": "30 g sumac"}
    here = f"/book/{version.formula_id}/"
    htmx = {"HX-Request": "true", "HX-Current-URL": f"http://testserver{here}"}
    page = client.post(f"{here}edit/", sent, headers=htmx).content.decode()
    assert f"name=30%20g%20sumac&amp;back={here}" in page
    new = {**form_of("oat flour"), "name": "sumac", "aliases": "", "back": here}
    assert client.post("/kitchen/ingredients/new/", new).headers["Location"] == here
    assert "30 g sumac" in client.get(here).content.decode()
    rows = desk_of(Draft.objects.get().payload, version).rows
    assert rows[-1].ingredient.name == "sumac"
    elsewhere = client.post("/kitchen/ingredients/new/", {**new, "name": "fonio", "back": "//elsewhere.example/"})
    assert elsewhere.headers["Location"] == "/kitchen/ingredients/"


def test_a_new_name_alone_is_known_at_once(sign_in, pantry):
    assert "oat flour" in shelf()
    oats = Ingredient.objects.get(name="oat flour")
    sign_in("head").post(f"/kitchen/ingredients/{oats.pk}/", {**form_of("oat flour"), "name": "milled oats"})
    assert "milled oats" in shelf()
    assert "oat flour" not in shelf()
