"""A plan is kept until a learned value that it asked for is another; others move without it."""

import json
from dataclasses import replace

import pytest

from northfold.core.learning.places import PlaceEvidence, learn_place, read_more, unread_place
from northfold.core.method import Edit, Learned, PlanInputs, asked_by, plan, shrink_subject, still_holds
from northfold.core.method.choices.learned import STATES, Asking, KeptByWhatItAsks
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines

FLAN = Tin("flan tin", "round", 230, 230, 25, key="tin:1")
INPUTS = PlanInputs(lines(*HARBOUR), (Item(FLAN, 6),))


class Counting:
    """A reckoning that counts how often it is done, and asks for one flour's thirst and one tin's scale."""

    def __init__(self):
        self.done = 0

    def __call__(self, flour, learned):
        self.done += 1
        return flour, learned.thirst(flour), learned.shrink_scale("pie", "tin:1")


def test_only_a_value_that_was_asked_for_makes_it_reckon_anew():
    reckon = Counting()
    kept = KeptByWhatItAsks(reckon, most=8)
    first = Learned(thirsts=(("rye", 1.1, 0.05),))
    assert kept("rye", learned=first) == ("rye", (1.1, 0.05), 1.0)
    other = replace(first, frictions=(("fingers", 1.4),), thirsts=(*first.thirsts, ("wheat", 0.9, 0.1)))
    assert kept("rye", learned=other) == ("rye", (1.1, 0.05), 1.0)
    assert kept("rye", learned=replace(other, shrink_scales=(("pie/tin:2", 2.0),)))[2] == 1.0
    assert reckon.done == 1
    assert kept("rye", learned=replace(other, shrink_scales=(("pie", 1.5),)))[2] == 1.5
    assert kept("rye", learned=replace(other, shrink_scales=(("pie", 1.5), ("pie/tin:1", 1.7))))[2] == 1.7
    assert reckon.done == 3
    # What held before holds again without being reckoned.
    assert kept("rye", learned=first)[2] == 1.0
    assert reckon.done == 3


def test_the_inputs_asked_for_last_are_kept_and_a_few_states_of_each():
    reckon = Counting()
    kept = KeptByWhatItAsks(reckon, most=2)
    for flour in ("rye", "wheat", "spelt"):
        kept(flour, learned=Learned())
    kept("spelt", learned=Learned())
    kept("wheat", learned=Learned())
    assert reckon.done == 3
    kept("rye", learned=Learned())
    assert reckon.done == 4
    for number in range(STATES + 3):
        kept("rye", learned=Learned(thirsts=(("rye", 1.0 + number, 0.1),)))
    assert len(kept.known[("rye",)]) == STATES


def test_a_plan_tells_what_it_asked_for():
    learned = Learned(thirsts=(("plain flour", 1.1, 0.05), ("rye flour", 0.9, 0.1)), frictions=(("fingers", 1.3),))
    planned = plan(INPUTS, learned=learned)
    asked = {question: (words, answer) for question, words, answer in asked_by(planned)}
    assert asked["thirst"] == (("plain flour",), (1.1, 0.05))
    assert asked["shrink_scale"] == ((planned.family, "tin:1"), 1.0)
    assert asked["friction"][1] in (1.0, 1.3)
    assert not any("rye flour" in words for words, _ in asked.values())


@pytest.mark.parametrize(
    ("moved", "holds"),
    [
        (Learned(), True),
        (Learned(thirsts=(("rye flour", 0.8, 0.1),)), True),
        (Learned(shrink_scales=(("elsewhere", 2.0), ("elsewhere/tin:1", 3.0))), True),
        (Learned(thirsts=(("plain flour", 1.2, 0.1),)), False),
        (Learned(shrink_scales=((shrink_subject("pie", "tin:1"), 2.0),)), False),
    ],
)
def test_what_was_asked_still_holds_after_it_was_kept_as_text(moved, holds):
    planned = plan(INPUTS)
    assert planned.family == "pie"
    kept = json.loads(json.dumps(asked_by(planned)))
    assert still_holds(kept, Learned())
    assert still_holds(kept, moved) is holds
    # And a plan that still holds is the plan that is reckoned anew.
    anew = plan(INPUTS, learned=moved)
    assert ((anew.doses, anew.route.shrink) == (planned.doses, planned.route.shrink)) is holds


def test_a_kept_plan_carries_all_that_was_learned():
    first, second = Learned(frictions=(("paddle", 1.2),)), Learned(frictions=(("processor", 0.8),))
    assert plan(INPUTS, learned=first).learned == first
    assert plan(INPUTS, learned=second).learned == second
    assert plan(INPUTS, [Edit("rest.1", "minutes", "90")], second).learned == second


def test_an_asking_answers_as_what_it_asks():
    learned = Learned(shrink_scales=(("pie", 1.5),), thirsts=(("rye", 0.9, 0.1),), frictions=(("fingers", 1.3),))
    asking = Asking(learned)
    assert (asking.thirst("rye"), asking.friction("fingers"), asking.shrink_scale("pie", "")) == ((0.9, 0.1), 1.3, 1.5)
    assert set(asking.asked) == {
        ("thirst", ("rye",)),
        ("friction", ("fingers",)),
        ("shrink_scale", ("pie", "")),
    }


def test_a_place_goes_on_from_where_it_stands():
    pairs = [PlaceEvidence(9.0 - number, 9.4 - number, -2.5, 0.4, 4.0, 0.5) for number in range(5)]
    state = unread_place(4.0)
    for pair in pairs:
        state = read_more(state, pair)
    assert state.learned == learn_place(pairs, 4.0)
    assert state.count == 5
    assert unread_place(4.0).learned == learn_place([], 4.0)
