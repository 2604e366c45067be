"""Offcuts: leaves and stars counted by their area, twists baked by themselves."""

import math
from dataclasses import replace

import pytest

from northfold.core.errors import OutsideRange
from northfold.core.method.advice.trimmings import trimmings
from northfold.core.shape.blanks import check_item
from northfold.core.shape.decorations import CUT_OF_THEM, leaf_mm2, star_mm2
from tests.core.test_fill_planned import CASE, PIE, planned


def test_leaves_and_stars_are_counted_by_area_thickness_and_density():
    pie = planned(PIE)
    found = trimmings(pie)
    assert found.grams == pytest.approx(pie.offcuts_g) and found.thick_mm == 4
    usable_mm3 = CUT_OF_THEM * pie.offcuts_g / (pie.density_kg_m3 / 1e6)
    # A lens of two arcs over a chord c, each h high: its radius (c² / 4 + h²) / 2h.
    chord, height = 60.0, 12.5
    radius = (chord**2 / 4 + height**2) / (2 * height)
    angle = 2 * math.asin(chord / 2 / radius)
    lens = radius**2 * (angle - math.sin(angle))
    assert found.leaves == pytest.approx(usable_mm3 / 4 / lens, rel=0.02)
    # Five points: ten triangles between radii 17.5 and 7 mm, 36 degrees apart.
    star = 10 * 0.5 * 17.5 * 7 * math.sin(math.radians(36))
    assert found.stars == pytest.approx(usable_mm3 / 4 / star, rel=0.02)
    assert any("leaves of 60 × 25 mm" in each for each in found.says)


def test_twists_bake_by_themselves_as_long_as_their_dough_and_thickness_ask():
    thin, thick = trimmings(planned(CASE)), trimmings(planned(PIE))
    assert thin.twists and thin.oven_c >= 150 and 5 <= thin.low_min < thin.high_min <= 60
    assert thick.high_min > thin.high_min
    assert "twists" in thin.says[-1]


def lid_with(leaves, stars=0, **more):
    return planned(replace(PIE, leaves=leaves, stars=stars, **more))


def test_leaves_come_off_the_offcuts_as_long_as_these_last():
    bare, few = planned(PIE), lid_with(3, 2)
    (one,), (other,) = bare.pieces, few.pieces
    each_g = (3 * leaf_mm2() + 2 * star_mm2()) * 4 * few.density_kg_m3 * 1e-6
    assert other.net_g - one.net_g == pytest.approx(each_g)
    assert other.need_g == pytest.approx(one.need_g) and other.decorated.extra_g == 0
    # What is over is less by what lies on the lids; what is cut around them makes no second set.
    assert few.offcuts_g == pytest.approx(bare.offcuts_g - 2 * each_g)
    assert trimmings(few).grams == pytest.approx(bare.offcuts_g - 2 * each_g / CUT_OF_THEM)
    steps = [step.key for step in few.route.along]
    assert steps.index("vent") < steps.index("leaves") < steps.index("glaze") and "leaves" not in [
        step.key for step in bare.route.along
    ]
    told = next(step for step in few.route.steps if step.key == "leaves")
    assert "Cut 3 leaves of 60 × 25 mm and 2 stars of 35 mm for each, 10 in all" in told.look
    assert told.hands_min == pytest.approx(1 + 10 * 0.3, abs=0.5)


def test_what_offcuts_lack_is_set_aside_when_the_dough_is_divided():
    rich = lid_with(60)
    (one,) = rich.pieces
    takes = 60 * 2 * leaf_mm2() * 4 * rich.density_kg_m3 * 1e-6 / CUT_OF_THEM
    assert one.decorated.extra_g == pytest.approx(takes - planned(PIE).offcuts_g)
    shape = next(step for step in rich.route.steps if step.key == "shape")
    assert f"{one.decorated.extra_g:,.0f} g set aside for leaves and stars" in shape.look
    balance = rich.net_g + rich.offcuts_g + rich.loss_g + rich.surplus_g
    assert balance == pytest.approx(rich.mixed_g, rel=1e-12)
    assert trimmings(rich) is None
    with pytest.raises(OutsideRange, match="Leaves on a lid: 61 leaves is outside 0 to 60"):
        check_item(replace(PIE, leaves=61))


def test_next_to_nothing_is_no_trimming():
    assert trimmings(planned(CASE, edits=[("nothing", "minutes", "1")])) is not None
    crumbs = planned(CASE)
    object.__setattr__(crumbs, "pieces", ())
    assert trimmings(crumbs) is None
