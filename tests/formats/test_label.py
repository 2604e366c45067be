"""A label as SVG and PDF: nothing is cut off, and its square says its address."""

import re

import pytest

from northfold.formats.label import (
    LEAST_MM,
    MARGIN_MM,
    PLAIN,
    SMALL,
    SQUARE_MM,
    STRONG,
    WIDE_MM,
    Label,
    folded,
    label_pdf,
    label_svg,
    laid_out,
    plain,
    wide_mm,
)

HOLDS = "Contains cereals with gluten (wheat, rye), milk, eggs, nuts (almond, hazelnut, pistachio), sesame, celery."


def label(*lines, title="Harbour tart shell"):
    return Label(title, lines, "7K3M9Q", "http://kitchen.example/c/7K3M9Q/")


def test_all_words_stand_on_it_inside_their_column_however_many_there_are():
    for times in (1, 3, 12):
        drawn = laid_out(label((STRONG, "Use by Tue 1 Dec"), (SMALL, " ".join([HOLDS] * times))))
        told = " ".join(each.text for each in drawn.lines[:-1])
        assert told == " ".join(["Harbour tart shell", "Use by Tue 1 Dec", *[HOLDS] * times])
        room = WIDE_MM - 2 * MARGIN_MM - SQUARE_MM
        for each in drawn.lines[:-1]:
            assert each.x_mm + wide_mm(each.text, each.size_mm, strong=each.strong) <= room
            assert MARGIN_MM < each.y_mm < drawn.height_mm
        assert drawn.height_mm >= LEAST_MM
    assert laid_out(label((SMALL, " ".join([HOLDS] * 12)))).height_mm > 100


def test_a_word_wider_than_the_label_is_broken_and_none_of_it_lost():
    lines = folded("Pear" * 60, 5.4, 62.0, strong=True)
    assert "".join(lines) == "Pear" * 60 and all(wide_mm(each, 5.4, strong=True) <= 62 for each in lines)


def test_letters_that_the_font_lacks_are_told_without_their_marks():
    assert plain("Crème brûlée  tart, ½ kg") == "Crème brûlée tart, ½ kg"
    assert plain("Škoda Łatka") == "Skoda Latka"
    assert plain("漬物") == "??"


def test_the_svg_is_as_large_as_its_roll_and_its_square_has_the_three_eyes():
    drawn, svg = laid_out(label((PLAIN, "Made 28 Nov"))), label_svg(label((PLAIN, "Made 28 Nov")))
    assert f'width="{WIDE_MM:g}mm" height="{drawn.height_mm:.2f}mm"' in svg
    assert ">Made 28 Nov</text>" in svg and ">7K3M9Q</text>" in svg
    cells = [row[2:-2] for row in drawn.cells[2:-2]]
    eye = ["#######", "#.....#", "#.###.#", "#.###.#", "#.###.#", "#.....#", "#######"]
    for top, left in ((0, 0), (0, -7), (-7, 0)):
        rows = cells[top : top + 7 or None]
        found = ["".join(".#"[cell] for cell in row[left : left + 7 or None]) for row in rows]
        assert found == eye
    # Dark cells and drawn bars cover the same.
    bars = [float(w) for w in re.findall(r"h([\d.]+)v", svg)]
    each = SQUARE_MM / len(drawn.cells)
    assert sum(bars) / each == pytest.approx(sum(map(sum, drawn.cells)), rel=0.01)


def test_markup_in_a_name_is_text():
    svg = label_svg(label((PLAIN, '<script>&"'), title="A & B <i>"))
    assert "<script" not in svg and "&lt;script&gt;&amp;&quot;" in svg


def test_the_pdf_is_one_page_with_its_letters_in_it_and_the_same_each_time():
    first, second = label_pdf(label((SMALL, HOLDS))), label_pdf(label((SMALL, HOLDS)))
    assert first == second and first.startswith(b"%PDF-") and first.count(b"/Type /Page\n") == 1
    assert b"Atkinson" in first and b"FontFile2" in first
    box = [float(n) for n in re.search(rb"/MediaBox \[ ([\d. ]+) \]", first).group(1).split()]
    assert box[2] == pytest.approx(WIDE_MM * 72 / 25.4, abs=0.1)
