"""What is hidden of a kitchen: within its level, the same for the same number, and felt where it must be."""

import math
from dataclasses import replace

import pytest

from northfold.core.errors import OutsideRange
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter import reference_ingredients
from northfold.core.method import PlanInputs, plan
from northfold.core.practice.truth import Truth, as_it_goes, dough_c, true_room, truth
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import ROUND, Tin

MOST = {1: (3, 1, 0.1, 0.03, 0.005), 2: (5, 2, 0.2, 0.05, 0.010), 3: (8, 3, 0.35, 0.08, 0.015)}
SHELF = reference_ingredients()


@pytest.fixture(scope="module")
def planned():
    grams = {"plain flour": 420, "unsalted butter": 280, "water": 140, "fine salt": 7}
    lines = tuple(DoughLine(SHELF[name], g, g, g, "", "") for name, g in grams.items())
    return plan(PlanInputs(lines, (Item(Tin("Flan", ROUND, 230, 230, 25), 6),)))


@pytest.mark.parametrize("level", MOST)
def test_nothing_is_further_off_than_its_level_and_the_ends_are_reached(level):
    room, fridge, scale, thirst, protein = MOST[level]
    drawn = [truth(seed, level) for seed in range(400)]
    for of, most in (
        ([each.room_k for each in drawn], room), ([each.fridge_k for each in drawn], fridge),
        ([math.log(each.film) for each in drawn], scale), ([math.log(each.oven) for each in drawn], scale),
        ([math.log(each.hands) for each in drawn], scale), ([each.thirst for each in drawn], thirst),
        ([each.protein for each in drawn], protein),
    ):  # fmt: skip
        assert -most <= min(of) < -0.9 * most and 0.9 * most < max(of) <= most
        assert abs(sum(of) / len(of)) < 0.15 * most


def test_the_same_number_is_the_same_kitchen():
    assert truth(7, 2) == truth(7, 2) != truth(8, 2)
    with pytest.raises(OutsideRange, match="level"):
        truth(1, 4)


def test_where_nothing_is_hidden_all_goes_as_planned(planned):
    really = as_it_goes(planned, Truth())
    assert [step.dough_c for step in really.route.steps] == [step.dough_c for step in planned.route.steps]
    assert really.route.shrink == planned.route.shrink


def test_a_warm_room_and_a_slow_fridge_are_felt_and_the_waits_stay(planned):
    warm = as_it_goes(planned, replace(Truth(), room_k=6.0, film=0.7))
    waits = [(step.key, step.wait_min) for step in planned.route.steps if not step.in_oven and not step.apart]
    assert [(s.key, s.wait_min) for s in warm.route.steps if not s.in_oven and not s.apart] == waits
    for key in ("rest.1", "roll.main"):
        told = next(step for step in planned.route.steps if step.key == key)
        assert dough_c(warm, key, 60) > dough_c(planned, key, 60) + 0.5, told.name
    assert true_room(21, Truth(room_k=6.0)) == 27 and true_room(44, Truth(room_k=6.0)) == 45


def test_a_stronger_flour_pulls_more_and_a_dough_that_is_not_traced_is_not_told(planned):
    strong = as_it_goes(planned, replace(Truth(), protein=0.015))
    assert strong.route.shrink[0].percent > planned.route.shrink[0].percent
    assert dough_c(planned, "weigh", 1) is None
    assert dough_c(planned, "rest.1", 0) > dough_c(planned, "rest.1", 30) > dough_c(planned, "rest.1", 9000)
