"""What must not stand warm after its bake: on a rack first, then in the cold; what is said and dated for it."""

import pytest

from northfold.core.bake.cooling import cooling
from northfold.core.fill.layers import HEAP, MARK, RIM, Layer
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW
from northfold.core.method.advice.sold import sold
from tests.core.test_fill_planned import BERRIES, CASE, CURD, CUSTARD, PIE, planned, step
from tests.core.test_making import ROOTS


def test_a_filled_piece_that_stays_warm_longer_than_two_hours_goes_into_the_cold():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3))
    cools = step(tart, "cool.second")
    assert "on a rack 1 h 30 min, then in Fridge until it is 25 °C in the middle" in cools.look
    assert "Chill it within 2 h" in cools.caution and "Chill it within 2 h" not in step(tart, "cool").caution
    second = tart.bake.second
    bench = cooling(second.asked, tuple(stage.minutes for stage in second.stages), 21.0)
    assert bench.minutes > 120 and bench.rack_min == 0  # with no guidance it would stand that long
    assert 90 < second.cools.minutes < bench.minutes and cools.wait_min == pytest.approx(second.cools.minutes, abs=3)
    # Its middle at the end is what it is cut at, whatever the way: half a degree in the fridge is minutes.
    assert second.cools.to_c == bench.to_c == 25


def test_cooked_vegetables_with_cream_are_chilled_and_dated_like_them():
    pie = planned(PIE, Layer(ROOTS, RAW, rule=HEAP, amount=20))
    assert "Chill it within 2 h" in step(pie, "cool.filled").caution
    assert sold(pie, {})[0].keeps_days == 2 and sold(pie, {})[0].cold
    fruit = planned(PIE, Layer(BERRIES, RAW, rule=RIM))
    assert "Chill it" not in step(fruit, "cool.filled").caution and sold(fruit, {})[0].keeps_days == 3
    curd = planned(CASE, Layer(CURD, COOLED, rule=MARK, amount=3))
    assert "keep it at 5 °C or colder" in step(curd, "layer.cold").caution
    assert "Chill it within 2 h" not in step(curd, "cool").caution
