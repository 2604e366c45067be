"""Two doughs held side by side."""

import pytest

from northfold.core.errors import NoFlour
from northfold.core.formula.difference import differences
from tests.core.examples import HARBOUR, lines


def test_a_batch_twice_as_large_is_the_same_dough():
    twice = tuple((2 * grams, name) for grams, name in HARBOUR)
    assert all(each.is_same for each in differences(lines(*HARBOUR), lines(*twice)))


def test_what_came_what_went_and_what_moved():
    after = lines((420, "plain flour"), (210, "unsalted butter"), (70, "lard"), (140, "water"))
    found = {each.name: each for each in differences(lines(*HARBOUR), after)}
    assert list(found) == ["plain flour", "unsalted butter", "lard", "water", "fine salt"]
    assert found["unsalted butter"].by_pct == pytest.approx(100 * -70 / 420)
    assert (found["lard"].before_g, found["lard"].after_g) == (0, 70)
    assert found["fine salt"].after_pct == 0
    assert found["water"].is_same


def test_lines_of_one_ingredient_count_together_and_flour_is_needed():
    twice = lines((400, "plain flour"), (20, "plain flour"), (280, "unsalted butter"), (140, "water"), (7, "fine salt"))
    assert all(each.is_same for each in differences(lines(*HARBOUR), twice))
    with pytest.raises(NoFlour):
        differences(lines(*HARBOUR), lines((10, "water")))
