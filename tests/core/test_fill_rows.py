"""The tables of fillings: every row has its partner, and layers are worked on every route that takes any."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.bake.fillings import oven_fillings
from northfold.core.data import table
from northfold.core.fill.layers import GRAMS, RANGES, RULES, UNITS, Layer
from northfold.core.fill.ledger import GOES, WAYS, Treatment
from northfold.core.fill.mixture import POSITIONS, RAW, TOP, WHENS, as_ingredient, figures_of, mixture_kinds
from northfold.core.fill.produce import ANY, FILL_ROLES, produce_of
from northfold.core.fill.starch import starches
from northfold.core.matter import ALLERGENS, ROLES
from northfold.core.matter.checks import check_ingredient
from northfold.core.method import PlanInputs, Setting, plan
from northfold.core.method.choices.edits import Edit
from northfold.core.method.reckon.filling import WHENS_BLIND, WHENS_FILLED, lay_in
from northfold.makes import freezing
from tests.core.examples import lines
from tests.core.test_fill import SHELF, apples, mixture
from tests.core.test_fill_planned import BERRIES, CRUMBLE
from tests.core.test_routes import MAKES, NOW

# -- the rows


def test_every_kind_of_mixture_is_known_to_the_oven_and_goes_in_at_some_time():
    for kind in mixture_kinds().values():
        assert not kind.inside or kind.inside in oven_fillings(), kind.key
        assert kind.when in WHENS and kind.position in POSITIONS and kind.words
        assert 0.2 <= kind.bulk <= 1.5 and 1 <= kind.keeps_h <= 200


def test_every_fruit_and_vegetable_stands_on_the_shelf_and_gives_no_more_than_it_holds():
    for name in table("produce"):
        assert name in SHELF or name.removeprefix(ANY) in ROLES, name
    for item in SHELF.values():
        row = produce_of(item)
        if row is None:
            assert item.role not in FILL_ROLES, item.name
            continue
        assert 0.4 <= row.ready <= 1 and 0 <= row.drawn <= row.juice <= 0.5 and 0 <= row.settles < 1
        # What runs out is water of its own.
        assert row.juice * 0.88 <= item.composition.water, item.name
        assert 0.1 <= row.bulk <= 1.1 and 0 <= row.loses < 0.6 and 0 <= row.soaks <= 3


def test_every_new_ingredient_makes_up_a_whole_and_its_allergens_are_of_the_fourteen():
    for item in SHELF.values():
        check_ingredient(item)
        assert set(item.allergens) <= set(ALLERGENS), item.name
    assert {"gluten"} == set(SHELF["pearl barley"].allergens) and {"fish"} == set(SHELF["smoked fish"].allergens)
    assert {"egg", "milk"} == set(SHELF["lemon curd"].allergens)


def test_every_starch_is_an_ingredient_and_every_rule_has_its_unit_and_range():
    assert set(starches()) <= set(SHELF)
    assert RULES.keys() == UNITS.keys() == RANGES.keys()
    assert all(low <= high for low, high in RANGES.values())
    assert {*WHENS_BLIND, *WHENS_FILLED} == set(WHENS)


def test_a_mixture_as_an_ingredient_of_another_is_made_up_as_its_lines_are():
    whole = apples(1000, 150)
    one = as_ingredient(whole)
    assert one.composition == whole.composition and one.role == "mixture"
    doubled = whole.times(2)
    assert doubled.grams == 2 * whole.grams and doubled.composition.sugar == pytest.approx(whole.composition.sugar)
    shares = figures_of(whole)
    assert sum(each.percent for each in shares) == pytest.approx(100)
    assert sum(each.water_g for each in shares) == pytest.approx(whole.grams * whole.composition.water)


# -- on every route

FILLED = ("hand pies", "lidded pie", "pulled roll", "slab", "free-form")


def laid(name, *layers, edits=()):
    dough, item, own = MAKES[name]
    item = replace(item, filling_g=0.0)
    inputs = PlanInputs(lines(*dough), (item,), setting=Setting(), now=NOW, layers=(layers,))
    return plan(inputs, [Edit(*edit) for edit in (*own, *edits)])


@pytest.mark.parametrize("name", FILLED)
@pytest.mark.parametrize("way", sorted(WAYS))
def test_layers_go_into_every_piece_that_is_filled(name, way):
    found = laid(
        name,
        Layer(BERRIES, RAW, rule=GRAMS, amount=80, treated=Treatment(way)),
        Layer(mixture("cream", "Cream", double_cream=300), TOP, "over", GRAMS, 30),
    )
    assert not found.problems and found.route is not None
    said = [each.look for each in found.route.steps]
    assert any("80 g of gooseberry filling" in look for look in said)
    assert any("30 g of cream" in look for look in said)
    assert found.bake.asked.inside.key == "fruit" and found.pieces[0].item.filling_g == pytest.approx(80)
    assert {each.mixture.name for each in found.mixtures} == {"Gooseberry filling", "Cream"}


@pytest.mark.parametrize("name", ["tartlets", "custard tart", "pressed in"])
def test_layers_go_between_the_bakes_of_every_case(name):
    found = laid(name, Layer(BERRIES, "between", rule=GRAMS, amount=25), Layer(CRUMBLE, "between", "over", GRAMS, 8))
    assert not found.problems and found.bake.second is not None
    keys = [each.key for each in found.route.along]
    assert keys.index("fill.case") < keys.index("bake.filled") < keys.index("cool.second")


@settings(max_examples=60, deadline=None)
@given(
    name=st.sampled_from(["lidded pie", "custard tart", "slab", "hand pies"]),
    rule=st.sampled_from(sorted(RULES)),
    share=st.floats(0, 1),
    way=st.sampled_from(sorted(WAYS)),
    goes=st.sampled_from(sorted(GOES)),
    when=st.sampled_from(sorted(WHENS)),
)
def test_any_layer_is_laid_or_refused_in_a_sentence(name, rule, share, way, goes, when):
    """Whatever its rule and number: a plan, or a problem of Fill that names the layer."""
    low, high = RANGES[rule]
    layer = Layer(BERRIES, when, rule=rule, amount=low + share * (high - low), treated=Treatment(way, goes=goes))
    found = laid(name, layer)
    if found.problems:
        (problem,) = found.problems
        assert problem.stage == "fill" and "Gooseberry filling" in problem.message and problem.message.endswith(".")
        return
    (filled,) = found.filled
    assert filled.grams >= 0 and all(each.settled_mm <= each.to_mm + 1e-6 for each in filled.laid)
    assert filled.grams > 0


def test_a_mark_under_what_lies_there_is_refused_with_the_mark_that_would_do():
    found = laid("lidded pie", Layer(BERRIES, RAW, rule="mark", amount=75))
    (problem,) = found.problems
    assert problem.stage == "fill" and "75 mm below the rim" in problem.message
    # The dish is 40 mm deep, its lining 4 mm thick.
    assert "Give a mark under 36 mm" in problem.message
    full = laid("lidded pie", Layer(CRUMBLE, RAW, "under"), Layer(BERRIES, RAW))
    assert "No room is left for Gooseberry filling" in full.problems[0].message


def test_an_item_without_layers_is_left_as_it_was():
    item = MAKES["lidded pie"][1]
    assert lay_in(item, ()) == (item, None)


# -- kept


@pytest.mark.parametrize("name", ["slab", "lidded pie"])
def test_a_frozen_plan_holds_its_layers_and_gives_the_same_plan_again(name):
    before = laid(name, Layer(BERRIES, RAW, rule=GRAMS, amount=200), Layer(CRUMBLE, TOP, "over", GRAMS, 40))
    after = freezing.thaw(freezing.pack(before))
    assert after.filled == before.filled and after.inputs.layers == before.inputs.layers
    again = plan(after.inputs, after.edits, after.learned)
    assert again.filled == before.filled and again.bake.asked == before.bake.asked


def test_a_light_layer_keeps_its_tenth_in_the_step():
    crumbs = Layer(CRUMBLE, "between", "over", GRAMS, 8.4)
    found = laid("tartlets", Layer(BERRIES, "between", rule=GRAMS, amount=25), crumbs)
    assert any("8.4 g of" in each.look for each in found.route.steps)
