"""Swaps keep fat and water; moving one number holds the flour."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.formula.families import families, fits, traits
from northfold.core.formula.ratio import ratio_of
from northfold.core.formula.swaps import (
    CannotSwap,
    apply_swap,
    move_to,
    move_to_centre,
    reweigh,
    swap_fat,
    swap_flour,
)
from northfold.core.formula.triangle import triangle
from northfold.core.matter import reference_ingredients
from tests.core.examples import HARBOUR, lines

SHELF = reference_ingredients()
FATS = sorted(name for name, item in SHELF.items() if item.role == "fat" and item.composition.fat > 0)


def grams(changes):
    return {change.ingredient.name: change.after_g for change in changes}


def test_two_hundred_butter_for_lard():
    """200 g unsalted butter → 164.3 g lard + 31.8 g water (±0.5)."""
    dough = lines((300, "plain flour"), (200, "unsalted butter"), (100, "water"), (5, "fine salt"))
    found = grams(swap_fat(dough, 1, SHELF["lard"], SHELF).changes)
    assert found["lard"] == pytest.approx(164.3, abs=0.5)
    assert found["water"] == pytest.approx(131.8, abs=0.5)


def test_without_a_line_of_water_one_comes_new():
    dough = lines((300, "plain flour"), (200, "unsalted butter"))
    new = [change for change in swap_fat(dough, 1, SHELF["lard"], SHELF).changes if change.number is None]
    assert [(change.ingredient.name, pytest.approx(change.after_g, abs=0.1)) for change in new] == [("water", 31.8)]


def test_salt_follows_the_salted_fat():
    dough = lines((300, "plain flour"), (200, "salted butter"), (100, "water"), (2, "fine salt"))
    found = grams(swap_fat(dough, 1, SHELF["unsalted butter"], SHELF).changes)
    assert found["fine salt"] == pytest.approx(2 + 200 * 0.017)
    back = lines((300, "plain flour"), (200, "unsalted butter"), (100, "water"))
    salted = swap_fat(back, 1, SHELF["salted butter"], SHELF)
    assert any("no fine salt to take" in remark for remark in salted.remarks)


@given(st.sampled_from(FATS), st.floats(0.05, 1.0))
def test_fat_and_water_stay_whatever_the_fat(name, share):
    dough = lines(*HARBOUR)
    before = ratio_of(dough)
    if name == "unsalted butter":
        return
    after = ratio_of(apply_swap(dough, swap_fat(dough, 1, SHELF[name], SHELF, share).changes))
    assert after.true_fat == pytest.approx(before.true_fat, abs=0.05)
    assert after.true_water == pytest.approx(before.true_water, abs=0.05)


def test_in_part_the_rest_stays():
    found = grams(swap_fat(lines(*HARBOUR), 1, SHELF["lard"], SHELF, 0.25).changes)
    assert found["unsalted butter"] == pytest.approx(210)
    assert found["lard"] == pytest.approx(280 * 0.25 * 0.82 / 0.998)


def test_what_a_fat_costs_is_said():
    lard = swap_fat(lines(*HARBOUR), 1, SHELF["lard"], SHELF).remarks
    assert any("rolls at 4–16 °C, cuts into flakes up to 13 °C" in remark for remark in lard)
    assert any("browns later" in remark for remark in lard)
    oil = swap_fat(lines(*HARBOUR), 1, SHELF["sunflower oil"], SHELF).remarks
    assert any("no flakes" in remark for remark in oil)


def test_flour_brings_its_thirst():
    """Rye drinks 8 g per 100 g more than plain: half of 420 g, 16.8 g."""
    swap = swap_flour(lines(*HARBOUR), 0, SHELF["rye flour"], SHELF, 0.5)
    found = grams(swap.changes)
    assert (found["plain flour"], found["rye flour"], found["water"]) == pytest.approx((210, 210, 140 + 16.8))
    gone = swap_flour(lines(*HARBOUR), 0, SHELF["buckwheat flour"], SHELF)
    assert any("needs another binder" in remark for remark in gone.remarks)


@pytest.mark.parametrize(
    ("number", "to", "share", "error"),
    [(0, "lard", 1, CannotSwap), (1, "unsalted butter", 1, CannotSwap), (9, "lard", 1, CannotSwap),
     (1, "lard", 0, OutsideRange), (1, "lard", 1.5, OutsideRange)],
)  # fmt: skip
def test_what_makes_no_sense_is_refused(number, to, share, error):
    with pytest.raises(error):
        swap_fat(lines(*HARBOUR), number, SHELF[to], SHELF, share)


@given(st.sampled_from(["fat", "liquid"]), st.floats(1, 120))
def test_moving_one_number_holds_the_flour_and_the_others(axis, percent):
    before = ratio_of(lines(*HARBOUR))
    after = ratio_of(apply_swap(lines(*HARBOUR), move_to(lines(*HARBOUR), axis, percent).changes))
    assert getattr(after, axis) == pytest.approx(percent)
    assert after.flour_g == before.flour_g
    other = "liquid" if axis == "fat" else "fat"
    assert getattr(after, other) == pytest.approx(getattr(before, other))


def test_free_liquid_moves_before_egg_and_what_cannot_move_says_so():
    dough = lines((300, "plain flour"), (150, "unsalted butter"), (60, "water"), (50, "whole egg"))
    assert grams(move_to(dough, "liquid", 30).changes) == pytest.approx({"water": 40})
    with pytest.raises(CannotSwap, match="only 60 g of liquid can move"):
        move_to(dough, "liquid", 10)
    with pytest.raises(CannotSwap, match="no line of sugar"):
        move_to(dough, "sugar", 20)
    with pytest.raises(OutsideRange, match="Fat of 900 %"):
        move_to(dough, "fat", 900)


def test_to_the_middle_of_a_family():
    family = next(each for each in families() if each.key == "savoury_shortcrust")
    dough = lines(*HARBOUR)
    after = ratio_of(apply_swap(dough, move_to_centre(dough, family, ratio_of(dough)).changes))
    assert (after.fat, after.liquid, after.flour_g) == (pytest.approx(50), pytest.approx(25), 420)


def test_moving_the_mark_holds_flour_and_gives_free_liquid_the_rest():
    dough = lines((300, "plain flour"), (100, "unsalted butter"), (50, "lard"), (60, "water"), (50, "whole egg"))
    # flour 50 %, fat 30 %, liquid 20 % of the three: 180 g fat, 120 g liquid of which 50 g egg.
    after = apply_swap(dough, reweigh(dough, 0.3, 0.2, SHELF).changes)
    weights = {line.ingredient.name: line.grams for line in after}
    assert weights == pytest.approx(
        {"plain flour": 300, "unsalted butter": 120, "lard": 60, "water": 70, "whole egg": 50}
    )


def test_the_mark_stops_where_no_free_liquid_is_left():
    dough = lines((300, "plain flour"), (150, "unsalted butter"), (60, "water"), (60, "whole egg"))
    swap = reweigh(dough, 0.3, 0.05, SHELF)
    assert grams(swap.changes)["water"] == 0
    assert "egg, dairy and acid alone bring 20.0 %" in swap.remarks[0]


def test_a_dough_without_free_liquid_gets_water_and_nonsense_is_refused():
    dough = lines((300, "plain flour"), (150, "unsalted butter"), (30, "egg yolk"))
    assert grams(reweigh(dough, 0.3, 0.2, SHELF).changes)["water"] == pytest.approx(90)
    for shares in ((-0.1, 0.2), (0.5, 0.45), (0.95, 0.0)):
        with pytest.raises(OutsideRange):
            reweigh(dough, *shares, SHELF)
    with pytest.raises(CannotSwap, match="no line of fat"):
        reweigh(lines((300, "plain flour"), (150, "water")), 0.3, 0.2, SHELF)


@given(st.floats(5, 110), st.floats(5, 60))
def test_the_matrix_of_the_triangle_is_the_way_back_from_px(fat, liquid):
    dough = lines((100, "plain flour"), (fat, "lard"), (liquid, "water"))
    ratio = ratio_of(dough)
    picture = triangle(ratio, fits(ratio, dough), traits(dough))
    if picture.written.outside:
        return
    m, (x, y) = picture.matrix, (picture.written.x, picture.written.y)
    whole = 100 + fat + liquid
    assert m[0] * x + m[1] * y + m[2] == pytest.approx(fat / whole, abs=1e-6)
    assert m[3] * x + m[4] * y + m[5] == pytest.approx(liquid / whole, abs=1e-6)
