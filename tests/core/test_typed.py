"""Figures typed into fields: exact by the international definitions of ounce, pound, inch and Fahrenheit."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import NegativeWeight, NotANumber
from northfold.core.formula.typed import read_gram_range, read_grams, read_length_mm, read_typed
from northfold.core.method.choices.fields import read_number


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("250", "g", 250),
        ("9 oz", "g", 255.146),
        ("1 lb 2 oz", "g", 510.291),
        ("1 1/2 lb", "g", 680.389),
        ("½ oz", "g", 14.175),
        ("0.5 kg", "g", 500),
        ("1,5 kg", "g", 1500),
        ("9 in", "mm", 228.6),
        ("9 1/2 in", "mm", 241.3),
        ("1/8 in", "mm", 3.175),
        ('3/8"', "mm", 9.525),
        ("23 cm", "mm", 230),
        ("70 °F", "°C", 21.111),
        ("70F", "°C", 21.111),
        ("0 °F", "°C", -17.778),
        ("−18", "°C", -18),
        ("-4 °F", "°C", -20),
        ("21 °C", "°C", 21),
        ("375 f", "°C", 190.556),
        ("1 h 30", "min", 90),
        ("1 h 30 min", "min", 90),
        ("1:30", "min", 90),
        ("2 hours", "min", 120),
        ("¾ h", "min", 45),
        ("45", "min", 45),
        ("2 %", "%", 2),
    ],
)
def test_other_units_of_the_same_kind_are_read(text, unit, value):
    assert read_typed(text, unit) == pytest.approx(value, abs=0.001)


def test_a_difference_of_temperatures_has_no_zero_point():
    assert read_typed("36 °F", "°C", difference=True) == pytest.approx(20)
    assert read_typed("9 °F", "K") == pytest.approx(5)


@pytest.mark.parametrize(
    ("text", "unit"),
    [("9 in", "g"), ("9 oz", "mm"), ("wide", "mm"), ("", "g"), ("-", "g"), ("1e9", "g"), ("NaN", "°C"), ("inf", "min"),
     ("5 min", "°C"), ("12 %", "g"), ("--3", "°C"), ("1/0", "g")],
)  # fmt: skip
def test_what_is_of_another_kind_is_refused(text, unit):
    with pytest.raises(NotANumber):
        read_typed(text, unit)


def test_grams_and_lengths_keep_their_bounds():
    assert read_grams("1 lb") == pytest.approx(453.592, abs=0.001)
    assert read_length_mm("9 1/2 in") == pytest.approx(241.3)
    with pytest.raises(NegativeWeight):
        read_grams("-1 oz")
    spread = read_gram_range("4 oz to 5 oz")
    assert (spread.low, spread.high) == pytest.approx((113.398, 141.748), abs=0.001)
    assert read_gram_range("4–5 oz").low == pytest.approx(113.398, abs=0.001)
    assert read_gram_range("120-150").usual == 135


@pytest.mark.parametrize(
    ("field", "text", "value"),
    [
        ("minutes", "1 h 15", 75),
        ("thickness_mm", "1/8 in", 3.175),
        ("flour_c", "65 °F", 18.333),
        ("oven_c", "375 °F", 190.556),
        ("ice_g", "2 oz", 56.699),
        ("friction_k", "3.6 °F", 2),
    ],
)
def test_fields_of_steps_read_them_too(field, text, value):
    assert read_number(field, text) == pytest.approx(value, abs=0.001)


@given(st.floats(0, 5000).map(lambda value: round(value, 2)))
def test_a_plain_number_is_taken_as_it_is(value):
    assert read_typed(f"{value:.2f}", "g") == pytest.approx(value)
