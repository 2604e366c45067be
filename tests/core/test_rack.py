"""Every tin and shape: areas and volumes by closed forms, lids, strips, loads, and where the dough goes."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.bake.loads import pieces_on_tray
from northfold.core.errors import TinShapeError
from northfold.core.formula.loads import CannotSplit, Mixer, mixer_loads
from northfold.core.method import PlanInputs, Setting, plan
from northfold.core.method.advice.scale_notes import scale_notes
from northfold.core.method.reckon.finishing import glazed_mm2
from northfold.core.shape.blanks import (
    EACH,
    LID,
    OPEN,
    PRESSED,
    SHEET,
    STRIP,
    Item,
    cap_arc_mm,
    holds_ml,
    inside_ml,
    liner_mm,
    piece,
    portion,
)
from northfold.core.shape.fitting import enough, most_of, remarks
from northfold.core.shape.outlines import circumference_mm
from northfold.core.shape.pictures import blank_from_above, gauge, section
from northfold.core.shape.tins import Tin, kinds, surface_mm2, volume_ml
from tests.core.examples import HARBOUR, SWEET, lines

PLATE = Tin("pie plate", "round", 230, 200, 40)
FLAN = Tin("flan tin", "round", 230, 230, 25)
DENSITY = 1124.0
SMALL, LARGE = Mixer("table mixer", 500, 3000), Mixer("spiral", 2000, 8000)


def shape(kind, top=120.0, width=80.0, **more):
    """A tin or shape of a kind, with what the kind asks for."""
    asked = kinds()[kind].measures
    values = {"base_mm": 0.9 * top, "height_mm": 30.0} if kinds()[kind].vessel else {"base_mm": 0.0, "height_mm": 0.0}
    if "top_width" in asked:
        values |= {"top_width_mm": width, "base_width_mm": 0.9 * width if kinds()[kind].vessel else 0.0}
    return Tin("x", kind, top, **{**values, **more})


def test_volumes_and_surfaces_by_closed_forms():
    oval = Tin("x", "oval", 260, 260, 40, 180, 180)
    assert volume_ml(oval) == pytest.approx(math.pi * 130 * 90 * 40 / 1000)
    square = Tin("x", "square", 200, 200, 50)
    assert volume_ml(square) == pytest.approx(2000)
    cone = Tin("x", "round", 230, 200, 40)
    slant = math.hypot(40, 15)
    assert surface_mm2(cone) == pytest.approx(math.pi * 100**2 + math.pi * (115 + 100) * slant)
    assert surface_mm2(square) == pytest.approx(200**2 + 4 * 200 * 50)
    assert circumference_mm("oval", (200, 200)) == pytest.approx(math.pi * 200)
    # Perimeter of an ellipse 4 : 2 by its complete elliptic integral, 9.68845 for half axes 2 and 1.
    assert circumference_mm("oval", (4, 2)) == pytest.approx(9.68845, rel=1e-5)
    assert volume_ml(shape("cut_round")) == 0


def test_a_lidded_plate_worked_by_hand():
    """Ø 230/200, 40 deep, lid over a 25 mm heap: R = (115² + 25²)/50 = 277; arc = 554 asin(230/554) = 237.18."""
    assert cap_arc_mm(230, 25) == pytest.approx(554 * math.asin(230 / 554))
    assert cap_arc_mm(230, 25) == pytest.approx(237.18, abs=0.01)
    item = Item(PLATE, 4, 4.0, overhang_mm=25, margin_mm=10, cover=LID, heap_mm=25, edge_mm=25)
    made = piece(item, DENSITY)
    base, lid = made.parts
    wall = math.hypot(40, 15)
    assert base.blank_mm[0] == pytest.approx(200 + 2 * wall + 50)
    assert lid.blank_mm[0] == pytest.approx(237.18 + 50, abs=0.01)
    grams = [math.pi / 4 * size**2 * 4 * DENSITY * 1e-6 for size in (200 + 2 * wall + 50, 287.18)]
    assert [base.blank_g, lid.blank_g] == pytest.approx(grams, rel=1e-4)
    assert made.net_g == pytest.approx(sum(grams), rel=1e-4)
    # The heap is a cap: π · 25 · (3 · 115² + 25²)/6 mm³ above a plate lined 4 mm thick.
    cap = math.pi * 25 * (3 * 115**2 + 25**2) / 6 / 1000
    inside = math.pi * 36 / 12 * (222**2 + 222 * 192 + 192**2) / 1000
    assert holds_ml(item) == pytest.approx(inside + cap)
    assert section(made).lid
    assert cap_arc_mm(100, 80) > math.pi * 100 / 2  # higher than half the width: more than a half circle


def test_a_strip_goes_round_the_rim_and_overlaps():
    tin = Tin("mould", "mould", 80, 80, 30)
    base, strip = piece(Item(tin, 10, overhang_mm=0, cover=STRIP), DENSITY).parts
    assert base.blank_mm == (80,)
    assert strip.blank_mm == pytest.approx((math.pi * 80 + 10, 30))


def test_pressed_in_takes_base_and_walls_and_leaves_nothing():
    made = piece(Item(PLATE, 3, 5.0, cover=PRESSED), DENSITY)
    assert made.net_g == pytest.approx(surface_mm2(PLATE) * 5 * DENSITY * 1e-6)
    assert (made.offcut_g, made.need_g) == (0, pytest.approx(3 * made.net_g))
    with pytest.raises(TinShapeError, match="has no walls"):
        piece(Item(shape("cut_round"), 3, cover=PRESSED), DENSITY)


def test_a_plate_is_lined_over_its_flat_rim_and_its_lid_lies_on_it():
    plate = Tin("plate", "plate", 180, 160, 22, border_mm=28)
    made = piece(Item(plate, 2, 3.5, overhang_mm=8, margin_mm=0, cover=LID, heap_mm=20), DENSITY)
    slant = math.hypot(22, 10)
    assert made.blank_mm == pytest.approx((160 + 2 * slant + 2 * 28 + 2 * 8,))
    # A lid: the arc over the heap of what lies inside the rim, then flat over the rim and what hangs over it.
    radius = (90**2 + 20**2) / 40
    assert made.parts[1].blank_mm == pytest.approx((2 * radius * math.asin(90 / radius) + 2 * (28 + 8),))
    assert plate.size == "Ø 180/160 × 22, rim 28" and plate.outer_mm == (236,)
    assert pieces_on_tray(plate, (600, 400)) == 2  # 236 + 20 between: two along 620, one across 420
    assert glazed_mm2(made.item) == pytest.approx(math.pi * 118**2)
    # What it holds is what its well holds: the rim carries dough alone.
    assert inside_ml(made.item) == pytest.approx(inside_ml(Item(replace(plate, border_mm=0.0), 2, 3.5)))
    pressed = piece(Item(plate, 1, 5, cover=PRESSED), DENSITY).net_g / (5 * DENSITY * 1e-6)
    assert pressed == pytest.approx(math.pi * (80**2 + 170 * slant + 118**2 - 90**2))
    drawn = section(made)
    assert drawn.tin[0][0] == pytest.approx(drawn.top[0][0] - 28 * drawn.px_per_mm)
    assert min(x for x, _ in drawn.lid) == pytest.approx(drawn.hang_left)


def test_free_shapes_are_cut_larger_by_what_they_shrink():
    free = Tin("tart", "free_round", 240, 0, 0, border_mm=50)
    made = piece(Item(free, 1, margin_mm=0), DENSITY, shrink_pct=4.0)
    assert made.blank_mm == pytest.approx((340 / 0.96,))
    assert made.rim_mm == (0.0,)
    fluted, plain = (piece(Item(Tin("x", kind, 230, 230, 25), 1), DENSITY) for kind in ("fluted", "round"))
    assert fluted.blank_mm[0] - plain.blank_mm[0] == 6  # 3 mm of flute at each end


@pytest.mark.parametrize("kind", sorted(kinds()))
@pytest.mark.parametrize("rolling", [EACH, SHEET])
@pytest.mark.parametrize("offcuts", ["apart", "rerolled", "twice"])
def test_mass_balance_of_every_kind_is_exact(kind, rolling, offcuts):
    tin = shape(kind, border_mm=20.0 if "border" in kinds()[kind].measures else 0.0)
    covers = (OPEN, LID, STRIP, PRESSED) if tin.is_vessel else (OPEN, LID)
    for cover in covers:
        item = Item(tin, 7, 3.0, offcuts=offcuts, cover=cover, heap_mm=10, rolling=rolling, leaves=2, stars=1)
        planned = plan(PlanInputs(lines(*SWEET), (item,), loss=0.03, schools=(("egg", "batch_up"),)))
        assert not planned.problems, (kind, cover, planned.problems)
        parts = planned.net_g + planned.offcuts_g + planned.loss_g + planned.surplus_g
        assert parts == pytest.approx(planned.mixed_g, rel=1e-12)
        assert sum(line.exact_g for line in planned.scaled) == pytest.approx(planned.mixed_g, rel=1e-12)
        assert planned.offcuts_g >= -1e-9
        made = planned.pieces[0]
        assert blank_from_above(made).rings
        assert gauge(planned.pieces).bars


def test_rolling_offcuts_again_takes_less_dough():
    def need(offcuts):
        return piece(Item(shape("cut_round", 60.0), 50, offcuts=offcuts), DENSITY).need_g

    assert (
        need("apart") > need("rerolled") > need("twice") > 50 * piece(Item(shape("cut_round", 60.0), 1), DENSITY).net_g
    )


# -- does it go well


def test_what_will_not_go_well_is_said_with_the_number():
    sheet, tray = (600.0, 1200.0), (600.0, 400.0)

    def said(tin, **values):
        return " ".join(remarks(piece(Item(tin, 1, **values), DENSITY), sheet, tray))

    wide = Tin("tart", "free_round", 380, 0, 0, border_mm=15)
    assert "380 mm across cannot hold itself up at 3 mm: past 300 mm" in said(wide)
    assert "A border of 15 mm will not stay folded" in said(wide)
    assert "more than the 1200 × 600 mm here" in said(Tin("x", "slab", 900, 0, 0, 700))
    assert "does not fit on a tray of 600 × 400" in said(Tin("x", "slab", 900, 0, 0, 300))
    assert "0.8 mm is too thin to lift" in said(FLAN, thickness_mm=0.8)
    # A leaf is 60 × 25 mm, 0.69 of its box: 40 of them are 414 cm², the lid of a Ø 200 tin 314.
    small = Tin("pie", "round", 200, 200, 40)
    covered = said(small, cover=LID, leaves=40, overhang_mm=25)
    assert "40 leaves and stars cover 414 cm² and a lid has 314: 30 of them at most" in covered
    assert "leaves" not in said(small, cover=LID, leaves=30, overhang_mm=25)
    assert "12 mm is too thick to bake through" in said(FLAN, thickness_mm=12)
    assert "A joined edge wants about 25 mm" in said(PLATE, cover=LID, overhang_mm=5)
    assert said(Tin("sheet", "pulled", 500, 0, 0, 380), thickness_mm=0.7) == ""
    assert said(FLAN) == ""
    assert "Glass from the cold can break" in said(Tin("dish", "round", 230, 230, 25, material="glass"))


def test_is_this_dough_enough_both_ways():
    six = piece(Item(FLAN, 6), DENSITY)
    each = six.need_g / 6
    found = enough(640, six)
    assert (found.pieces, found.left_g) == (int(640 // each), pytest.approx(640 % each))
    assert found.factor == pytest.approx(640 / six.need_g)
    assert not found.is_enough
    assert enough(six.need_g / 0.98, six, loss=0.02).is_enough


def test_what_a_dough_makes_counts_sheets_and_their_edges():
    cracker = Item(shape("cut_round", 55.0), 1, 2.5)
    found = most_of(640, cracker, DENSITY, (600.0, 1200.0))
    bare = 640 / (math.pi / 4 * 55**2 * 2.5 * DENSITY * 1e-6)
    assert 0.6 * bare < found.pieces < bare
    wanted = piece(Item(shape("cut_round", 55.0), found.pieces, 2.5), DENSITY)
    assert wanted.need_g <= 640 * 1.03


def test_portions_and_liner():
    made = piece(Item(FLAN, 1, filling_g=700, slices=8), DENSITY)
    told = portion(made)
    assert told.crust_share == pytest.approx(made.net_g / (made.net_g + 700))
    assert told.slice_g == pytest.approx((made.net_g + 700) / 8)
    assert liner_mm(made) == (280 + 60,)


# -- loads


def test_loads_of_11_3_kg():
    assert (mixer_loads(11_300, LARGE).count, mixer_loads(11_300, LARGE).each_g) == (2, 5650)
    assert (mixer_loads(11_300, SMALL).count, mixer_loads(11_300, SMALL).each_g) == (4, 2825)


def test_a_total_that_cannot_be_split_says_what_would_do():
    with pytest.raises(CannotSplit, match=r"1 equal load of 1.50 kg, below its least of 2.00 kg. Make 500 g more"):
        mixer_loads(1500, LARGE)
    with pytest.raises(CannotSplit, match=r"2 equal loads of 4.25 kg.*Make 1.50 kg more or 500 g less"):
        mixer_loads(8500, Mixer("narrow", 5000, 8000))


@given(st.floats(100, 200_000), st.floats(100, 5000), st.floats(1, 6))
def test_loads_are_equal_and_within_the_mixer(total, smallest, ratio):
    mixer = Mixer("any", smallest, smallest * ratio)
    try:
        found = mixer_loads(total, mixer)
    except CannotSplit:
        return
    assert found.count * found.each_g == pytest.approx(total)
    assert mixer.smallest_g - 1e-6 <= found.each_g <= mixer.largest_g * (1 + 1e-9)
    assert found.count == 1 or total / (found.count - 1) > mixer.largest_g * (1 - 1e-9)


def test_scaling_names_its_traps():
    setting = Setting(mixers=(Mixer("table mixer", 300, 1000),))
    big = plan(
        PlanInputs(
            lines((200, "plain flour"), (100, "unsalted butter"), (50, "whole egg")), (Item(FLAN, 7),), setting=setting
        )
    )
    said = " ".join(scale_notes(big))
    assert f"This is {big.factor:.2f} × the formula" in said
    assert "beat 6 and weigh" in said or "are wanted; beat" in said
    assert "equal loads" in said
    assert "7 tins on 7 trays" in said
    small = plan(PlanInputs(lines(*HARBOUR), (Item(FLAN, 1),)))
    assert "does not bake in half the time" in " ".join(scale_notes(small))
    near = plan(PlanInputs(lines(*HARBOUR), (Item(FLAN, 3),)))
    assert scale_notes(near) == ()
