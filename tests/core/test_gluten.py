"""Pull, rest and shrink against the first worked example; buckwheat, frost and drinking."""

import math

import pytest

from northfold.core.errors import OutsideRange
from northfold.core.formula.ratio import ratio_of
from northfold.core.gluten.pull import (
    Pull,
    drink_time_min,
    drunk_along,
    gluten_factor,
    hold_share,
    oven_shrink,
    rest_along,
    rolling_pull,
)
from northfold.core.heat.conduction import Trace
from tests.core.examples import HARBOUR, lines

DOUGH = lines(*HARBOUR)
RATIO = ratio_of(DOUGH)
G = gluten_factor(DOUGH, RATIO, coating=0.5)
WEIGHTED_DOCKED, BARE_TIN, FREE = 0.3, 0.75, 1.0


def rolled():
    """Fingertips, an hour at 4 °C, rolled from 25 to 3 mm."""
    rested = Pull().plus(10 * G).rested(60, 4)
    return rested.plus(G * rolling_pull(25, 3))


def test_first_example_up_to_rolling():
    assert pytest.approx(0.662, abs=0.001) == G
    mixed = Pull().plus(10 * G)
    assert mixed.total == pytest.approx(6.6, abs=0.1)
    assert mixed.rested(60, 4).total == pytest.approx(1.6, abs=0.1)
    assert rolled().total == pytest.approx(32.5, abs=0.1)


@pytest.mark.parametrize("minutes, both, bare, free", [(0, 1.9, 3.5, 4.4), (30, 1.2, 1.8, 2.2), (60, 1.1, 1.5, 1.75)])
def test_shrink_after_rest_in_the_tin(minutes, both, bare, free):
    pull = rolled().rested(minutes, 4).total
    found = [oven_shrink(RATIO.true_water, pull, hold) for hold in (WEIGHTED_DOCKED, BARE_TIN, FREE)]
    assert found == pytest.approx((both, bare, free), abs=0.1)


def test_nothing_relaxes_when_frozen():
    pull = Pull(20, 15)
    assert pull.rested(600, -2) == pull
    assert pull.rested(600, -18) == pull
    frozen = Trace((0.0, 60.0), (-2.0, -2.0), (-2.0, -2.0), (-2.0, -2.0))
    assert rest_along(pull, frozen)[-1] == pull
    assert pull.rested(10, 4).total < pull.total


def test_resting_in_two_parts_is_the_same_as_in_one():
    assert Pull(20, 15).rested(25, 8).rested(35, 8).total == pytest.approx(Pull(20, 15).rested(60, 8).total)


def test_buckwheat_has_no_pull():
    dough = lines((300, "buckwheat flour"), (150, "unsalted butter"), (90, "water"))
    assert gluten_factor(dough, ratio_of(dough), 0.5) == 0


def test_acid_slackens_and_fat_that_coats_shortens():
    sour = lines(*HARBOUR, (5, "cider vinegar"))  # over 0.5 % of 420 g
    assert gluten_factor(sour, ratio_of(sour), 0.5) == pytest.approx(0.9 * G, rel=0.03)
    assert gluten_factor(DOUGH, RATIO, 1.0) < G < gluten_factor(DOUGH, RATIO, 0.0)


def test_rolling_by_half_twice_is_rolling_to_a_quarter():
    assert rolling_pull(24, 12) + rolling_pull(12, 6) == pytest.approx(rolling_pull(24, 6))
    assert rolling_pull(3, 3) == rolling_pull(3, 25) == 0


def test_hold_by_how_a_case_bakes():
    assert hold_share(in_tin=True, docked=True, weighted=True) == 0.3
    assert hold_share(in_tin=True, docked=False, weighted=True) == 0.35
    assert hold_share(in_tin=True, docked=True, weighted=False) == 0.7
    assert hold_share(in_tin=False, docked=False, weighted=False) == 1


def test_high_pull_flattens_and_frost_holds():
    # P = 60 + 80 × (1 − e^(−(140 − 60)/80))
    flattened = 60 + 80 * (1 - math.exp(-1))
    assert oven_shrink(20, 140, 1) == pytest.approx(0.6 + 0.11 * flattened)
    assert oven_shrink(44, 30, 0.7, frozen=True) == pytest.approx(0.85 * oven_shrink(44, 30, 0.7))
    with pytest.raises(OutsideRange):
        oven_shrink(44, -1, 1)


def test_drinking_slows_in_the_cold_and_with_wholemeal():
    def drunk(minutes, temperature_c, first=0.0):
        degrees = (temperature_c, temperature_c)
        held = Trace((0.0, minutes), degrees, degrees, degrees)
        return drunk_along(12, first, held)[-1]

    assert drunk(12, 20) == pytest.approx(1 - 1 / math.e)
    assert drunk(18, 10) == pytest.approx(1 - 1 / math.e)  # × 1.5 for 10 °C colder
    assert drunk(600, -2) == 0
    assert drunk(12, 20, first=1 - 1 / math.e) == pytest.approx(1 - 1 / math.e**2)
    assert drink_time_min(lines((100, "wholemeal flour"))) == pytest.approx(1.8 * 12)
    assert drink_time_min(lines((50, "wholemeal flour"), (50, "plain flour"))) == pytest.approx(1.4 * 12)
