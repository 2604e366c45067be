"""The ratio triangle: geometry against the closed form, words that never overlap."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.formula.families import fits, traits
from northfold.core.formula.ratio import ratio_of
from northfold.core.formula.triangle import HEIGHT, WIDTH, ghosts, triangle
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines

LEAN = ((400, "strong flour"), (40, "sunflower oil"), (260, "water"), (8, "cider vinegar"))


def picture(recipe):
    dough = lines(*recipe)
    ratio = ratio_of(dough)
    return triangle(ratio, fits(ratio, dough), traits(dough))


def test_marks_stand_where_their_shares_say():
    drawn = picture(HARBOUR)
    # 3 : 2 : 1: flour share 1/2, liquid minus fat −1/6; 600 px for 0.85 across, √3 times that up.
    scale = 600 / 0.85
    assert drawn.written.x == pytest.approx(56 + (-1 / 6 + 0.65) * scale)
    assert drawn.written.y == pytest.approx(12 + (0.72 - 0.5) * scale * math.sqrt(3))
    whole = 100 + 54.667 + 44.003
    assert drawn.true.x == pytest.approx(56 + ((44.003 - 54.667) / whole + 0.65) * scale, abs=0.01)
    assert not drawn.is_one_mark


def test_fat_ticks_lie_on_the_side_without_liquid():
    drawn = picture(HARBOUR)
    ticks = {label.text: label for label in drawn.labels if label.kind == "tick-fat"}
    scale = 600 / 0.85
    for percent in (60, 100, 180):
        share = 100 / (100 + percent)  # flour share where there is no liquid
        assert ticks[str(percent)].y - 4 == pytest.approx(12 + (0.72 - share) * scale * math.sqrt(3), abs=0.5)


def test_one_best_region_and_at_most_three_more():
    drawn = picture(HARBOUR)
    assert [region.best for region in drawn.regions] == [True, False, False, False]
    assert [region.key for region in drawn.regions] == ["pie", "rough_puff", "savoury_shortcrust", "classic_puff"]


def test_lean_dough_gets_the_other_window():
    drawn = picture(LEAN)
    assert not drawn.written.outside
    assert "stretched" in {region.key for region in drawn.regions if region.best}


def test_mark_beyond_the_window_is_drawn_at_its_edge_and_says_so():
    drawn = picture(((100, "buckwheat flour"), (15, "lard")))  # flour share 0.87
    assert drawn.written.outside
    assert 0 <= drawn.written.x <= WIDTH
    assert any("(outside)" in label.text for label in drawn.labels)


def test_marks_closer_than_12_px_become_one():
    drawn = picture(((100, "plain flour"), (60, "lard"), (30, "water")))
    assert drawn.is_one_mark
    assert not drawn.leader


def assert_words_stand_apart(drawn):
    for one, other in itertools.combinations(drawn.labels, 2):
        assert not one.box.overlaps(other.box), (one.text, other.text)
    for label in drawn.labels:
        assert label.box.x >= -2 and label.box.x + label.box.width <= WIDTH + 2, label.text


@pytest.mark.parametrize("recipe", [HARBOUR, SWEET, CHEESE, LEAN])
def test_words_never_overlap_in_the_examples(recipe):
    drawn = picture(recipe)
    assert_words_stand_apart(drawn)
    assert {"as written", "true"} <= {label.text for label in drawn.labels} or drawn.is_one_mark


@given(
    fat=st.floats(0, 150),
    water=st.floats(0, 120),
    sugar=st.floats(0, 80),
    egg=st.floats(0, 60),
    cheese=st.floats(0, 60),
)
def test_words_never_overlap_and_marks_stay_on_the_sheet(fat, water, sugar, egg, cheese):
    recipe = (
        (100, "plain flour"), (fat, "unsalted butter"), (water, "water"), (sugar, "caster sugar"),
        (egg, "whole egg"), (cheese, "hard mature cheese"),
    )  # fmt: skip
    drawn = picture(recipe)
    assert_words_stand_apart(drawn)
    for mark in (drawn.written, drawn.true):
        assert 0 <= mark.x <= WIDTH
        assert 0 <= mark.y <= HEIGHT


def test_earlier_versions_lie_where_they_were_and_not_under_the_mark():
    dough = lines(*HARBOUR)
    ratio = ratio_of(dough)
    found = ghosts(ratio, [(1, ratio.fat, ratio.liquid), (2, 50.0, 25.0)])
    assert [ghost.n for ghost in found] == [2]
    other = lines((100, "plain flour"), (50, "lard"), (25, "water"))
    there = triangle(ratio_of(other), fits(ratio_of(other), other), traits(other)).written
    assert (found[0].mark.x, found[0].mark.y) == pytest.approx((there.x, there.y))
