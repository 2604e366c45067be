"""Weighing on a scale: when a line is there, and what too much of one does to the others."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.method.route.at_scale import A_LITTLE_OVER, BOWL_OFF, EMPTY, THERE, TOO_MUCH, UNDER, OnPan, rescaled


@pytest.mark.parametrize(
    ("target", "on_pan", "step", "state"),
    [
        (420, 0, 1, EMPTY), (420, 300, 1, UNDER), (420, 415, 1, UNDER), (420, 416, 1, THERE), (420, 424, 1, THERE),
        (420, 428, 1, A_LITTLE_OVER), (420, 432.6, 1, TOO_MUCH), (420, 500, 1, TOO_MUCH),
        # Of little a step of the scale counts, not a hundredth.
        (7, 6, 1, THERE), (7, 8, 1, THERE), (7, 5, 1, UNDER), (7, 9, 1, TOO_MUCH), (7, 7.2, 0.1, A_LITTLE_OVER),
        # A bowl of some grams was taken off.
        (420, -4, 1, EMPTY), (420, -312, 1, BOWL_OFF),
    ],
)  # fmt: skip
def test_when_a_line_is_there(target, on_pan, step, state):
    assert OnPan(target, on_pan, step).state == state


def test_too_much_flour_takes_butter_water_and_salt_with_it():
    # 420 : 280 : 140 : 7 with 441 g flour: five hundredths more of each.
    found = rescaled([420, 280, 140, 7], 0, 441, {}, pieces=6)
    assert found.batch == pytest.approx(1.05)
    assert found.more_g == pytest.approx(847 * 0.05)
    assert found.more_pieces == pytest.approx(0.3)
    assert found.adds == ()


def test_what_was_weighed_before_is_told_how_much_it_lacks():
    found = rescaled([420, 280, 140, 7], 1, 308, {0: 421, 3: 7}, pieces=6)
    # 28 g butter too much is a tenth: flour lacks 462 − 421; of the salt it is less than a gram.
    assert found.adds == ((0, pytest.approx(41.0)),)


@pytest.mark.parametrize("grams", [400, 700])
def test_a_dough_is_not_made_smaller_nor_half_as_large_again(grams):
    with pytest.raises(OutsideRange, match="Take some out"):
        rescaled([420, 280], 0, grams, {}, pieces=1)


@given(st.lists(st.floats(5, 5000), min_size=2, max_size=8), st.data())
def test_the_ratio_stays_whatever_is_too_much(planned, data):
    line = data.draw(st.integers(0, len(planned) - 1))
    grams = planned[line] * data.draw(st.floats(1.0, 1.5))
    found = rescaled(planned, line, grams, {}, pieces=4)
    larger = [each * found.batch for each in planned]
    assert larger[line] == pytest.approx(grams)
    assert [each / larger[0] for each in larger] == pytest.approx([each / planned[0] for each in planned])
    assert sum(larger) - sum(planned) == pytest.approx(found.more_g, abs=1e-6)
