"""Ratios against the worked examples of the reference calculations, and families against their table."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import NegativeWeight, NoFlour
from northfold.core.formula.families import families, fits, traits
from northfold.core.formula.ratio import AS_FLOUR, NOT_FLOUR, Counting, counts_as, parts_of, ratio_of
from northfold.core.formula.readout import read_out
from northfold.core.matter import reference_ingredients
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines


@pytest.mark.parametrize(
    ("recipe", "fat", "water", "sugar"),
    [(HARBOUR, 54.7, 44.0, 0.0), (SWEET, 53.0, 17.2, 34.9), (CHEESE, 58.0, 35.5, 0.3)],
)
def test_true_ratio_of_the_worked_examples(recipe, fat, water, sugar):
    ratio = ratio_of(lines(*recipe))
    assert ratio.true_fat == pytest.approx(fat, abs=0.1)
    assert ratio.true_water == pytest.approx(water, abs=0.1)
    assert ratio.true_sugar == pytest.approx(sugar, abs=0.1)


def test_headline_is_said_in_small_whole_parts():
    assert ratio_of(lines(*HARBOUR)).parts == (3, 2, 1)
    assert parts_of(100, 50, 25) == (4, 2, 1)
    assert parts_of(100, 100 * 2 / 3 * 1.019, 33.3) == (3, 2, 1)  # within 2 %
    assert parts_of(100, 100 * 2 / 3 * 1.025, 33.3) == (100, 68, 33)  # beyond it
    assert parts_of(100, 50, 0) == (2, 1, 0)
    assert parts_of(100, 1, 50) == (100, 1, 50)  # a little fat is not none


def test_dry_dairy_counts_in_neither_and_is_named():
    ratio = ratio_of(lines(*CHEESE))
    assert ratio.fat == pytest.approx(100 * 180 / 320)
    assert ratio.liquid == pytest.approx(100 * 65 / 320)
    assert ratio.uncounted == ("hard mature cheese",)
    table = reference_ingredients()
    assert counts_as(table["soured cream"], starch_is_flour=False) == "liquid"  # 0.74 water
    assert counts_as(table["double cream"], starch_is_flour=False) == ""  # 0.475 water


def test_what_moves_the_true_ratio_is_named_largest_first():
    movers = ratio_of(lines(*CHEESE)).movers
    assert [(m.what, m.ingredient, round(m.grams)) for m in movers[:3]] == [
        ("water", "hard mature cheese", 30),
        ("fat", "hard mature cheese", 27),
        ("water", "unsalted butter", 19),
    ]


def test_starch_and_nuts_count_as_flour_only_without_gluten():
    mixed = ratio_of(lines((200, "plain flour"), (100, "ground almonds"), (100, "lard")))
    assert (mixed.flour_g, mixed.fat) == (200, 50)
    assert mixed.true_sugar == pytest.approx(100 * 0.045 * 100 / 200)
    without = ratio_of(lines((200, "buckwheat flour"), (100, "ground almonds"), (100, "potato starch"), (100, "lard")))
    assert (without.flour_g, without.fat, without.true_sugar) == (400, 25, 0)
    assert without.true_water == pytest.approx(100 * 0.001 * 100 / 400)  # only the lard's own


def test_salt_counts_salted_fat_and_cheese():
    ratio = ratio_of(lines((100, "plain flour"), (100, "salted butter"), (100, "hard mature cheese"), (1, "fine salt")))
    assert ratio.salt == pytest.approx(1.7 + 1.8 + 0.998)


def test_without_flour_or_with_negative_weight_there_is_no_ratio():
    with pytest.raises(NoFlour, match="420 g plain flour"):
        ratio_of(lines((100, "unsalted butter")))
    with pytest.raises(NegativeWeight, match="-5 g is below zero"):
        ratio_of(lines((100, "plain flour"), (-5, "water")))


@given(st.lists(st.floats(1, 5000), min_size=4, max_size=4), st.floats(0.1, 20))
def test_ratio_does_not_depend_on_the_size_of_the_batch(weights, factor):
    names = ["strong flour", "unsalted butter", "whole egg", "honey"]
    small = ratio_of(lines(*zip(weights, names, strict=True)))
    large = ratio_of(lines(*zip([w * factor for w in weights], names, strict=True)))
    for figure in ("fat", "liquid", "sugar", "true_fat", "true_water", "true_sugar"):
        assert getattr(large, figure) == pytest.approx(getattr(small, figure), rel=1e-9)


def fits_of(*recipe):
    dough = lines(*recipe)
    return fits(ratio_of(dough), dough)


def test_pie_dough_fits_and_the_nearest_say_what_keeps_it_out():
    first, second, third = fits_of(*HARBOUR)[:3]
    assert first.family.key == "pie"
    assert first.inside
    assert second.family.key == "rough_puff"
    assert second.distance == pytest.approx((36 - 100 / 3) / 26)
    assert [(m.axis, m.wish, round(m.amount, 1)) for m in second.misses] == [("liquid", "more", 2.7)]
    assert third.family.key == "savoury_shortcrust"
    assert [(m.axis, m.wish, round(m.amount, 1)) for m in third.misses] == [("fat", "less", 6.7)]


def test_conditions_keep_families_out():
    def keys(*recipe):
        return {fit.family.key for fit in fits_of(*recipe)}

    plain = keys(*HARBOUR)
    assert {"stretched", "laminated_yeast", "hot_water", "without_gluten"}.isdisjoint(plain)
    assert keys((100, "buckwheat flour"), (50, "unsalted butter")) == {"without_gluten"}
    oil = ((400, "strong flour"), (40, "sunflower oil"), (210, "water"), (8, "cider vinegar"))
    assert "stretched" in keys(*oil)
    assert {"pie", "rough_puff", "classic_puff"}.isdisjoint(keys(*oil))
    assert "stretched" not in keys(*oil[:3])  # no acid
    assert "stretched" not in keys((400, "soft flour"), *oil[1:])
    assert "laminated_yeast" in keys(*HARBOUR, (8, "instant dry yeast"))


def test_melted_fat_is_read_from_the_words_of_a_line():
    from northfold.core.formula.ratio import DoughLine

    table = reference_ingredients()
    dough = (
        DoughLine.of(table["plain flour"], 400),
        DoughLine(table["lard"], 140, 140, 140, "140 g lard, melted", "melted"),
        DoughLine.of(table["water"], 160),
    )
    assert "melted_fat" in traits(dough)
    assert fits(ratio_of(dough), dough)[0].family.key == "hot_water"


def test_oil_lowers_the_fat_that_shortcrust_needs():
    oil = fits_of((100, "plain flour"), (37, "sunflower oil"), (30, "water"))
    assert "savoury_shortcrust" in {fit.family.key for fit in oil if fit.inside}
    butter = fits_of((100, "plain flour"), (37, "unsalted butter"), (30, "water"))
    assert "savoury_shortcrust" not in {fit.family.key for fit in butter if fit.inside}


def test_every_family_holds_its_own_middle():
    for family in families():
        middle = {axis: sum(getattr(family, axis)) / 2 for axis in ("fat", "liquid", "sugar")}
        assert all(getattr(family, axis)[0] < middle[axis] < getattr(family, axis)[1] for axis in middle)
        assert len(family.short) <= 12


def test_readout_names_number_threshold_and_lever():
    def said(*recipe):
        dough = lines(*recipe)
        ratio = ratio_of(dough)
        return {statement.label: statement for statement in read_out(dough, ratio, fits(ratio, dough))}

    tender = said(*HARBOUR)["true water"]
    assert "45 %" in tender.text
    assert not tender.warn
    # Down to 40 %: (44.003 − 40) % of 420 g is 16.8 g.
    assert tender.lever == "Hold 17 g of water back"
    dry = said((100, "plain flour"), (50, "lard"), (10, "water"))["true water"]
    assert dry.warn
    assert "14 %" in dry.text
    assert said(*HARBOUR[:3], (60, "fine salt"))["salt"].warn
    laminated = said((500, "strong flour"), (350, "dry laminating butter"), (250, "water"), (9, "fine salt"))
    assert not laminated["true water"].warn  # over 45 %, as a laminated dough may be


def test_starch_and_nuts_count_as_flour_by_choice():
    mixed = lines((200, "plain flour"), (100, "ground almonds"), (100, "lard"), (20, "water"))
    assert ratio_of(mixed).flour_g == 200
    chosen = ratio_of(mixed, Counting(AS_FLOUR))
    assert (chosen.flour_g, chosen.fat) == (300, pytest.approx(100 / 3))
    assert chosen.true_water == pytest.approx(100 * 20.1 / 300)  # the nuts' own water leaves the sums
    bare = lines((200, "buckwheat flour"), (100, "potato starch"), (100, "lard"))
    assert ratio_of(bare).flour_g == 300
    assert ratio_of(bare, Counting(NOT_FLOUR)).flour_g == 200


def test_a_declared_base_takes_the_place_of_flour():
    crumb = lines((120, "unsalted butter"), (60, "caster sugar"), (30, "cocoa powder"))
    with pytest.raises(NoFlour):
        ratio_of(crumb)
    ratio = ratio_of(crumb, Counting(base_g=240))
    assert (ratio.flour_g, ratio.fat, ratio.is_of_base) == (240, 50, True)
    assert not ratio_of(lines((100, "plain flour"), (50, "lard")), Counting(base_g=240)).is_of_base


def test_the_fat_of_ground_nuts_is_true_fat_but_coats_nothing():
    plain, nutty = (
        lines((200, "plain flour"), (100, "lard")),
        lines((200, "plain flour"), (100, "lard"), (80, "ground almonds")),
    )
    ratio = ratio_of(nutty)
    # 100 g of lard and half of 80 g of almonds, on 200 g of flour.
    assert ratio.true_fat == pytest.approx(100 * (99.8 + 40) / 200, abs=0.1)
    assert ratio.nut_fat == pytest.approx(20)
    assert [(m.what, m.ingredient) for m in ratio.movers] == [("fat", "ground almonds")]
    assert ratio.true_water == pytest.approx(ratio_of(plain).true_water)


def labels(*dough):
    found = lines(*dough)
    ratio = ratio_of(found)
    return {each.label: each for each in read_out(found, ratio, fits(ratio, found))}


def test_vanilla_is_no_spirit_and_wine_does_not_give_way():
    base = ((250, "plain flour"), (125, "unsalted butter"))
    assert ratio_of(lines(*base, (10, "vanilla extract"))).alcohol == 0
    assert "alcohol" not in labels(*base, (30, "water"), (10, "vanilla extract"))
    wine = labels(*base, (80, "white wine 12 %"))
    assert "spirit in the liquid" not in wine and not wine["alcohol"].warn
    assert labels(*base, (10, "water"), (40, "spirit 40 %"))["spirit in the liquid"].warn


@pytest.mark.parametrize(("grams", "warns"), [(2, False), (5, False), (15, False), (30, False), (45, True)])
def test_a_spoon_of_vinegar_is_not_sour(grams, warns):
    """15 g in 250 g of flour are 6 %; a spoonful relaxes, three of them are tasted."""
    assert labels((250, "plain flour"), (125, "lard"), (60, "water"), (grams, "cider vinegar"))["acid"].warn is warns


def test_hard_cheese_is_cheese_and_no_milk():
    found = labels(*CHEESE)
    assert "cheese" in found and "milk" not in found
    creamy = labels((250, "plain flour"), (125, "lard"), (60, "whole milk"))
    assert "milk" in creamy and "cheese" not in creamy


@pytest.mark.parametrize("name", ["allulose", "erythritol"])
def test_rare_sugars_are_no_starch(name):
    share = reference_ingredients()[name].composition
    assert (share.starch, share.sugar) == (0, 0)
    assert share.sweetener > 0.99
