"""A whole recipe on the Dough desk: its title, what stands apart, what it says of the method, and its drafts."""

import pytest
from django.urls import reverse

from northfold.dough import services as dough
from northfold.dough.models import Draft, FormulaVersion
from northfold.dough.queries import clean_text
from northfold.kitchen.models import Tin
from northfold.makes import services as makes
from northfold.makes.models import StepEdit
from northfold.makes.queries import plan_of
from tests.conftest import write_formula

RECIPE = """Kelp Lane plum tart
250 g plain flour
125 g unsalted butter, frozen and grated
60 g cold water
4 g fine salt
For the filling
300 g plums
60 g ground almonds
To finish
1 egg, for brushing
Roll to 4 mm thick and line a 20 cm tin
Makes 3 tarts
Rest for 2 hours in the fridge
Bake at 200 °C for 25 minutes"""


@pytest.fixture
def desk(sign_in, head):
    """Posts fields to the desk of a new dough; answers the page."""
    client = sign_in("head")
    dough.open_draft(head, None)

    def post(**fields):
        draft = Draft.objects.filter(formula=None).first() or dough.open_draft(head, None)
        sent = {"edit_no": draft.edit_no, **{name.replace("__", "-"): value for name, value in fields.items()}}
        return client.post("/book/0/edit/", sent, headers={"HX-Request": "true"}).content.decode()

    return post


def line(draft, start):
    return next(each for each in draft.payload["lines"] if each["text"].startswith(start))


def test_a_title_gives_the_dough_its_name_and_is_no_line(desk, head):
    desk(paste=RECIPE)
    draft = Draft.objects.get(formula=None)
    assert draft.payload["name"] == "Kelp Lane plum tart"
    version = dough.save_version(head, None, draft.edit_no)
    assert [each.ingredient.name for each in version.dough_lines()] == [
        "plain flour", "unsalted butter", "water", "fine salt",
    ]  # fmt: skip


def test_what_stands_apart_is_kept_and_shown_and_counted_on_demand(desk, head):
    page = desk(paste=RECIPE)
    assert "for the filling" in page and "Count it as dough" in page
    draft = Draft.objects.get(formula=None)
    page = desk(act=f"part:{line(draft, '60 g ground')['id']}:dough")
    assert "ground almonds" in page
    version = dough.save_version(head, None, Draft.objects.get(formula=None).edit_no)
    assert "ground almonds" in [each.ingredient.name for each in version.dough_lines()]
    assert [(part.part, part.ingredient and part.ingredient.name) for part in version.part_lines()] == [
        ("filling", "plum"),
        ("brushing", "whole egg"),
    ]
    assert "1 egg, for brushing (for brushing)" in clean_text(version, "grams")
    # Opened again, every line is where it was saved.
    again = dough.open_draft(head, version.formula)
    assert not again.is_changed
    assert line(again, "300 g plums")["part"] == "filling"


def test_the_recipes_words_set_a_school_and_say_so(desk, head):
    page = desk(paste=RECIPE)
    assert "“frozen” in the recipe sets fat goes in: frozen." in page
    assert "as read: frozen" in page
    version = dough.save_version(head, None, Draft.objects.get(formula=None).edit_no)
    assert dict(version.schools) == {"fat_temperature": "frozen", "mixing": "grater"}


@pytest.mark.parametrize(
    ("words", "school"),
    [
        ("softened", ("fat_temperature", "soft")),
        ("soft", ("fat_temperature", "soft")),
        ("at room temperature", ("fat_temperature", "soft")),
        ("melted", ("fat_temperature", "melted")),
        ("frozen", ("fat_temperature", "frozen")),
        ("straight from the freezer", ("fat_temperature", "frozen")),
    ],
)
def test_how_warm_the_fat_is_said_to_be(head, words, school):
    version = write_formula(head, "Quay", f"250 g flour\n125 g butter, {words}\n60 g water")
    assert school in version.own_schools


@pytest.mark.parametrize(
    ("line_of_method", "mixing"),
    [
        ("Pulse in a food processor for 10 seconds", "processor"),
        ("Rub in the butter for 5 minutes", "fingers"),
        ("Mix with the paddle for 2 min", "paddle"),
        ("Cut in with a pastry blender for 3 min", "blade"),
        ("Whizz in the processor, 20 min rest", "processor"),
    ],
)
def test_how_it_is_said_to_be_mixed(head, line_of_method, mixing):
    version = write_formula(head, "Quay", f"250 g flour\n125 g butter\n60 g water\n{line_of_method}")
    assert ("mixing", mixing) in version.own_schools


def test_a_line_for_two_things_is_split_with_one_tap(desk):
    page = desk(paste="200 g flour, half of it wholemeal\n100 g butter")
    assert "One weight for two things" in page
    draft = Draft.objects.get(formula=None)
    desk(act=f"text:{draft.payload['lines'][0]['id']}:100 g plain flour\n100 g wholemeal flour")
    draft = Draft.objects.get(formula=None)
    assert [each["text"] for each in draft.payload["lines"]] == [
        "100 g plain flour", "100 g wholemeal flour", "100 g butter",
    ]  # fmt: skip


def test_the_wording_of_a_line_is_edited_in_place(desk):
    desk(paste="250 g flour\n125 g buter")
    draft = Draft.objects.get(formula=None)
    second = draft.payload["lines"][1]["id"]
    page = desk(**{f"text-{second}": "130 g lard"})
    assert "130 g lard" in page
    changed = Draft.objects.get(formula=None).payload["lines"][1]
    assert (changed["id"], changed["text"], changed["grams"]) == (second, "130 g lard", "")


def test_a_new_dough_is_started_afresh_and_comes_back(desk, sign_in, head):
    page = desk(paste="250 g flour")
    assert "Start again" in page
    client = sign_in("head")
    client.post(reverse("dough:discard", args=[0]))
    assert Draft.objects.get(formula=None).payload["lines"] == []
    client.post(reverse("dough:undo_discard", args=[0]))
    assert [each["text"] for each in Draft.objects.get(formula=None).payload["lines"]] == ["250 g flour"]


def test_drafts_stand_in_the_book(desk, sign_in, head, version):
    desk(paste="250 g flour", name="Gale crust")
    draft = dough.open_draft(head, version.formula)
    dough.edit_draft(head, version.formula, draft.edit_no, {**draft.payload, "note": "less water"})
    page = sign_in("head").get("/book/").content.decode()
    assert "Not saved yet" in page and "Gale crust" in page and "changes to version 1" in page
    other = sign_in("bench").get("/book/").content.decode()
    assert "Gale crust" not in other


def test_us_measures_are_proposed_where_a_recipe_speaks_so(desk):
    page = desk(paste="2 cups all-purpose flour\n1 stick butter\nBake at 375 °F for 20 min")
    assert "this looks like a US recipe" in page
    page = desk(act="system:x:us")
    assert Draft.objects.get(formula=None).payload["system"] == "us"
    assert "this looks like a US recipe" not in page


def test_percentages_by_choice_and_of_a_declared_base(desk, head):
    page = desk(paste="120 g unsalted butter\n60 g caster sugar\n30 g cocoa powder", name="Press crumb")
    assert "no flour" in page.lower()
    page = desk(base_g="240")
    assert "percentages are of the base you chose" in page
    version = dough.save_version(head, None, Draft.objects.get(formula=None).edit_no)
    assert version.counting.base_g == 240
    assert version.facts.fat == 50


def test_a_base_that_is_no_number_is_named_and_kept(desk):
    desk(paste="120 g unsalted butter")
    page = desk(base_g="heaps")
    assert 'value="heaps"' in page and "base-error" in page


def test_nuts_count_as_flour_where_chosen(desk, head):
    desk(paste="200 g plain flour\n100 g ground almonds\n100 g lard", name="Nutty")
    desk(meal="flour")
    version = dough.save_version(head, None, Draft.objects.get(formula=None).edit_no)
    assert version.facts.fat == pytest.approx(100 / 3)


# -- in the make


@pytest.fixture
def told(head, flan_tin):
    version = write_formula(head, "Plum tart", RECIPE)
    return makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)


def test_what_the_recipe_says_is_offered_where_it_belongs(sign_in, told):
    client = sign_in("head")
    size = client.get(f"/makes/{told.pk}/size/").content.decode()
    assert "The recipe says" in size and "4 mm thick" in size and "Makes 3" in size
    assert "oven 200 °C" in client.get(f"/makes/{told.pk}/bake/").content.decode()
    steps = client.get(f"/makes/{told.pk}/steps/").content.decode()
    assert "rest 2 hours" in steps
    assert plan_of(told).bake.oven_c == 190, "nothing is taken unasked"


def test_each_is_taken_with_one_tap(sign_in, told):
    client = sign_in("bench")
    for stage, key in (("bake", "heat0"), ("bake", "bake0"), ("steps", "wait0"), ("size", "thick4"), ("size", "yield")):
        assert client.post(f"/makes/{told.pk}/said/", {"stage": stage, "key": key}).url.endswith(f"/{stage}/")
    plan = plan_of(told)
    assert plan.bake.oven_c == 200
    assert sum(stage.minutes for stage in plan.bake.stages) == 25
    assert plan.pieces[0].item.thickness_mm == 4
    assert told.items.get().count == 3
    assert next(step for step in plan.route.steps if step.key == "rest.1").wait_min == 120
    page = client.get(f"/makes/{told.pk}/size/").content.decode()
    assert "as planned" in page


def test_a_tin_that_is_not_on_the_rack_is_added_and_one_comes_back(sign_in, told):
    client = sign_in("head")
    page = client.get(f"/makes/{told.pk}/size/").content.decode()
    assert "Add a Ø 200 tin" in page
    here = f"/makes/{told.pk}/size/"
    form = client.get(f"{reverse('kitchen:new_tin')}?kind=round&top_mm=200&back={here}").content.decode()
    assert 'value="200"' in form and here in form
    measures = {"name": "Plum tin", "top_mm": "200", "height_mm": "30", "material": "bright", "back": here}
    answer = client.post(f"{reverse('kitchen:new_tin')}?kind=round", measures)
    assert answer.url == here
    tin = Tin.objects.get(name="Plum tin")
    assert f"Use {tin}" in client.get(here).content.decode()
    client.post(f"/makes/{told.pk}/said/", {"stage": "size", "key": "tin0"})
    assert told.items.get().tin == tin


def test_a_make_starts_from_the_tin_and_number_that_the_recipe_names(sign_in, head, told):
    Tin.objects.create(name="Plum tin", kind="round", top_mm=200, base_mm=200, height_mm=30)
    page = sign_in("head").get(f"/makes/new/{told.formula_version.formula_id}/").content.decode()
    assert 'value="3"' in page
    assert "selected" in page.split("Plum tin")[0][-40:]


def test_what_is_not_offered_any_more_is_refused_in_words(sign_in, told):
    answer = sign_in("bench").post(f"/makes/{told.pk}/said/", {"stage": "bake", "key": "heat9"}, follow=True)
    assert "no longer offered" in answer.content.decode()
    assert not StepEdit.objects.exists()
    makes.start_make(told)
    answer = sign_in("bench").post(f"/makes/{told.pk}/said/", {"stage": "bake", "key": "heat0"}, follow=True)
    assert answer.status_code == 200
    assert FormulaVersion.objects.count() == 1


def test_a_raw_filling_of_the_recipe_is_baked_hot_through(head, flan_tin):
    text = "300 g plain flour\n150 g lard\n90 g water\nFor the filling:\n500 g pork shoulder, diced"
    pork = makes.create_make(head, write_formula(head, "Pork pie", text), tin=flan_tin, count=1, due_at=None)
    item = pork.items.get()
    item.cover = "lid"
    item.save()
    assert plan_of(pork).bake.core_c == 75
    item.filling = "rhubarb"
    item.save()
    assert plan_of(pork).bake.core_c is None
