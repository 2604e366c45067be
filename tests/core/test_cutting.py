"""Cutting pieces from sheets: the reference figures, brute force up to twelve pieces, no piece over another."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.shape.cutting import (
    LEAST_EDGE_MM,
    NEAR,
    SQUARE_ROWS,
    STAGGERED_ROWS,
    TooWide,
    cut_from_sheets,
    layouts,
    one_sheet,
    rollings,
)
from northfold.core.shape.pictures import sheet_picture


def test_sixty_discs_of_100_mm_on_600():
    """Reference calculations, cutting: square 10 rows, 1,000 mm, 78.5 %; staggered 11 rows, 966 mm, 61 cut."""
    found = layouts("round", 60, (100,), 600, web_mm=0)
    square, staggered = found[SQUARE_ROWS], found[STAGGERED_ROWS]
    assert (square.rows, square.length_mm) == (10, 1000)
    assert 60 * math.pi / 4 * 100**2 / square.area_mm2 == pytest.approx(0.785, abs=0.0005)
    assert (staggered.rows, staggered.count) == (11, 61)
    assert staggered.length_mm == pytest.approx(966, abs=0.5)


def brute_force(count, diameter, web, width):
    """The least rolled area over rows of k (and k or k − 1 by turns), turned by 0 or 90°, offset by none or half."""
    pitch, best = diameter + web, math.inf
    for k in range(1, count + 1):
        for second, offset in ((k, 0), (k, 0.5), (k - 1, 0.5)):
            if second < 1:
                continue
            step = pitch * (math.sqrt(3) / 2 if offset else 1)
            for rows in range(1, count + 1):
                held = math.ceil(rows / 2) * k + rows // 2 * second
                if held < count:
                    continue
                shifted = (second - 1 + offset) * pitch if rows > 1 else 0
                line = max((k - 1) * pitch, shifted) + diameter
                stack = (rows - 1) * step + diameter
                for across, along in ((line, stack), (stack, line)):
                    if across <= width + 1e-9:
                        best = min(best, (across + 2 * LEAST_EDGE_MM) * (along + 2 * LEAST_EDGE_MM))
                break
    return best


@pytest.mark.parametrize("count", range(1, 13))
@pytest.mark.parametrize(("diameter", "width"), [(100, 600), (100, 350), (80, 500), (55, 300), (120, 130)])
def test_as_good_as_brute_force_up_to_twelve_discs(count, diameter, width):
    found = one_sheet("round", count, (diameter,), width)
    rolled = (found.width_mm + 2 * LEAST_EDGE_MM) * (found.length_mm + 2 * LEAST_EDGE_MM)
    assert rolled <= NEAR * brute_force(count, diameter, 2, width) + 1e-6


sizes = st.floats(20, 200)
sheets = st.tuples(
    st.sampled_from(["round", "oval", "rectangle", "triangle"]),
    st.integers(1, 90),
    sizes,
    sizes,
    st.floats(0, 8),
    st.floats(420, 900),
)


@given(sheets)
def test_never_worse_than_square_rows(sheet):
    outline, count, across, along, web, width = sheet
    if outline == "triangle":
        outline = "round"
    size = (across,) if outline == "round" else (across, along)
    found, sorts = one_sheet(outline, count, size, width, web), layouts(outline, count, size, width, web)
    rim = 2 * LEAST_EDGE_MM
    square = sorts[SQUARE_ROWS]
    assert (found.width_mm + rim) * (found.length_mm + rim) <= NEAR * (square.width_mm + rim) * (
        square.length_mm + rim
    ) + 1e-6
    assert found.count >= count


def separate(outline, a, b, laid, web):
    """Whether two pieces lie apart by at least the web, or, of ellipses, do not overlap."""
    dx, dy = abs(a[0] - b[0]), abs(a[1] - b[1])
    if outline == "rectangle":
        return dx >= laid[0] + web - 1e-6 or dy >= laid[1] + web - 1e-6
    return (dx / (laid[0] + web)) ** 2 + (dy / (laid[1] + web)) ** 2 >= 1 - 1e-9


@given(sheets)
def test_pieces_never_overlap_or_cross_an_edge(sheet):
    outline, count, across, along, web, width = sheet
    size = (across,) if outline == "round" else (across, along)
    found = one_sheet(outline, min(count, 40), size, width, web)
    places = list(found.places())
    assert len(places) == found.count
    laid = (2 * found.first_mm[0], 2 * found.first_mm[1])
    for x, y, _ in places:
        assert laid[0] / 2 - 1e-6 <= x <= found.width_mm - laid[0] / 2 + 1e-6
        assert laid[1] / 2 - 1e-6 <= y <= found.length_mm - laid[1] / 2 + 1e-6
    if outline != "triangle":
        for a, b in itertools.combinations(places, 2):
            assert separate(outline, a, b, laid, web), (a, b)
        return
    shapes = [corners(x, y, flipped, size, found.turned) for x, y, flipped in places]
    for a, b in itertools.combinations(shapes, 2):
        assert apart(a, b)


def corners(x, y, flipped, size, turned):
    """Corners of a triangle as laid: across, along."""
    base, height = size
    up = -1 if flipped else 1
    flat = [(-base / 2, up * height / 2), (base / 2, up * height / 2), (0, -up * height / 2)]
    return [(x + v, y + u) if turned else (x + u, y + v) for u, v in flat]


def apart(first, second):
    """Whether some side of either triangle separates the two (separating axis)."""
    for shape in (first, second):
        for (x1, y1), (x2, y2) in zip(shape, (*shape[1:], shape[0]), strict=True):
            normal = (y2 - y1, x1 - x2)
            one, other = ([px * normal[0] + py * normal[1] for px, py in each] for each in (first, second))
            if max(one) <= min(other) + 1e-6 or max(other) <= min(one) + 1e-6:
                return True
    return False


def test_more_pieces_than_a_bench_holds_take_several_sheets():
    cut = cut_from_sheets("round", 200, (100,), width_mm=600, length_mm=1000, edge_mm=10)
    assert cut.sheet_count > 1
    assert sum(layout.count * times for layout, times in cut.sheets) == 200 + cut.spare
    for layout, _ in cut.sheets:
        long, short = cut.rolled_mm(layout)
        assert (long <= 1000 + 1e-6, short <= 600 + 1e-6) == (True, True)
    assert cut.yield_pct == pytest.approx(200 * math.pi / 4 * 100**2 / cut.area_mm2 * 100)
    picture = sheet_picture(cut, *cut.sheets[0])
    assert len(picture.pieces) == cut.sheets[0][0].count


def test_what_fits_no_sheet_is_refused_with_its_measure():
    with pytest.raises(TooWide, match="700 mm does not fit a sheet of 580 mm"):
        cut_from_sheets("round", 2, (700,), width_mm=600, length_mm=1200, edge_mm=10)
    with pytest.raises(TooWide, match="50 mm does not fit a sheet of 0 mm"):
        cut_from_sheets("round", 2, (50,), width_mm=150, length_mm=1200, edge_mm=80)
    with pytest.raises(OutsideRange, match="A web of 90"):
        one_sheet("round", 2, (50,), 600, 90)


def in_one_row(count, rerolls):
    """Rounds of 100 mm from a strip of 100, without web or edge: each takes 10,000 mm² and leaves 2,146 of them."""
    return rollings("round", count, (100,), rerolls, width_mm=100, length_mm=5000, web_mm=0)


def test_offcuts_rolled_again_are_cut_into_further_pieces():
    """By hand: 5 rounds leave 10,730 mm², enough for a sixth; 24 leave 51,504, so 5 more, and those with the rest 1."""
    assert [cut.count for cut in in_one_row(6, 0)] == [6]
    assert [cut.count for cut in in_one_row(6, 1)] == [5, 1]
    assert [cut.count for cut in in_one_row(5, 1)] == [5]
    assert [cut.count for cut in in_one_row(30, 2)] == [24, 5, 1]
    assert [cut.count for cut in in_one_row(30, 1)] == [25, 5]
    with pytest.raises(OutsideRange, match="Rolled again 3"):
        in_one_row(6, 3)


@pytest.mark.parametrize("count", [1, 7, 36, 200])
@pytest.mark.parametrize("rerolls", [1, 2])
def test_no_rolling_takes_more_dough_than_the_one_before_left(count, rerolls):
    found = rollings("round", count, (85,), rerolls, width_mm=600, length_mm=1200, web_mm=2, edge_mm=10)
    assert sum(cut.count for cut in found) >= count
    assert len(found) <= 1 + rerolls
    left = found[0].area_mm2
    for cut in found:
        assert cut.area_mm2 <= left + 1e-6
        left -= cut.count * math.pi / 4 * 85**2
