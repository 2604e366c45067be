"""What a recipe says of its method is offered beside the plan: nothing of it is dropped, nothing taken unasked."""

import pytest

from northfold.core.formula.method_text import HEAT, MINUTES, THICKNESS, YIELD
from northfold.core.formula.reading import read_recipe
from northfold.core.method import Edit, PlanInputs, Setting, plan
from northfold.core.method.advice.recipe_says import matches, offers
from northfold.core.method.choices.kitchen import Oven
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, with_block
from tests.core.test_fold import SHELL

CASE = Item(Tin("case", "round", 230, 230, 25), 6)
DISH = Item(Tin("dish", "round", 230, 230, 40), 2, 4.0, 25.0, cover="lid")
PUFF = (
    (500, "strong flour"),
    (250, "water"),
    (50, "unsalted butter"),
    (10, "fine salt"),
    (375, "dry laminating butter"),
)


def facts_of(*texts):
    return [fact for line in read_recipe("\n".join(texts)).lines for fact in line.facts]


def offered(dough, item, *texts, edits=(), setting=None):
    planned = plan(PlanInputs(with_block(*dough), (item,), setting=setting or Setting()), edits)
    return {offer.key: offer for offer in offers(planned, facts_of(*texts))}


@pytest.mark.parametrize(
    ("text", "use", "minutes"),
    [
        ("Bake at 190 °C for 18 minutes.", "bake", 18),
        ("Bake blind for 15 minutes.", "blind", 15),
        ("Rest for 1 hour in the fridge", "rest", 60),
        ("Chill 45 min", "rest", 45),
        ("Chill the lined tin for 30 minutes before baking", "chill", 30),
        ("Freeze 20 minutes until firm", "freeze", 20),
        ("Prove for 2 hours at 26 °C", "prove", 120),
        ("Leave to cool for 20 minutes.", "cool", 20),
        ("Cook 25 minutes until golden", "bake", 25),
        ("Rest overnight", "rest", 720),
        ("Refrigerate overnight.", "rest", 720),
    ],
)
def test_what_minutes_are_for(text, use, minutes):
    (fact,) = [fact for fact in facts_of(text) if fact.kind == MINUTES]
    assert (fact.use, fact.values[0]) == (use, minutes)


@pytest.mark.parametrize(
    ("text", "folds"),
    [
        ("Give it three single turns", (3, 3, 3)),
        ("one double turn and one single turn", (4, 3)),
        ("Six turns in all.", (3, 3, 3, 3, 3, 3)),
        ("Two book folds", (4, 4)),
        ("Make 4 letter folds with rests between", (3, 3, 3, 3)),
        ("Turn the oven down", ()),
    ],
)
def test_turns(text, folds):
    found = [fact.values for fact in facts_of(text) if fact.kind == "turns"]
    assert found == ([folds] if folds else [])


@pytest.mark.parametrize(
    ("text", "kind", "values"),
    [
        ("Makes 12 tartlets", "yield", (12,)),
        ("Makes about 20 turnovers", "yield", (20,)),
        ("For two 23 cm tins", "yield", (2,)),
        ("Enough for 24 x 8 cm tartlet tins", "yield", (24,)),
        ("Serves 8", "yield", (8,)),
        ("Use a 33 x 23 cm tin, 4 cm deep", "tin", (330, 230)),
        ("Use a 33 x 23 cm tin, 4 cm deep", "depth", (40,)),
        ("Line a 9 inch tart tin", "tin", (pytest.approx(228.6),)),
        ("Enough for 24 x 8 cm tartlet tins", "tin", (80,)),
    ],
)
def test_yield_and_tin(text, kind, values):
    assert values in [fact.values for fact in facts_of(text) if fact.kind == kind]


def test_heat_is_set_for_the_oven_at_hand():
    fan = Setting(ovens=(Oven(fan=True),))
    assert offered(HARBOUR, CASE, "Bake at 200 °C")["heat0"].takes == (("bake.off", "oven_c", "200"),)
    assert offered(HARBOUR, CASE, "Bake at 200 °C", setting=fan)["heat0"].takes == (("bake.off", "oven_c", "180"),)
    assert offered(HARBOUR, CASE, "Fan 180 °C", setting=fan)["heat0"].takes == (("bake.off", "oven_c", "180"),)
    assert offered(HARBOUR, CASE, "Bake at 190 °C")["heat0"].taken


def test_a_hot_start_takes_both_stages():
    found = offered(HARBOUR, DISH, "230 °C for 10 min, then 170 °C for 50 min")
    assert found["heat0"].takes == (("bake.off", "oven_c", "230"),)
    assert found["heat1"].takes == (("bake.low", "oven_c", "170"),)
    takes = [edit for key in ("heat0", "heat1", "bake0", "bake1") for edit in found[key].takes]
    planned = plan(PlanInputs(with_block(*HARBOUR), (DISH,)), [Edit(*each) for each in takes])
    assert [(stage.oven_c, stage.minutes) for stage in planned.bake.stages] == [(230, 10), (170, 50)]
    assert planned.unused_edits == ()


def test_one_figure_for_a_bake_in_two_stages_is_shared_out():
    (offer,) = offered(HARBOUR, CASE, "Bake for 35 minutes").values()
    assert sum(float(value) for _, _, value in offer.takes) == 35
    blind = offered(HARBOUR, CASE, "Bake blind for 15 minutes, then 10 minutes without the weights")
    assert [offer.takes[0] for offer in blind.values()] == [
        ("bake.on", "minutes", "15"),
        ("bake.off", "minutes", "10"),
    ]


def test_rests_go_before_rolling_and_before_the_oven():
    found = offered(HARBOUR, CASE, "Rest 2 hours", "Roll out", "Rest again 20 minutes")
    assert found["wait0"].takes == (("rest.1", "minutes", "120"),)
    assert found["wait1"].takes == (("chill.1", "minutes", "20"),)
    firm = offered(HARBOUR, CASE, "Freeze 25 minutes")["wait0"]
    assert firm.takes == (("chill.1", "place", "freezer"), ("chill.1", "minutes", "25"))


def test_turns_and_thickness_are_edits():
    found = offered(PUFF, SHELL, "Roll to 4 mm thick", "one double turn and one single turn")
    assert found["turns"].takes == (("turns", "own", "4 3"),)
    assert next(o for o in found.values() if "thick" in o.key).takes == (("roll.main", "thickness_mm", "4"),)
    flat = offered(HARBOUR, CASE, "Three single turns")["turns"]
    assert flat.can_be_taken and flat.takes == (("turns", "own", "3 3 3"),)  # nothing is folded until it is taken


def test_every_fact_is_offered_or_told():
    texts = (
        "Bake at 200 °C for 25 min",
        "Cool 20 min",
        "Prove 1 hour",
        "Serves 8",
        "Makes 4 tarts",
        "Line a 20 cm tin",
    )
    found = offered(HARBOUR, CASE, *texts)
    assert len(found) == len(facts_of(*texts))


@pytest.mark.parametrize(
    ("tin", "sides", "deep", "same"),
    [
        (CASE.tin, (230,), 0, True),
        (CASE.tin, (228.6,), 0, True),
        (CASE.tin, (200,), 0, False),
        (CASE.tin, (230,), 40, False),
        (CASE.tin, (330, 230), 0, False),
        (Tin("tray", "rectangle", 330, 330, 40, 230, 230), (230, 330), 40, True),
    ],
)
def test_the_tin_named_is_looked_for_on_the_rack(tin, sides, deep, same):
    assert matches(tin, sides, deep) is same


@pytest.mark.parametrize(
    ("text", "said"),
    [("Bake at 190°C.", "oven 190 °C"), ("Bake at 375F", "oven 375 °F"), ("Bake at 180 C", "oven 180 °C")],
)
def test_a_heat_is_told_in_one_spelling(text, said):
    assert said in [offer.says for offer in offered(HARBOUR, CASE, text).values()]


@pytest.mark.parametrize(
    ("text", "minutes"),
    [
        ("Rest for half an hour.", [30]),
        ("Chill for an hour and a half.", [90]),
        ("Chill a quarter of an hour", [15]),
        ("Rest twenty to thirty minutes", [20, 30]),
        ("Bake for 1 hour 20 minutes", [80]),
        ("Bake at 180 degrees for 1 hr and 10 mins", [70]),
        ("Rest for an hour", [60]),
    ],
)
def test_times_in_words_and_of_two_units(text, minutes):
    (fact,) = [fact for fact in facts_of(text) if fact.kind == MINUTES]
    assert list(fact.values) == minutes


@pytest.mark.parametrize(
    ("text", "heats"),
    [
        ("Heat the oven to 220°, then turn it down to 180° after 10 minutes.", [220, 180]),
        ("Bake at 350 for 20 minutes", [177]),
        ("Bake at 375° until gold", [191]),
        ("Turn the tin 180° halfway through.", []),
        ("Keep it at 4 degrees", []),
    ],
)
def test_heats_without_their_scale(text, heats):
    assert [round(fact.values[0]) for fact in facts_of(text) if fact.kind == HEAT] == heats


@pytest.mark.parametrize(
    ("text", "count"),
    [("Line twelve 7 cm tartlet tins", 12), ("Fill 12 x 7 cm tins", 12), ("Makes 2 tarts of 20 cm", 2)],
)
def test_a_count_of_tins_is_a_yield(text, count):
    assert [fact.values[0] for fact in facts_of(text) if fact.kind == YIELD] == [count]


@pytest.mark.parametrize("text", ["Bake blind for 15 mins", "Chill for 1 1/2 hours", "Rest for 20 min"])
def test_minutes_are_no_yield(text):
    assert [fact for fact in facts_of(text) if fact.kind == YIELD] == []


def test_as_thick_as_a_coin():
    (fact,) = facts_of("Roll to the thickness of a pound coin.")
    assert (fact.kind, fact.values) == (THICKNESS, (3.0,))
