"""Measured shrink and the learned scale: the worked example, clipping, order, refusals."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import NotANumber, OutsideRange
from northfold.core.learning.shrink import RimGrew, measured_shrink
from northfold.core.learning.values import (
    PACE_RECORD_SD,
    PACE_SD,
    Evidence,
    as_ratio,
    fold,
    learn_more,
    learn_scale,
    nothing_learned,
)
from northfold.core.shape.blanks import rim_allowance_mm


def test_the_worked_example():
    """Predicted 1.107 % of 280 mm, measured 3.0 %: weight 0.315, scale 1.33 ± 0.29, allowance 1.6 → 2.1 mm."""
    value = learn_scale([Evidence(predicted=1.107 / 100 * 280, measured=3.0 / 100 * 280)])
    (update,) = value.updates
    assert update.observation == pytest.approx(2.71, abs=0.005)
    assert update.sd == pytest.approx(0.516, abs=0.001)
    assert update.clipped == pytest.approx(2.03, abs=0.005)
    assert update.weight == pytest.approx(0.315, abs=0.001)
    assert (value.mean, value.sd) == pytest.approx((1.33, 0.29), abs=0.005)
    assert value.mean * 1.107 == pytest.approx(1.47, abs=0.005)
    assert rim_allowance_mm(280, 1.107) == pytest.approx(1.55, abs=0.01)
    assert rim_allowance_mm(280, value.mean * 1.107) == pytest.approx(2.05, abs=0.01)


def test_without_records_it_is_the_prior():
    value = learn_scale([])
    assert (value.mean, value.sd, value.count) == (1.0, 0.35, 0)
    assert learn_scale([], prior_mean=1.4).mean == 1.4


def test_more_records_weigh_more_and_narrow_the_range():
    record = Evidence(3.0, 6.0)
    values = [learn_scale([record] * n) for n in (1, 3, 10)]
    assert values[0].mean < values[1].mean < values[2].mean < 2.0
    assert values[0].sd > values[1].sd > values[2].sd


@given(st.floats(0.5, 20), st.floats(0, 200))
def test_one_wild_record_moves_it_by_two_sd_at_most(predicted, measured):
    value = learn_scale([Evidence(predicted, measured)])
    (update,) = value.updates
    assert abs(value.mean - 1) <= 2 * update.sd * update.weight + 1e-9


def test_a_prediction_of_nothing_teaches_nothing():
    with pytest.raises(OutsideRange, match="prediction of 0"):
        learn_scale([Evidence(0, 3)])


def test_shrink_from_four_points():
    """Ends far and near, right and left: (2 + 2.2) + (2 + 2.2) each way is 8.4 mm, 3 % of 280."""
    found = measured_shrink([2, 2, 2, 2], [-2.2, -2.2, -2.2, -2.2], 280)
    assert found.diameters_mm == pytest.approx((8.4, 8.4))
    assert found.percent == pytest.approx(3.0)
    uneven = measured_shrink([2, 2, 2, 2], [1, 0, 0, -2], 280)
    assert uneven.diameters_mm == pytest.approx((3, 6))
    assert uneven.mean_mm == pytest.approx(4.5)


def test_a_rim_that_grew_is_refused_and_named():
    with pytest.raises(RimGrew, match="4 mm after is higher than 2 mm before") as error:
        measured_shrink([2, 2, 2, 2], [1, 4, 1, 1], 280)
    assert error.value.point == "right"


def test_incomplete_or_absurd_measures_are_refused():
    with pytest.raises(NotANumber):
        measured_shrink([2, 2, 2], [1, 1, 1], 280)
    with pytest.raises(OutsideRange, match="rim height of 900"):
        measured_shrink([900, 2, 2, 2], [1, 1, 1, 1], 280)
    with pytest.raises(OutsideRange, match="developed length"):
        measured_shrink([2] * 4, [1] * 4, 0)


RECORDS = st.lists(st.tuples(st.floats(0.5, 20), st.floats(0, 60), st.floats(0.1, 3)), max_size=40)


@given(RECORDS, st.floats(0.3, 3), st.integers(0, 40))
def test_going_on_from_a_kept_value_is_learning_all_anew_to_the_last_digit(records, prior, place):
    evidence = [Evidence(*record) for record in records]
    anew = learn_scale(evidence, prior_mean=prior)
    begun = learn_scale(evidence[:place], prior_mean=prior)
    for record in evidence[place:]:
        begun = learn_more(begun, record)
    assert (begun.mean, begun.variance, begun.count) == (anew.mean, anew.variance, anew.count)
    assert begun.updates[-1:] == anew.updates[-1:]
    start = nothing_learned(prior)
    assert fold(start.mean, start.variance, records) == (anew.mean, anew.variance)


def test_a_fold_refuses_what_learning_refuses():
    with pytest.raises(OutsideRange, match="prediction of 0"):
        fold(1.0, 0.1, [(0.0, 3.0, 1.0)])
    with pytest.raises(OutsideRange, match="prediction of 0"):
        learn_more(nothing_learned(), Evidence(0, 3))


def test_a_fold_by_hand():
    """Start 1 ± 0.35; 4 mm told, 6 found, ruler 1 mm: sd √(0.25² + 0.25²) = 0.3536, weight 0.1225 ÷ 0.2475 = 0.495."""
    mean, variance = fold(1.0, 0.35**2, [(4.0, 6.0, 1.0)])
    assert mean == pytest.approx(1 + 0.495 * 0.5, abs=5e-4)
    assert variance**0.5 == pytest.approx(0.35 * (1 - 0.495) ** 0.5, abs=5e-4)


def test_a_pace_is_learned_as_a_logarithm():
    """Prior ln 1 ± 0.4; 8 min tapped where 4 were planned: ln 2 = 0.693 ± √(0.3² + (0.25 ÷ 4)²) = 0.306."""
    start, sure = nothing_learned(0.0, PACE_SD), {"record_sd": PACE_RECORD_SD, "in_logs": True}
    slow = learn_more(start, Evidence(4.0, 8.0, 0.25), **sure)
    # Clipped at two sd, 0.613; weight 0.16 ÷ (0.16 + 0.0939) = 0.630.
    assert slow.mean == pytest.approx(0.630 * 0.613, abs=0.001)
    assert as_ratio(slow).mean == pytest.approx(1.471, abs=0.002)
    # Half as long weighs as much as twice as long, and both together leave it where it was.
    quick = learn_more(start, Evidence(4.0, 2.0, 0.25), **sure)
    assert quick.mean == pytest.approx(-slow.mean)
    assert as_ratio(quick).mean * as_ratio(slow).mean == pytest.approx(1)
    assert fold(0.0, PACE_SD**2, [(4.0, 8.0, 0.25)], **sure) == (slow.mean, slow.variance)
