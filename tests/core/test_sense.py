"""What a cook would object to: oil called firm, a block that tempers like a slab, five kilos rubbed in in 8 minutes."""

import math
from dataclasses import replace

import pytest

from northfold.core.matter.fillings import is_juicy
from northfold.core.method import Edit, PlanInputs, Schools, Setting, plan
from northfold.core.method.rules.laminate import block_of
from northfold.core.shape.blanks import LID, Item, Overfilled, check_item, holds_ml, piece, pulses_g, starts_from
from northfold.core.shape.fitting import tins_short
from northfold.core.shape.tins import Tin, kinds
from tests.core.examples import HARBOUR, lines, with_block

FLAN = Tin("flan tin", "round", 230, 230, 25, key="tin:1", owned=8)
OILED = ((200, "wholemeal flour"), (100, "plain flour"), (75, "sunflower oil"), (90, "water"), (5, "fine salt"))
ROUNDS = Tin("round", "cut_round", 60, 0, 0)
SWEET = ((300, "plain flour"), (180, "unsalted butter"), (90, "icing sugar"), (36, "egg yolk"))
HAND = Tin("hand pie", "hand_pie", 140, 0, 0, 95)


def made(dough, item, *edits, room_c=21.0, **schools):
    setting = Setting(room_c=room_c, schools=Schools.of(schools))
    return plan(PlanInputs(with_block(*dough), (item,), setting=setting), [Edit(*each) for each in edits])


def step(planned, key):
    return next(each for each in planned.route.steps if each.key == key)


def test_oil_doughs_rest_on_the_bench_and_are_never_called_firm():
    planned = made(OILED, Item(ROUNDS, 40, 3.0))
    for each in planned.route.steps:
        assert "irm" not in each.look and each.place_key != "fridge", each.key
    assert step(planned, "rest.1").name == "Rest" and step(planned, "chill.1").name == "Rest on the tray"
    butter = made(SWEET, Item(ROUNDS, 40, 3.0))
    assert step(butter, "rest.1").place_key == "fridge" and "firm" in step(butter, "rest.1").look


def test_suet_with_a_raising_agent_is_rolled_at_once():
    plain = ((300, "plain flour"), (150, "beef suet"), (150, "water"), (4, "fine salt"))
    raised = (*plain, (12, "baking powder"))
    lid = Item(Tin("basin", "round", 150, 110, 90), 1, 6.0, cover=LID)
    keys = [step.key for step in made(raised, lid).route.steps]
    assert not {"rest.1", "chill.1"} & set(keys)
    assert any("at once" in each.text for each in made(raised, lid).route.remarks)
    assert "rest.1" in [step.key for step in made(plain, lid).route.steps]
    assert "rest.1" in [step.key for step in made(raised, lid, ("rest.1", "school", "half")).route.steps]


def test_eight_hundred_grams_of_butter_take_an_hour_to_temper_not_a_quarter():
    puff = ((500, "strong flour"), (60, "unsalted butter"), (250, "water"), (350, "dry laminating butter"))
    shells = Item(Tin("shell", "shell", 85, 0, 0), 72, 4.0)
    planned = made(puff, shells)
    assert 700 < planned.fold.inputs.fat_g < 1000
    assert 55 <= step(planned, "fat.slab").wait_min <= 85
    # As bought: 1 : 1.2 : 2, so that 800 g at 950 kg/m³ are 70 mm thick.
    assert block_of(800, 950).across_mm == pytest.approx((800 / 0.95 * 1000 / 2.4) ** (1 / 3))


def test_fat_to_be_frozen_takes_hours():
    frozen = made(HARBOUR, Item(FLAN, 2), fat_temperature="frozen", mixing="grater")
    assert step(frozen, "before").wait_min > 180


# A sandy dough with 8 % of water, as bakers’ minutes are meant for.
DRY = ((300, "plain flour"), (100, "unsalted butter"), (100, "lard"), (120, "icing sugar"))


@pytest.mark.parametrize(("thickness", "low", "high"), [(6, 14, 18), (10, 18, 24)])
def test_biscuits_bake_by_their_thickness_as_bakers_do(thickness, low, high):
    planned = made(DRY, Item(ROUNDS, 40, float(thickness)))
    minutes = planned.bake.stages[0].minutes
    assert low <= minutes <= high
    stage = planned.bake.stages[0]
    assert stage.low_min < minutes < stage.high_min
    assert f"Usually {stage.low_min:.0f}–{stage.high_min:.0f} min" in step(planned, "bake.main").why


def test_hands_grow_with_mass_pieces_and_area():
    few, many = made(HARBOUR, Item(FLAN, 6)), made(HARBOUR, Item(FLAN, 24))
    assert step(few, "mix").hands_min == 8  # up to two kilos
    assert many.dough_g > 6000
    assert step(many, "mix").hands_min == pytest.approx(8 * sum(p.need_g for p in many.pieces) / 2000)
    for key in ("roll.main", "line", "shape"):
        assert step(many, key).hands_min == pytest.approx(4 * step(few, key).hands_min, rel=0.01)


def test_weights_go_to_the_rim():
    """Ø 230 × 25 with 3 mm of dough: 22 mm of pulses, 694 g."""
    assert pulses_g(piece(Item(FLAN, 1, 3.0), 1124.0)) == pytest.approx(694, abs=1)


def test_rest_matters_where_a_dough_is_strong_and_wet():
    strong = ((400, "strong flour"), (240, "unsalted butter"), (200, "water"))

    def said(**schools):
        planned = plan(PlanInputs(lines(*strong), setting=Setting(schools=Schools.of(schools))))
        return next((each for each in planned.statements if each.label == "rest"), None)

    unrested, rested = said(first_rest="none"), said()
    assert unrested.warn and not rested.warn and unrested.value > rested.value + 1
    assert "unrested it shrinks" in unrested.text
    assert not [each for each in plan(PlanInputs(lines(*HARBOUR))).statements if each.label == "rest"]


def test_filled_pieces_are_chilled_as_cold_as_their_filling():
    """Dough and filling by their heat: 96 g at 2.43 and 120 g at 3.6 kJ/(kg K), the filling at the fridge's 4 °C."""
    planned = made(HARBOUR, Item(HAND, 12, 3.0, filling="potato and dill", filling_g=120))
    traced = {each.key: each for each in planned.route.traced}
    rolled, chilled = traced["roll.main"].trace.mean_c[-1], traced["chill.1"].trace.mean_c[0]
    dough = planned.pieces[0].net_g * 2.43
    assert chilled == pytest.approx((dough * rolled + 120 * 3.6 * 4) / (dough + 120 * 3.6), abs=0.05)
    assert "4 °C or colder" in step(planned, "fill").look.replace("\u00a0", " ")


def test_raw_fruit_does_not_wait_on_raw_dough():
    fruit = made(HARBOUR, Item(HAND, 12, 3.0, filling="gooseberries", filling_g=120))
    dry = made(HARBOUR, Item(HAND, 12, 3.0, filling="potato and dill", filling_g=120))
    assert step(fruit, "chill.1").wait_min <= 20 < step(dry, "chill.1").wait_min
    assert any("at most 20 min" in each.text and "soaks in" in each.text for each in fruit.route.remarks)
    assert is_juicy("apple and pear") and not is_juicy("gooseberry jam") and not is_juicy("leek")


def test_a_rolled_up_piece_cools_by_its_roll_and_a_flat_one_without_a_tin():
    """A sheet of 620 × 420 × 0.4 mm with 900 g in it: V = 104 + 900 ml, d = √(4V/πL) = 45.4 mm."""
    item = Item(Tin("pulled", "pulled", 620, 0, 0, 420), 1, 0.4, margin_mm=0, filling_g=900)
    roll = plan(
        PlanInputs(lines((500, "plain flour"), (40, "sunflower oil"), (260, "water")), (item,))
    ).bake.asked.piece
    volume = 620 * 420 * 0.4 + 900_000
    across = math.sqrt(4 * volume / (math.pi * 620))
    # Face by volume of a long roll: 4/d; of its layers, 2 ÷ their depth.
    assert roll.face * 2 / roll.whole_mm == pytest.approx(4 / across, rel=0.04)
    assert made(DRY, Item(ROUNDS, 1, 3.0)).bake.asked.piece.face == 1


def test_it_is_cut_from_what_its_filling_wants():
    """Fruit from 40 °C in the middle, savoury from 60, an empty case once a hand can hold it: 30."""
    deep = Tin("deep", "round", 230, 230, 45)
    wanted = {"gooseberries": 40, "leek and potato": 60, "beef": 60}
    cools = {said: made(HARBOUR, Item(deep, 1, 4.0, cover=LID, filling=said)).bake.cools for said in wanted}
    assert {said: each.to_c for said, each in cools.items()} == wanted
    assert cools["gooseberries"].minutes > cools["leek and potato"].minutes
    # By hand for fruit, all of it as warm as its middle: 1,050 kg/m³ × 3,600 × its volume ÷ its face, through the film
    # of 10 and 4 mm of dry crust of 0.12, from about 90 to 40 °C in a room of 21. Its middle is slower by up to half.
    face, through = 2 / 0.045 + 4 / 0.23, 1 / (1 / 10 + 0.004 / 0.12)
    lumped_min = 1050 * 3600 / (through * face) / 60 * math.log((90 - 21) / (40 - 21))
    assert lumped_min < cools["gooseberries"].minutes < 1.5 * lumped_min
    case = made(HARBOUR, Item(FLAN, 1)).bake.cools
    assert case.to_c == 30 and case.out_min < case.minutes < 40


# -- what a make starts from


def test_a_shape_brings_its_own_thickness_overhang_and_trimming():
    assert starts_from(Tin("pulled", "pulled", 620, 0, 0, 420))["thickness_mm"] == 0.4
    assert starts_from(FLAN) == {"cover": "open", "thickness_mm": 3.0, "overhang_mm": 10.0, "trimming": "after"}
    assert starts_from(FLAN, LID) == {"cover": "lid", "thickness_mm": 3.0, "overhang_mm": 25.0, "trimming": "tucked"}
    assert starts_from(Tin("m", "mould", 80, 60, 30))["trimming"] == "flush"
    assert all(0.3 <= kind.thickness_mm <= 5 for kind in kinds().values())


def test_more_filling_than_fits_is_refused_with_what_would_hold_it():
    pie = Item(Tin("dish", "round", 230, 200, 40), 4, 3.0, cover=LID, heap_mm=20)
    check_item(replace(pie, filling_g=holds_ml(pie)))
    with pytest.raises(Overfilled) as refused:
        check_item(replace(pie, filling_g=2000))
    error = refused.value
    assert error.count == math.ceil(4 * 2000 / holds_ml(pie))
    assert holds_ml(replace(pie, heap_mm=error.heap_mm)) >= 2000 > holds_ml(replace(pie, heap_mm=error.heap_mm - 1))
    assert f"heap it {error.heap_mm:.0f} mm" in str(error) and f"make {error.count} pieces" in str(error)
    with pytest.raises(Overfilled, match="level with the rim"):
        check_item(Item(FLAN, 1, filling_g=1200))
    check_item(Item(HAND, 1, filling_g=120))  # without a tin the hand decides


def test_tins_owned_are_held_against_tins_wanted():
    short = tins_short([Item(FLAN, 6), Item(FLAN, 14)])["tin:1"]
    assert (short.wanted, short.owned, short.goes) == (20, 8, 3) and "12 more" in short.says
    assert tins_short([Item(FLAN, 8), Item(HAND, 200)]) == {}


def test_offcuts_rolled_again_go_from_bases_into_lids():
    """Each lump takes up what was cut from the one before: only the offcut of the very last stays over."""
    pie = Item(Tin("dish", "round", 230, 200, 40), 3, 3.0, overhang_mm=25, cover=LID, heap_mm=20)
    apart, again = piece(pie, 1124.0), piece(replace(pie, offcuts="rerolled"), 1124.0)
    base, lid = again.parts
    assert apart.need_g == pytest.approx(3 * (base.rolled_g + lid.rolled_g))
    assert again.need_g == pytest.approx(3 * (base.blank_g + lid.blank_g) + lid.rolled_g - lid.blank_g)
    weighed = [base.first_g, *[base.each_g] * 2, lid.first_g, *[lid.each_g] * 2]
    assert sum(weighed) == pytest.approx(again.need_g)
    single = piece(replace(pie, count=1, offcuts="rerolled"), 1124.0)
    assert single.need_g == pytest.approx(base.blank_g + lid.rolled_g)  # even of one pie the lid takes up the base's
