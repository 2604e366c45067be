"""A make that ends in the freezer, and one that begins there: together they are the make as it was whole."""

from dataclasses import replace

import pytest

from northfold.core.fill.layers import Layer
from northfold.core.fill.mixture import IN, RAW, TOP, Mixture
from northfold.core.heat.places import Place
from northfold.core.method import Edit, PlanInputs, Setting, plan
from northfold.core.method.advice.before_starting import before_starting
from northfold.core.method.advice.leftovers import leftovers
from northfold.core.method.advice.sold import costs, needs
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import AHEAD, FROZEN
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines
from tests.core.test_route import step
from tests.core.test_routes import MAKES, NOW, made

FRIDGE_ONLY = (Place("bench", "Bench", "bench_wood"), Place("fridge", "Fridge", "fan_fridge"))


def half_of(whole, half, *edits):
    own = (*whole.edits, *(Edit(*each) for each in edits))
    return plan(replace(whole.inputs, half=half), own)


@pytest.mark.parametrize("name", MAKES)
@pytest.mark.parametrize("way", ["straight", "thawed"])
def test_two_halves_are_the_make_as_it_was_whole(name, way):
    whole = made(name, ("freeze", "ahead", way))
    ahead, later = (half_of(whole, half) for half in (AHEAD, FROZEN))
    assert not ahead.problems and not later.problems
    by_key = {step.key: step for step in whole.route.steps}
    steps = [step.key for each in (ahead, later) for step in each.route.steps if step.key != step_keys.TAKE_OUT]
    # Each step once, and as long as it was: the dough goes through the same cold and the same heat.
    assert sorted(steps) == sorted(by_key)
    for each in (ahead, later):
        for one in each.route.steps:
            if one.key in by_key:
                assert (one.hands_min, one.wait_min) == (by_key[one.key].hands_min, by_key[one.key].wait_min)
    assert ahead.route.along[-1].key == step_keys.FREEZE
    assert later.route.along[0].key == step_keys.TAKE_OUT
    assert not {step.key for step in later.route.steps} & {"weigh", "mix", "roll.main", "freeze"}
    assert ahead.bake == later.bake == whole.bake
    assert ahead.route.shrink == later.route.shrink == whole.route.shrink


@pytest.mark.parametrize("name", MAKES)
def test_dough_is_mixed_for_the_first_half_alone(name):
    whole = made(name, ("freeze", "ahead", "straight"))
    ahead, later = (half_of(whole, half) for half in (AHEAD, FROZEN))
    assert ahead.scaled == whole.scaled and ahead.mixed_g == whole.mixed_g
    assert later.mixed_g == pytest.approx(later.surplus_g) and later.weighed_g == 0
    # What both take together is what the whole makes take, glaze and all.
    both = {key: needs(ahead).get(key, 0.0) + needs(later).get(key, 0.0) for key in needs(whole)}
    assert both == pytest.approx(needs(whole)) and set(needs(later)) <= set(needs(whole))
    assert leftovers(later) == {} and leftovers(ahead) == leftovers(whole)
    assert before_starting(later).dough == "None is mixed: the pieces come out of the freezer."
    # A piece costs what it costs, whichever half it is in.
    prices = dict.fromkeys(needs(whole), 0.01)
    assert costs(later, prices).each == pytest.approx(costs(ahead, prices).each)


def test_it_is_frozen_though_nobody_chose_to_freeze():
    # The kitchen bakes when ready: half a make goes through the freezer all the same, straight into the oven.
    ahead, later = half_of(made("tartlets"), AHEAD), half_of(made("tartlets"), FROZEN)
    assert ahead.route.steps[-1].key == "freeze" and "thaw" not in {step.key for step in later.route.steps}
    thawed = half_of(made("tartlets"), FROZEN, ("freeze", "ahead", "thawed"))
    keys = [step.key for step in thawed.route.along]
    assert keys[:2] == ["take.out", "thaw"]


def test_mixtures_are_made_for_the_half_that_they_go_in_at():
    raw = Mixture("Leek filling", "filling", tuple(lines((300, "leek"), (50, "unsalted butter"))))
    glaze = Mixture("Icing", "cream", tuple(lines((200, "icing sugar"), (30, "water"))))
    item = Item(Tin("hand pie", "hand_pie", 140, 0, 0, 95), 12)
    layers = (Layer(raw, RAW, IN, "grams", 80.0), Layer(glaze, TOP, IN, "grams", 5.0))
    whole = plan(PlanInputs(lines(*HARBOUR), (item,), now=NOW, layers=(layers,)), [Edit("freeze", "ahead", "straight")])
    assert not whole.problems, whole.problems
    ahead, later = (half_of(whole, half) for half in (AHEAD, FROZEN))
    assert [each.mixture.name for each in ahead.mixtures] == ["Leek filling"]
    assert [each.mixture.name for each in later.mixtures] == ["Icing"]
    assert ahead.mixtures[0].grams == pytest.approx(12 * 80) and later.mixtures[0].grams == pytest.approx(12 * 5)
    # Its steps go with it, those beside the dough too.
    told = {half: {step.mixture.name for step in each.route.steps if step.mixture}
            for half, each in ((AHEAD, ahead), (FROZEN, later))}  # fmt: skip
    assert "Icing" not in told[AHEAD] and "Leek filling" not in told[FROZEN]


def test_what_cannot_be_parted_says_why_and_what_to_do():
    tartlets = made("tartlets").inputs
    no_freezer = plan(replace(tartlets, half=AHEAD, setting=replace(tartlets.setting, places=FRIDGE_ONLY)))
    assert "takes a freezer: add one under Kitchen, Places" in no_freezer.problems[0].message
    two = (tartlets.items[0], Item(Tin("fluted", "fluted", 240, 220, 28), 2))
    several = plan(replace(tartlets, half=FROZEN, items=two))
    assert "make each of them by itself" in several.problems[0].message


def test_a_glass_dish_from_the_freezer_is_told_where_it_goes_into_the_oven():
    item = Item(Tin("dish", "round", 230, 200, 40, material="glass"), 1, 4.0, 25.0, cover="lid", heap_mm=25)
    setting = Setting()
    later = plan(PlanInputs(lines(*HARBOUR), (item,), setting=setting, now=NOW, half=FROZEN))
    assert any("can crack in a hot oven" in each.text for each in later.route.remarks)
    assert not any(each.step_key == "roll.main" for each in later.route.remarks)


# -- all of the dough at hand


@pytest.mark.parametrize("name", ["tartlets", "hand pies", "custard tart", "crackers"])
def test_dough_out_of_the_cold_store_is_shaped_and_not_mixed(name):
    whole = made(name)
    need_g = sum(piece.need_g for piece in whole.pieces) / (1 - whole.inputs.loss)
    at_hand = plan(replace(whole.inputs, on_hand_g=1.2 * need_g), whole.edits)
    keys = [step.key for step in at_hand.route.steps]
    assert "take.dough" in keys and not {"weigh", "mix", "before"} & set(keys)
    assert at_hand.weighed_g == 0 and at_hand.mixed_g < 1
    assert f"{at_hand.pieces[0].need_g:,.0f} g" in step(at_hand, "take.dough").look
    # It has rested: no habit asks for more, and where nothing else does there is no rest.
    rest = next((each for each in at_hand.route.steps if each.key == "rest.1"), None)
    assert rest is None or rest.wait_min < step(whole, "rest.1").wait_min
    assert rest is None or not any(ask.reason == "habit" for ask in rest.asks)
    assert at_hand.route.traced[0].trace.mean_c[0] == pytest.approx(4.0, abs=1.0)
    # The oven takes no more of it than of the dough that was mixed for it.
    assert at_hand.route.shrink[0].percent <= whole.route.shrink[0].percent + 1e-6


def test_too_little_dough_at_hand_is_made_up_for_and_a_laminated_one_is_mixed():
    whole = made("tartlets")
    need_g = sum(piece.need_g for piece in whole.pieces) / (1 - whole.inputs.loss)
    some = plan(replace(whole.inputs, on_hand_g=0.9 * need_g), whole.edits)
    assert {"weigh", "mix"} <= {each.key for each in some.route.steps}
    assert some.mixed_g == pytest.approx(some.dough_g - 0.9 * need_g, rel=1e-6)
