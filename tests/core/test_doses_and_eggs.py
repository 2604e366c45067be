"""Liquid in a first dose and a reserve, eggs kept whole, diets: figures worked by hand."""

from dataclasses import replace

import pytest

from northfold.core.formula.cost import cost_of, pack_price_per_g
from northfold.core.formula.diets import diets, free_of
from northfold.core.formula.eggs import apply_egg_policy
from northfold.core.formula.liquid import doses, main_flour
from northfold.core.formula.ratio import ratio_of
from northfold.core.formula.swaps import CannotSwap, apply_swap
from northfold.core.matter import reference_ingredients
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines

SHELF = reference_ingredients()
ONE_EGG = ((100, "plain flour"), (50, "unsalted butter"), (60, "water"), (50, "whole egg"))
NUTTY = (
    (200, "plain flour"), (100, "ground almonds"), (140, "unsalted butter"), (60, "icing sugar"), (50, "whole egg"),
    (20, "whole milk"),
)  # fmt: skip
SPIRITED = ((400, "plain flour"), (260, "unsalted butter"), (60, "water"), (60, "spirit 40 %"), (5, "fine salt"))


# -- liquid


def test_without_a_range_a_tenth_is_held_back_to_either_side():
    (dose,) = doses(lines(*HARBOUR), 2.0)
    assert (dose.first_g, dose.usual_g, dose.most_g) == pytest.approx((252, 280, 308))


def test_a_written_range_is_the_range():
    water = replace(lines(*HARBOUR)[2], grams_low=120, grams_high=150)
    (dose,) = doses((*lines(*HARBOUR)[:2], water), 1.0)
    assert (dose.first_g, dose.most_g, dose.reserve_g) == (120, 150, 30)


def test_records_move_the_dose_and_narrow_it_down_to_how_days_differ():
    (dose,) = doses(lines(*HARBOUR), 1.0, 1.05, 0.02, records=3)
    # 14 g to either side × √(0.02² + 0.07²) ÷ √(0.1² + 0.07²) = 8.35
    assert (dose.first_g, dose.usual_g, dose.most_g) == pytest.approx((138.65, 147, 155.35), abs=0.01)
    assert dose.is_learned


def test_the_reserve_is_of_all_free_liquid_and_held_back_from_the_water():
    dough = lines((300, "plain flour"), (100, "whole milk"), (20, "water"))
    (dose,) = doses(dough, 1.0)
    assert dose.index == 2
    assert (dose.first_g, dose.most_g) == pytest.approx((8, 32))
    assert dose.predicted_and_measured_g(26) == (120, 126)


def test_a_dough_without_free_liquid_has_no_dose():
    assert doses(lines(*SWEET), 1.0) == ()


def test_the_flour_there_is_most_of_gives_its_name_to_the_thirst():
    assert main_flour(lines(*CHEESE)) == "plain flour"
    assert main_flour(lines((60, "buckwheat flour"), (90, "ground almonds"))) == "buckwheat flour"


# -- eggs: 260 g with one egg, scaled to 0.6 of it


def test_an_egg_is_beaten_and_weighed():
    rule = apply_egg_policy(lines(*ONE_EGG), 156, "weighed")
    assert rule.weights_g == pytest.approx((60, 30, 36, 30))
    assert (rule.left[0].taken, rule.left[0].left_g, rule.surplus_g) == (1, pytest.approx(20), 0)


def test_a_batch_goes_up_to_whole_eggs_and_leaves_dough():
    rule = apply_egg_policy(lines(*ONE_EGG), 156, "batch_up")
    assert rule.weights_g == pytest.approx((100, 50, 60, 50))
    assert rule.surplus_g == pytest.approx(104)
    assert "104 g more dough" in rule.said
    even = apply_egg_policy(lines(*ONE_EGG), 520, "batch_up")
    assert (even.surplus_g, even.left[0].taken) == (0, 2)


def test_the_nearest_whole_egg_takes_its_water_from_the_liquid():
    rule = apply_egg_policy(lines(*ONE_EGG), 156, "nearest")
    # 20 g more egg bring 15.24 g of water: 36 → 20.76; the rest is brought to 156 − 50 g pro rata.
    rest = 106 / (60 + 30 + 20.76)
    assert rule.weights_g == pytest.approx((60 * rest, 30 * rest, 20.76 * rest, 50))
    assert sum(rule.weights_g) == pytest.approx(156)
    assert "15 g less water" in rule.said


def test_yolks_leave_their_whites_and_sizes_are_the_recipes_own():
    yolks = apply_egg_policy(lines((100, "plain flour"), (36, "egg yolk")), 136, "weighed")
    assert yolks.whites_g == pytest.approx(36 * 0.65 / 0.35)
    egg = replace(lines((106, "whole egg"))[0], as_written="2 medium eggs, beaten")
    rule = apply_egg_policy((*lines((200, "plain flour")), egg), 306 * 0.75, "weighed")
    assert (rule.left[0].size_g, rule.left[0].taken) == (53, 2)


# -- diets


@pytest.mark.parametrize(
    ("diet", "dough"),
    [("egg", NUTTY), ("egg", SWEET), ("milk", NUTTY), ("milk", CHEESE), ("milk", HARBOUR), ("alcohol", SPIRITED)],
)
def test_a_diet_keeps_true_fat_and_true_water(diet, dough):
    before = lines(*dough)
    after = apply_swap(before, free_of(before, diet, SHELF).changes)
    assert not any(diets()[diet].is_in(line.ingredient) for line in after)
    then, now = ratio_of(before), ratio_of(after)
    assert now.true_fat * now.flour_g == pytest.approx(then.true_fat * then.flour_g, rel=1e-6)
    assert now.true_water * now.flour_g == pytest.approx(then.true_water * then.flour_g, rel=1e-6)


def test_without_gluten_base_binder_and_thirst():
    before = lines(*HARBOUR)
    after = apply_swap(before, free_of(before, "gluten", SHELF, "buckwheat", "psyllium").changes)
    grams = {line.ingredient.name: line.grams for line in after}
    assert (grams["buckwheat flour"], grams["rice flour"], grams["tapioca starch"]) == pytest.approx((210, 126, 84))
    assert grams["psyllium husk powder"] == pytest.approx(8.4)
    # Thirst 4 and 5 g on 100 g, husk 5 g a gram less the water in it, fat of the husk taken off the butter.
    assert grams["water"] == pytest.approx(140 + 8.4 + 6.3 + 42 - 0.08 * 8.4, abs=0.1)
    assert ratio_of(after).without_gluten


def test_nut_meal_becomes_flour_and_its_fat():
    before = lines(*NUTTY)
    grams = {line.ingredient.name: line.grams for line in apply_swap(before, free_of(before, "nuts", SHELF).changes)}
    assert grams["plain flour"] == pytest.approx(250)
    assert grams["unsalted butter"] == pytest.approx(140 + 50 / 0.82)


def test_what_is_not_in_it_cannot_be_left_out_and_traces_are_named():
    with pytest.raises(CannotSwap, match="holds no nuts"):
        free_of(lines(*HARBOUR), "nuts", SHELF)
    with pytest.raises(CannotSwap, match="choose gluten, egg, milk"):
        free_of(lines(*HARBOUR), "sugar", SHELF)
    flour = replace(SHELF["plain flour"], may_hold=("milk",))
    dough = (replace(lines(*HARBOUR)[0], ingredient=flour), *lines(*HARBOUR)[1:])
    assert any("may hold traces of milk" in said for said in free_of(dough, "milk", SHELF).remarks)


# -- cost


def test_cost_counts_waste_and_names_what_has_no_price():
    assert pack_price_per_g(4.0, 1000, 0.2) == pytest.approx(0.005)
    cost = cost_of(lines(*HARBOUR), {"plain flour": 0.001, "unsalted butter": 0.01})
    assert (cost.total, cost.unpriced) == (pytest.approx(0.42 + 2.8), ("fine salt",))
    assert cost.per_kg == pytest.approx(3.22 / 0.847)


def test_the_nearest_egg_in_a_small_batch_says_that_the_water_rises():
    """100 g of flour want 0.4 of an egg; a whole one brings 23 g more water than the 10 g of water can give way to."""
    dough = lines((250, "plain flour"), (125, "lard"), (50, "whole egg"), (10, "water"))
    small = apply_egg_policy(dough, 100, "nearest")
    assert "true water rises from" in small.said
    assert "true water" not in apply_egg_policy(dough, 435, "nearest").said
    assert "true water" not in apply_egg_policy(dough, 100, "weighed").said
