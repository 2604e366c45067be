"""Offcuts: leaves and stars counted by their area, twists baked by themselves."""

import math

import pytest

from northfold.core.method.advice.trimmings import CUT_OF_THEM, trimmings
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


def test_next_to_nothing_is_no_trimming():
    assert trimmings(planned(CASE, edits=[("nothing", "minutes", "1")])) is not None
    crumbs = planned(CASE)
    object.__setattr__(crumbs, "pieces", ())
    assert trimmings(crumbs) is None
