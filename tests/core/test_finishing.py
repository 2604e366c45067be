"""Glaze and finish: grams by area and coats, when they go on, what is strewn, dusted, torched; sandwiched biscuits."""

import math
from dataclasses import replace

import pytest

from northfold.core.fill.layers import AREA, GRAMS, SLICE, Layer, NoSuchRule, fill
from northfold.core.fill.mixture import COOLED, IN, OVER, TOP
from northfold.core.heat.bake import colour_said
from northfold.core.method.advice.finished import put_on
from northfold.core.method.advice.sold import egg_uses, needs
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.test_fill import mixture
from tests.core.test_fill_planned import CASE, PIE, keys, planned, step

DISC_CM2 = math.pi * 23**2 / 4  # the deep dish is 230 mm across
BISCUIT = Item(Tin("sandy", "cut_round", 60, 0, 0), 24, 6.0)
CARAMEL = mixture("syrup", "Salt caramel", golden_syrup=200, unsalted_butter=60)


@pytest.mark.parametrize(("glaze", "g_cm2"), [("egg", 0.03), ("milk", 0.05), ("jam", 0.1)])
def test_a_coat_takes_so_much_by_area(glaze, g_cm2):
    """North Fold reference table: egg 0.03, milk 0.05, jam 0.1 g/cm²."""
    pie = planned(PIE, edits=[("glaze", "with", glaze), ("glaze", "coats", "2")])
    (put,) = put_on(pie)
    assert put.grams == pytest.approx(2 * DISC_CM2 * g_cm2 * PIE.count, rel=0.001)
    told = next(each for each in pie.route.steps if each.key.startswith("glaze"))
    assert "twice" in told.look and f"{2 * DISC_CM2 * g_cm2:,.0f} g on each" in told.look


def test_jam_goes_on_hot_juice_midway_and_egg_before():
    def where(*edits):
        pie = planned(PIE, edits=edits)
        return next(each.key for each in pie.route.steps if each.key.startswith("glaze")), pie

    assert where(("glaze", "with", "egg"))[0] == "glaze"
    key, hot = where(("glaze", "with", "jam"))
    assert key == "glaze.after" and keys(hot).index(key) == keys(hot).index("cool.filled") - 1
    key, juice = where(("glaze", "with", "juice"))
    midway = step(juice, "glaze.midway")
    first, low = step(juice, "bake.main"), step(juice, "bake.low")
    assert key == "glaze.midway" and midway.apart and midway.lapses
    assert first.start_min + first.minutes <= midway.start_min < low.start_min + low.minutes
    assert where(("glaze", "with", "egg"), ("glaze", "when", "after"))[0] == "glaze.after"
    assert not any(each.key.startswith("glaze") for each in planned(PIE, edits=[("glaze", "skip", "yes")]).route.steps)


def test_a_wash_browns_from_when_it_goes_on():
    before = planned(PIE, edits=[("glaze", "with", "egg")]).bake.top
    midway = planned(PIE, edits=[("glaze", "with", "egg"), ("glaze", "when", "midway")]).bake.top
    after = planned(PIE, edits=[("glaze", "with", "egg"), ("glaze", "when", "after")]).bake.top
    water = planned(PIE, edits=[("glaze", "with", "water")]).bake.top
    assert before > midway > after == pytest.approx(water), colour_said(before)


def test_what_is_strewn_counts_among_allergens_shopping_and_words():
    pie = planned(PIE, edits=[("glaze", "with", "egg"), ("glaze", "strew", "sesame")])
    assert "sesame" in pie.allergen_words and "egg" in pie.allergen_words
    assert "sesame seed over each while it is wet" in step(pie, "glaze").look
    assert needs(pie)["sesame seed"] == pytest.approx(0.03 * DISC_CM2 * PIE.count, rel=0.001)
    plain = planned(PIE, edits=[("glaze", "with", "water")])
    assert "sesame" not in plain.allergen_words and "sesame seed" not in needs(plain)


def test_egg_for_the_glaze_is_in_the_ledger_less_what_was_kept_back():
    pie = planned(PIE, edits=[("glaze", "with", "egg")])
    (use,) = egg_uses(pie, "pies")
    assert use.where == "the glaze of pies" and use.whole_g == pytest.approx(0.03 * DISC_CM2 * PIE.count, rel=0.001)
    assert egg_uses(pie, "pies", kept_g=40) == ()
    (yolk,) = egg_uses(planned(PIE, edits=[("glaze", "with", "yolk")]), "pies")
    assert yolk.yolk_g == pytest.approx(use.whole_g) and not yolk.whole_g


def test_dusted_and_torched_only_where_somebody_wants_it():
    cream = Layer(mixture("meringue", "Meringue", egg_white=120, caster_sugar=240), TOP, rule=GRAMS, amount=80)
    plain = planned(CASE, cream)
    assert not {"dust", "torch"} & set(keys(plain))
    both = planned(CASE, cream, edits=[("dust", "with", "icing_sugar"), ("torch", "torched", "yes")])
    assert keys(both)[-3:] == ["layer.top", "torch", "dust"]
    assert "flame" in step(both, "torch").caution.lower()
    dusted = next(each for each in put_on(both) if each.what == "dusting")
    assert dusted.grams == pytest.approx(0.01 * DISC_CM2 * CASE.count, rel=0.001)
    assert not planned(CASE, edits=[("dust", "with", "none")]).unused_edits


def test_cream_and_fruit_by_area_and_on_each_slice():
    cream = mixture("cream", "Whipped cream", double_cream=400)
    area = fill(CASE, [Layer(cream, TOP, OVER, rule=AREA, amount=0.5)])
    assert area.grams == pytest.approx(0.5 * DISC_CM2, rel=0.05)
    sliced = fill(replace(CASE, slices=8), [Layer(cream, TOP, rule=SLICE, amount=12)])
    assert sliced.grams == pytest.approx(96)
    with pytest.raises(NoSuchRule, match="how many slices"):
        fill(CASE, [Layer(cream, TOP, rule=SLICE, amount=12)])


def test_biscuits_are_sandwiched_and_one_over_is_told():
    pairs = planned(BISCUIT, Layer(CARAMEL, TOP, IN, rule=GRAMS, amount=5))
    told = step(pairs, "layer.pair")
    assert "10 g of salt caramel on each of 12" in told.look and "layer.top" not in keys(pairs)
    assert pairs.mixtures[0].grams == pytest.approx(24 * 5)
    odd = planned(replace(BISCUIT, count=25), Layer(CARAMEL, TOP, IN, rule=GRAMS, amount=5))
    assert any("one is left over" in each.text for each in odd.route.remarks)
    over = planned(BISCUIT, Layer(CARAMEL, TOP, OVER, rule=GRAMS, amount=5))
    assert "layer.top" in keys(over) and "layer.pair" not in keys(over)
    assert "mixture.1.make" in {each.key for each in pairs.route.steps}


def test_a_cold_filling_is_no_glaze():
    assert not put_on(planned(CASE, Layer(mixture("curd", "Curd", lemon_curd=300), COOLED, rule=GRAMS, amount=200)))
