"""How a dough is mixed and what that makes of it: schools, the read-out, ranges kept through the ratio."""

import re

import pytest

from northfold.core.formula.families import fits, traits
from northfold.core.formula.makeup import fat_makeup, liquid_makeup
from northfold.core.formula.ratio import DoughLine, ratio_of
from northfold.core.formula.triangle import triangle
from northfold.core.matter import reference_ingredients
from northfold.core.method import PlanInputs, Schools, Setting, plan
from northfold.core.method.choices.schools import questions
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines, with_block
from tests.core.test_route import made


def said(dough, room_c=20.0, **schools):
    """The statements of a dough by label, mixed in one way."""
    planned = plan(PlanInputs(with_block(*dough), setting=Setting(room_c=room_c), schools=tuple(schools.items())))
    return {statement.label: statement for statement in planned.statements}


def test_a_formulas_own_school_stands_over_the_kitchens_and_a_makes_over_both():
    kitchen = Setting(schools=Schools.of({"mixing": "paddle", "first_rest": "two"}))
    own = PlanInputs(lines(*HARBOUR), setting=kitchen, schools=(("mixing", "knife"), ("first_rest", "nonsense")))
    assert own.worked_in.schools == Schools.of({"mixing": "knife", "first_rest": "two"})
    assert made(("mix", "method", "blade"), setting=kitchen).route.chosen["mixing"] == "blade"


def test_every_question_has_a_default_among_its_options_and_a_place_to_answer_it():
    for question in questions().values():
        assert question.default in question.options
        assert Schools().key(question.key) == question.default
    places = [(question.step, question.field) for question in questions().values()]
    assert len(set(places)) == len(places)


def test_fat_worked_in_coats_the_flour_and_frozen_fat_makes_a_colder_crumb():
    # G: (10 − 6)/5 × 44.0/45 × (1 − 0.45 × 54.7/80 × coating)
    assert made().route.gluten == pytest.approx(0.8 * 0.9778 * (1 - 0.45 * 0.6833 * 0.5), abs=0.002)
    assert made(("mix", "crumb", "sand")).route.gluten == pytest.approx(0.8 * 0.9778 * (1 - 0.45 * 0.6833), abs=0.002)
    grated = made(("mix", "method", "grater"), ("mix", "fat", "frozen"))
    assert grated.mixing.fat_c == -18
    assert grated.mixing.crumb_c < made(("mix", "method", "grater")).mixing.crumb_c - 3


def test_a_crumb_worked_in_needs_no_flake_to_last():
    warm = {"dough": HARBOUR, "setting": Setting(room_c=23)}
    assert made(**warm).mixing.verdict == "smaller flakes"
    assert made(("mix", "crumb", "sand"), **warm).mixing.verdict == "good"


def test_soft_fat_without_a_rest_is_not_scolded():
    planned = plan(
        PlanInputs(
            lines(*SWEET),
            made().inputs.items,
            setting=Setting(room_c=21),
            schools=(("fat_temperature", "soft"), ("first_rest", "none"), ("mixing", "paddle")),
        )
    )
    assert planned.mixing.verdict == "good"
    assert "rest.1" not in {step.key for step in planned.route.steps}
    assert not [statement.label for statement in planned.statements if statement.warn and statement.unit != "%"]
    assert not [remark for remark in planned.route.remarks if remark.step_key == "mix"]


@pytest.mark.parametrize(("crumb", "word"), [("flakes", "flaky"), ("lentils", "short"), ("sand", "sandy")])
def test_the_size_of_the_crumb_is_told(crumb, word):
    statement = said(HARBOUR, crumb=crumb)["pieces of fat"]
    assert word in statement.text
    assert (statement.value, statement.unit) == (questions()["crumb"].options[crumb].size_mm, "mm")


def test_a_hot_kitchen_smears_the_pieces_and_names_what_would_do():
    found = said(HARBOUR, room_c=31)
    assert found["crumb"].warn
    assert re.search(r"Flour at \d", found["crumb"].lever)
    assert "smeared" in found["pieces of fat"].text


def test_sugar_snaps_only_while_the_water_is_low():
    # 100 flour, 60 butter (9.6 water), 20 sugar: with 10 water 19.6 %, with 20 water 29.6 %.
    crisp = said(((100, "plain flour"), (60, "unsalted butter"), (20, "caster sugar"), (10, "water")))["sugar"]
    soft = said(((100, "plain flour"), (60, "unsalted butter"), (20, "caster sugar"), (20, "water")))["sugar"]
    assert "snaps" in crisp.text
    assert "29.6 % is over 22 %" in soft.text
    assert soft.lever == "Hold 8 g of water back"


def test_egg_acid_alcohol_and_block_water_are_told():
    spirited = ((100, "plain flour"), (60, "lard"), (10, "water"), (20, "spirit 40 %"), (1, "cider vinegar"))
    found = said(spirited)
    assert found["alcohol"].value == pytest.approx(6.68)
    assert "Not all of it bakes off" in found["alcohol"].text
    assert found["acid"].text == "Between 0.5 and 2 % it relaxes the dough."
    assert found["spirit in the liquid"].warn  # 20 of 31 g
    assert "browns early" in said(SWEET)["egg"].text
    puff = (
        (500, "strong flour"),
        (50, "unsalted butter"),
        (250, "water"),
        (10, "fine salt"),
        (375, "dry laminating butter"),
    )
    assert said(puff)["block water"].value == pytest.approx(50 + 50 * 0.16 / 5, abs=0.01)


@pytest.mark.parametrize("dough", [HARBOUR, SWEET, CHEESE])
def test_every_statement_names_a_threshold_and_a_lever(dough):
    for statement in said(dough).values():
        assert statement.lever, statement.label
        assert re.search(r"\d|any ", statement.text), statement.label


# -- ranges


def ranged(grams, low, high, name):
    return DoughLine(reference_ingredients()[name], grams, low, high)


def test_low_and_high_are_kept_through_every_ratio():
    dough = (ranged(100, 90, 120, "plain flour"), *lines((60, "lard")), ranged(20, 15, 30, "water"))
    spread = ratio_of(dough).spread
    assert spread.fat == pytest.approx((50, 200 / 3))
    assert spread.liquid == pytest.approx((12.5, 100 / 3))
    assert spread.true_fat == pytest.approx((0.998 * 50, 0.998 * 200 / 3))
    assert ratio_of(lines(*HARBOUR)).spread is None


def test_the_patch_holds_every_corner_and_the_mark():
    dough = (ranged(100, 90, 120, "plain flour"), *lines((60, "lard")), ranged(20, 15, 30, "water"))
    ratio = ratio_of(dough)
    picture = triangle(ratio, fits(ratio, dough), traits(dough))

    def inside(x, y):
        ends = list(zip(picture.patch, (*picture.patch[1:], picture.patch[0]), strict=True))
        turns = [(x2 - x1) * (y - y1) - (y2 - y1) * (x - x1) for (x1, y1), (x2, y2) in ends]
        return all(turn > -1e-6 for turn in turns) or all(turn < 1e-6 for turn in turns)

    assert len(picture.patch) >= 3
    assert inside(picture.written.x, picture.written.y)
    for flour, water in ((90, 15), (90, 30), (120, 15), (120, 30)):
        corner = ratio_of(lines((flour, "plain flour"), (60, "lard"), (water, "water")))
        mark = triangle(corner, fits(corner, dough), traits(dough)).written
        assert inside(mark.x, mark.y)
    exact = ratio_of(lines(*HARBOUR))
    assert triangle(exact, (), frozenset()).patch == ()


def test_makeup_in_makers_words():
    assert fat_makeup(lines(*HARBOUR)) == "all butter"
    assert fat_makeup(lines(*CHEESE)) == "butter with lard"
    assert fat_makeup(lines((100, "plain flour"), (40, "sunflower oil"))) == "oil"
    assert liquid_makeup(lines(*HARBOUR)) == "water only"
    assert liquid_makeup(lines(*CHEESE)) == "water, a little acid"
    assert liquid_makeup(lines((18, "egg yolk"), (17, "cooked egg yolk"))) == "raw and cooked yolk"
