"""As it is sold: eggs over a day, nutrients by analysis tables, cost of dough and mixtures, what a make takes."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.fill.egg_ledger import WHITE, WHOLE, YOLK, EggUse, egg_ledger, use_of
from northfold.core.fill.layers import GRAMS, HEAP, MARK, Layer
from northfold.core.fill.ledger import BEHIND, Treatment
from northfold.core.fill.mixture import BETWEEN, COOLED
from northfold.core.fill.settling import DRAWN
from northfold.core.matter.nutrition import nutrients, salt_share
from northfold.core.method.advice.sold import costs, egg_uses, needs, sold
from northfold.core.shape.blanks import Item
from tests.core.test_fill import FLAN, SHELF, apples, mixture
from tests.core.test_fill_planned import CASE, CUSTARD, PIE, planned

# -- eggs


def test_whites_left_of_a_custard_go_into_the_meringue_of_the_same_day():
    """105 g of yolk are six eggs of 50 g (17.5 g of yolk, 32.5 g of white each): 195 g of white are over."""
    custard, meringue = EggUse("the custard", yolk_g=105), EggUse("the meringue", white_g=150)
    alone = egg_ledger([custard])
    assert (alone.eggs, alone.parted) == (6, 6) and alone.over[WHITE] == pytest.approx(195)
    both = egg_ledger([custard, meringue])
    assert both.eggs == 6 and both.over[WHITE] == pytest.approx(45)
    (flow,) = both.flows
    assert (flow.kind, flow.grams, flow.comes_from, flow.goes_to) == (WHITE, 150, "the custard", "the meringue")
    assert "150 g of white left of the custard: use it in the meringue" in flow.words


def test_more_eggs_are_parted_only_for_what_is_still_wanted():
    found = egg_ledger([EggUse("the custard", yolk_g=35), EggUse("the meringue", white_g=130)])
    # Two for the yolks leave 65 g of white; two more give the rest.
    assert found.parted == 4 and found.over[YOLK] == pytest.approx(35)


def test_beaten_egg_is_opened_whole_and_what_stays_of_the_last_is_over():
    found = egg_ledger([EggUse("the dough", whole_g=130)])
    assert found.eggs == 3 and found.parted == 0 and found.over == {WHOLE: pytest.approx(20)}
    assert egg_ledger([]).eggs == 0


@settings(max_examples=100, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 300), st.floats(0, 200), st.floats(0, 300)), max_size=6))
def test_no_yolk_and_no_white_gets_lost(rows):
    uses = [EggUse(f"use {n}", *row) for n, row in enumerate(rows)]
    found = egg_ledger(uses)
    for kind, share in ((YOLK, 0.35), (WHITE, 0.65)):
        wanted = sum(getattr(use, f"{kind}_g") for use in uses)
        # What is parted covers what is wanted; less than a box of it is not told.
        assert found.parted * share * 50 >= wanted - 1.1 * len(uses) - 1
        assert found.over.get(kind, 0) <= found.parted * share * 50 + 1e-6


def test_a_make_tells_what_its_dough_and_its_mixtures_want():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    (use,) = egg_uses(tart, "Harbour tart")
    assert use.where == "the chestnut custard"
    assert use.yolk_g == pytest.approx(4 * tart.filled[0].grams * 110 / CUSTARD.grams)
    assert use_of("nothing", [(line, 10.0) for line in apples().lines]) is None


# -- nutrients


@pytest.mark.parametrize(
    ("name", "kcal", "within"),
    [
        ("plain flour", 350, 20), ("unsalted butter", 740, 20), ("caster sugar", 400, 5), ("whole milk", 64, 4),
        ("whole egg", 140, 12), ("apple", 52, 8), ("gooseberries", 40, 10), ("minced beef", 175, 15),
        ("double cream", 450, 40),
    ],
)  # fmt: skip
def test_energy_agrees_with_public_food_tables(name, kcal, within):
    """kcal in 100 g as public food composition tables have them, within their own spread."""
    assert nutrients([(SHELF[name], 100.0)], 100.0).kcal == pytest.approx(kcal, abs=within)


def test_water_that_bakes_out_takes_nothing_along():
    raw = nutrients([(SHELF["plain flour"], 100.0), (SHELF["water"], 50.0)], 150.0)
    baked = nutrients([(SHELF["plain flour"], 100.0), (SHELF["water"], 50.0)], 120.0)
    assert raw.kcal == baked.kcal and baked.of(100).kcal == pytest.approx(raw.of(100).kcal * 150 / 120)
    assert baked.kj == pytest.approx(4.184 * baked.kcal)
    with pytest.raises(OutsideRange, match="0 g"):
        nutrients([], 0.0)


def test_salt_is_that_of_salt_salted_fat_and_cheese():
    assert salt_share(SHELF["fine salt"]) > 0.95 and salt_share(SHELF["unsalted butter"]) == 0
    assert 0.01 < salt_share(SHELF["salted butter"]) < 0.03 and 0.01 < salt_share(SHELF["feta"]) < 0.05
    assert salt_share(SHELF["apple"]) == 0


# -- sold


PRICES = {"plain flour": 0.001, "unsalted butter": 0.009, "apple": 0.002, "caster sugar": 0.0015, "fine salt": 0.0005}


def test_a_pie_costs_its_dough_and_what_is_bought_of_its_fruit():
    pie = planned(PIE, Layer(apples(1000, 150), rule=GRAMS, amount=1150))
    paid = costs(pie, PRICES)
    # 1,000 g ready are 1,316 g of apples bought.
    assert paid.mixtures == pytest.approx(2 * (1000 / 0.76 * 0.002 + 150 * 0.0015), rel=1e-6)
    assert 2 * paid.each[0] == pytest.approx(paid.total, rel=0.03) and not paid.unpriced
    bought = needs(pie)
    assert bought["apple"] == pytest.approx(2 * 1000 / 0.76) and bought["plain flour"] > 400


def test_what_is_sold_weighs_crust_and_filling_after_the_bake():
    tart = planned(Item(FLAN, 4, 3.0, slices=8), Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    (one,) = sold(tart, PRICES)
    assert one.crust_g == pytest.approx(tart.bake.baked_g[0])
    assert 0.85 * tart.filled[0].grams < one.filling_g < tart.filled[0].grams
    assert one.slice_g == pytest.approx(one.weighs_g / 8)
    assert one.per_slice.kcal == pytest.approx(one.holds.kcal / 8)
    assert one.keeps_days == 2 and one.cold
    # Fat in is fat out.
    fat = sum(
        line.grams * line.ingredient.composition.fat
        for line in CUSTARD.times(tart.filled[0].grams / CUSTARD.grams).lines
    )
    dough = sum(line.grams * line.ingredient.composition.fat for line in tart.lines) / tart.ratio.total_g
    assert one.holds.fat == pytest.approx(fat + dough * tart.pieces[0].net_g, rel=1e-6)


def test_syrup_that_is_left_behind_does_not_count():
    whole = planned(PIE, Layer(apples(1000, 150), rule=HEAP, amount=25))
    less = planned(PIE, Layer(apples(1000, 150), rule=HEAP, amount=25, treated=Treatment(DRAWN, goes=BEHIND)))
    sugars = [sold(each, PRICES)[0].holds for each in (whole, less)]
    assert sugars[1].sugars < sugars[0].sugars and sugars[1].kcal < sugars[0].kcal


def test_a_dry_piece_keeps_longer_than_one_with_cream_in_it():
    dry, cold = (
        planned(CASE),
        planned(CASE, Layer(mixture("cream", "Cream", double_cream=500), COOLED, rule=MARK, amount=3)),
    )
    assert sold(dry, PRICES)[0].keeps_days > sold(cold, PRICES)[0].keeps_days
    assert not sold(dry, PRICES)[0].cold and sold(cold, PRICES)[0].cold
