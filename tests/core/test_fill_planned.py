"""Layers in a plan: one number everywhere, what the oven makes of them, what would change them."""

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.bake.fillings import oven_fillings
from northfold.core.bake.worked import worked_bake
from northfold.core.fill.layers import GRAMS, HEAP, MARK, RIM, SHARE, Layer
from northfold.core.fill.ledger import Treatment
from northfold.core.fill.mixture import BETWEEN, COOLED, OVER, RAW, TOP, UNDER
from northfold.core.fill.pictures import juice_column, made_of, piece_section
from northfold.core.fill.settling import COOKED, DRAWN
from northfold.core.method import PlanInputs, Setting, plan
from northfold.core.method.advice.fill_changes import fill_changes
from northfold.core.method.choices.edits import Edit
from northfold.core.method.reckon.mixtures import syrup_made
from northfold.core.shape.blanks import LID, Item, portion
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines
from tests.core.test_fill import DEEP, FLAN, apples, mixture
from tests.core.test_routes import NOW

CUSTARD = mixture("custard", "Chestnut custard", whole_milk=420, double_cream=200, egg_yolk=110, caster_sugar=95)
BERRIES = mixture("filling", "Gooseberry filling", gooseberries=700, caster_sugar=140)
CRUMBLE = mixture("crumble", "Oat crumble", rolled_oats=100, caster_sugar=60, flaked_almonds=40)
CURD = mixture("curd", "Lemon curd", lemon_curd=500)
SLAB = Tin("slab", "slab", 400, 0, 0, 300)
CASE, PIE = Item(FLAN, 4, 3.0), Item(DEEP, 2, 4.0, cover=LID)


def planned(item, *layers, edits=(), **setting):
    inputs = PlanInputs(lines(*HARBOUR), (item,), setting=Setting(**setting), now=NOW, layers=(layers,))
    return plan(inputs, [Edit(*edit) for edit in edits])


def step(plan_, key):
    return next(each for each in plan_.route.steps if each.key == key)


def keys(plan_):
    return [each.key for each in plan_.route.along]


# -- one number


def test_one_number_on_every_page_of_a_custard_tart():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    (filled,) = tart.filled
    grams = filled.grams
    assert portion(tart.pieces[0]).filling_g == pytest.approx(grams)
    assert f"{grams:,.0f} g of chestnut custard" in step(tart, "fill.case").look
    (made,) = tart.mixtures
    assert made.grams == pytest.approx(4 * grams)
    assert sum(each.grams for each in made.lines) == pytest.approx(made.grams)
    # In the oven it is as deep as it stands there.
    depth = tart.bake.second.asked.piece.layers[1].thickness_mm
    assert depth == pytest.approx(filled.settled_mm, rel=0.02)


def test_a_case_that_is_filled_between_two_bakes_stops_pale_by_itself():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    assert tart.bake.until == "part" and tart.bake.second.asked.inside.key == "custard"
    assert [key for key in keys(tart) if key in ("seal", "fill.case", "bake.filled")] == [
        "seal", "fill.case", "bake.filled",
    ]  # fmt: skip
    bare = planned(CASE)
    assert bare.bake.until == "full" and bare.bake.second is None and bare.filled == (None,)


def test_what_goes_into_a_cold_case_and_on_top_has_steps_of_its_own():
    tart = planned(CASE, Layer(CURD, COOLED, rule=MARK, amount=4), Layer(BERRIES, TOP, OVER, GRAMS, 200))
    found = keys(tart)
    assert found.index("cool") < found.index("layer.cold") < found.index("layer.top")
    assert "lemon curd" in step(tart, "layer.cold").look and "200 g of gooseberry" in step(tart, "layer.top").look
    assert tart.bake.second is None and tart.bake.until == "full"


def test_a_heap_of_layers_is_the_heap_that_the_lid_is_cut_for():
    flat, heaped = planned(PIE, Layer(BERRIES, rule=RIM)), planned(PIE, Layer(BERRIES, rule=HEAP, amount=25))
    assert flat.pieces[0].item.heap_mm == 0 and heaped.pieces[0].item.heap_mm == pytest.approx(25, abs=0.6)
    lids = [each.pieces[0].parts[1].blank_mm[0] for each in (flat, heaped)]
    assert lids[1] > lids[0]


def test_layers_are_named_from_below_and_their_allergens_each_by_its_layer():
    slab = planned(
        Item(SLAB, 1, 5.0),
        Layer(CRUMBLE, position=OVER, rule=GRAMS, amount=300),
        Layer(BERRIES, rule=GRAMS, amount=1200),
        Layer(CRUMBLE, position=UNDER, rule=GRAMS, amount=100),
    )
    look = step(slab, "fill.slab").look
    assert look.index("100 g of oat crumble") < look.index("1,200 g of gooseberry") < look.index("300 g of oat crumble")
    assert "nuts (almond), in the oat crumble" in slab.allergen_words
    assert slab.mixtures[0].grams == pytest.approx(400)


def test_more_than_fits_is_said_and_the_dough_is_still_planned():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=GRAMS, amount=5000))
    (problem,) = tart.problems
    assert problem.stage == "fill" and "do not fit" in problem.message
    assert tart.ratio is not None and tart.pieces == ()


# -- in the oven


def test_the_oven_finds_the_kind_the_water_and_the_depth_of_the_layers():
    pie = planned(PIE, Layer(BERRIES, rule=RIM))
    inside = pie.bake.asked.inside
    assert inside.key == "fruit" and inside.water == pytest.approx(BERRIES.composition.water)
    meat = planned(PIE, Layer(mixture(minced_beef=600, onion=200), rule=RIM))
    assert meat.bake.asked.inside.safe and meat.bake.core_c == 75
    assert meat.risk.kind == "meat" and "75 °C" in step(meat, "bake.low").look
    for key, name in (("egg", "whole_egg"), ("fish", "smoked_fish"), ("poultry", "chicken")):
        assert planned(PIE, Layer(mixture(leek=300, **{name: 200}), rule=RIM)).risk.kind == key
    # A curd that goes into a cold case is cooked before, and asks nothing of the oven.
    assert planned(CASE, Layer(CURD, COOLED, rule=MARK, amount=3)).risk is None


def test_it_bakes_until_its_starch_binds():
    """Cornflour binds at 90 °C, loose fruit is done at 85. North Fold reference table."""
    starchy = mixture(gooseberries=700, caster_sugar=140, **{"cornflour (starch)": 20})
    bare, bound = (planned(PIE, Layer(each, rule=RIM)) for each in (BERRIES, starchy))
    assert (bare.bake.asked.inside.centre_c, bound.bake.asked.inside.centre_c) == (85, 90)
    sooner, later = (sum(stage.minutes for stage in worked_bake(each.bake.asked).stages) for each in (bare, bound))
    assert later > sooner


def test_drawn_juice_is_told_with_its_mark_in_grams_and_millilitres():
    """The worked example, by the whole make: 336 g of syrup to 289 g, which are 220 ml at 65 %."""
    slab = planned(Item(SLAB, 1, 5.0), Layer(apples(1400, 210), rule=GRAMS, amount=1563.5, treated=Treatment(DRAWN)))
    made = syrup_made(slab.filled[0].laid[0], 1)
    assert made.drawn_g == pytest.approx(336, rel=0.01) and made.grams == pytest.approx(289, rel=0.01)
    assert made.ml == pytest.approx(220, rel=0.02) and "Under its sugar 45 min" in made.says and "back in" in made.says
    assert syrup_made(slab.filled[0].laid[0], 3).grams == pytest.approx(3 * made.grams)
    assert syrup_made(planned(CASE, Layer(CUSTARD, BETWEEN)).filled[0].laid[0], 1) is None


def test_a_dry_layer_halves_what_wets_the_base():
    """Wetting × 0.5 over a dry layer. North Fold reference table."""
    bare = planned(Item(SLAB, 1, 5.0), Layer(BERRIES, rule=GRAMS, amount=1200))
    under = planned(
        Item(SLAB, 1, 5.0),
        Layer(CRUMBLE, position=UNDER, rule=GRAMS, amount=100),
        Layer(BERRIES, rule=GRAMS, amount=1200),
    )
    assert under.bake.asked.inside.wets == pytest.approx(0.5 * bare.bake.asked.inside.wets)
    assert bare.bake.asked.inside.wets == oven_fillings()["fruit"].wets


def test_less_filling_bakes_sooner():
    deep, shallow = (planned(CASE, Layer(CUSTARD, BETWEEN, rule=SHARE, amount=share)) for share in (95, 50))
    minutes = [sum(stage.minutes for stage in each.bake.second.stages) for each in (deep, shallow)]
    assert minutes[0] > minutes[1] + 5


# -- what would change it


def test_drawing_and_cooking_promise_what_laying_it_so_then_keeps():
    pie = planned(PIE, Layer(apples(1400, 210), rule=HEAP, amount=30))
    item, filled = pie.pieces[0].item, pie.filled[0]
    changes = {each.key: each for each in fill_changes(item, filled, 0)}
    assert {"drawn", "cooked", "glaze", "behind", "starch", "packed"} <= changes.keys()
    for key, way in (("drawn", DRAWN), ("cooked", COOKED)):
        then = planned(PIE, Layer(apples(1400, 210), rule=HEAP, amount=30, treated=Treatment(way)))
        assert then.filled[0].gap_mm == pytest.approx(changes[key].gap_mm, abs=0.2)
        assert then.filled[0].laid[0].ledger.free == pytest.approx(changes[key].free_g, rel=0.02)
    # Drawn settles half as much, and gives the juice that is still to come: two fifths of all.
    assert changes["drawn"].gap_mm == pytest.approx(filled.gap_mm / 2, rel=0.02)
    assert changes["drawn"].free_g == pytest.approx(0.4 * filled.laid[0].ledger.free, rel=0.3)
    assert changes["starch"].free_g == 0 and "cornflour" in changes["starch"].name


def test_nothing_is_offered_for_a_custard():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    assert fill_changes(tart.pieces[0].item, tart.filled[0], 0) == ()


# -- the pictures


def test_the_section_is_to_scale_and_its_words_stand_apart():
    slab = planned(
        Item(SLAB, 1, 5.0),
        *(Layer(CRUMBLE, position=UNDER, rule=GRAMS, amount=60), Layer(BERRIES, rule=GRAMS, amount=1200)),
        Layer(CRUMBLE, position=OVER, rule=GRAMS, amount=200),
    )
    for each in (slab, planned(PIE, Layer(BERRIES, rule=HEAP, amount=20)), planned(CASE, Layer(CUSTARD, BETWEEN))):
        item, filled = each.pieces[0].item, each.filled[0]
        picture = piece_section(item, filled)
        labels = sorted(layer.label_y for layer in picture.layers)
        assert all(b - a >= 40 for a, b in pairwise(labels))
        assert labels[-1] + 18 < picture.height
        heights = [(layer.to_mm - layer.from_mm, layer.outline) for layer in picture.layers if not item.has_lid]
        drawn = [(mm, max(y for _, y in points) - min(y for _, y in points)) for mm, points in heights]
        scales = [px / mm for mm, px in drawn if px > 6]
        assert all(scale == pytest.approx(scales[0], rel=0.02) for scale in scales)
        assert [layer.grams for layer in picture.layers] == [laid.grams for laid in filled.laid]


def test_both_columns_of_the_juice_are_as_high_as_each_other():
    pie = planned(PIE, Layer(apples(1400, 210, **{"cornflour (starch)": 4}), rule=RIM, treated=Treatment(DRAWN)))
    column = juice_column([each.ledger for each in pie.filled[0].laid])
    assert sum(each.grams for each in column.gives) == pytest.approx(column.whole_g, rel=0.01)
    assert sum(each.grams for each in column.goes) == pytest.approx(column.whole_g, rel=0.01)
    assert {each.key for each in column.goes} >= {"steamed", "syrup", "bound", "free"}
    assert juice_column([]) is None
    strips = made_of(CUSTARD)
    for strip in (strips.lines, strips.parts):
        assert sum(each.width for each in strip) == pytest.approx(strips.width)
        assert sum(each.share for each in strip) == pytest.approx(1)


@settings(max_examples=25, deadline=None)
@given(
    share=st.floats(20, 100),
    crumbs=st.floats(0, 40),
    way=st.sampled_from(["raw", "drawn", "cooked"]),
    thick=st.floats(2.5, 4.5),
    lidded=st.booleans(),
)
def test_what_is_laid_never_exceeds_its_room_and_is_told_alike_everywhere(share, crumbs, way, thick, lidded):
    item = replace(PIE, thickness_mm=thick) if lidded else Item(SLAB, 1, thick)
    layers = [Layer(BERRIES, rule=SHARE, amount=share * 0.8, treated=Treatment(way))]
    if crumbs >= 1:
        layers.append(Layer(CRUMBLE, position=UNDER, rule=GRAMS, amount=crumbs))
    found = planned(item, *layers)
    (filled,) = found.filled
    assert not found.problems
    assert sum(each.new_ml for each in filled.laid) <= filled.room.whole_ml * 1.03
    baked = [each for each in filled.laid if each.layer.when in (RAW, BETWEEN)]
    assert found.pieces[0].item.filling_g == pytest.approx(sum(each.grams for each in baked))
    for made in found.mixtures:
        assert made.grams == pytest.approx(
            item.count * sum(each.made.grams for each in filled.laid if each.layer.mixture == made.mixture)
        )


def test_a_second_bake_is_told_by_what_fills_it_and_probed_for_one_heat():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    fruit = planned(CASE, Layer(BERRIES, BETWEEN, rule=GRAMS, amount=500))
    assert "trembles" in step(tart, "bake.filled").look and "bubbles" in step(fruit, "bake.filled").look
    # Safe at 75 °C, set at 80: it is probed for what is asked last, and no page tells another figure.
    assert "80 °C" in step(tart, "bake.filled").look and "75 °C" not in step(tart, "bake.filled").look
    assert step(tart, "bake.filled").probe_to_c == 80
    assert all(each.look and each.why for each in oven_fillings().values())
