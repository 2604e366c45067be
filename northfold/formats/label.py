"""
A label as it is printed: a few lines and a square, drawn as SVG and as PDF by the same measures.

It is as wide as its roll and as high as its lines ask for, so that no allergen is ever cut off.
"""

import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from html import escape
from io import BytesIO
from pathlib import Path

import segno
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

# [mm] A usual roll of labels, the margin, the square with its quiet rim, the least height that one is cut to.
WIDE_MM, MARGIN_MM, SQUARE_MM, LEAST_MM = 100.0, 3.0, 26.0, 36.0
# Size of letters and height of a line, by kind. [mm]
TITLE, STRONG, PLAIN, SMALL = "title", "strong", "plain", "small"
SIZES = {TITLE: (5.4, 6.4), STRONG: (3.8, 4.8), PLAIN: (3.8, 4.8), SMALL: (3.0, 3.7)}
FONTS = {"regular": "atkinson-400.ttf", "strong": "atkinson-600.ttf"}
_POINTS_PER_MM = 72 / 25.4
# Letters that no mark can be taken from, as they are written without them.
_BARE = str.maketrans("ŁłĐđĦħ→", "LlDdHh–")


@dataclass(frozen=True)
class Label:
    """What stands on a label: its lines, each with its kind, the code under the square and what the square says."""

    title: str
    lines: tuple[tuple[str, str], ...]
    code: str
    address: str


@dataclass(frozen=True)
class Placed:
    """One line as it is drawn: where its letters stand, from the upper left corner, and how large. [mm]"""

    text: str
    x_mm: float
    y_mm: float
    size_mm: float
    strong: bool


@dataclass(frozen=True)
class Drawn:
    """A label laid out: its height [mm], its lines, the dark cells of its square."""

    height_mm: float
    lines: tuple[Placed, ...]
    cells: tuple[tuple[bool, ...], ...]


@cache
def _fonts() -> dict[str, set[int]]:
    """The two fonts, made known once; the letters that they have."""
    folder = Path(__file__).parent / "fonts"
    found = {}
    for name, file in FONTS.items():
        font = TTFont(f"label-{name}", folder / file)
        pdfmetrics.registerFont(font)
        found[name] = set(font.face.charToGlyph)
    return found


def plain(text: str) -> str:
    """A text in letters that the fonts have: others without their marks, or a question mark."""
    known = _fonts()["regular"]

    def one(letter: str) -> str:
        if ord(letter) in known:
            return letter
        bare = "".join(each for each in unicodedata.normalize("NFKD", letter) if ord(each) in known)
        return bare or "?"

    return "".join(one(letter) for letter in " ".join(text.translate(_BARE).split()))


def wide_mm(text: str, size_mm: float, *, strong: bool) -> float:
    """How wide a text is drawn. [mm]"""
    _fonts()
    return float(pdfmetrics.stringWidth(text, f"label-{'strong' if strong else 'regular'}", size_mm))


def folded(text: str, size_mm: float, most_mm: float, *, strong: bool) -> list[str]:
    """A text in lines no wider than there is room [mm]; a word that is wider is broken."""
    lines, line = [], ""
    for word in plain(text).split(" "):
        while wide_mm(word, size_mm, strong=strong) > most_mm:
            fits = next(n for n in range(len(word) - 1, 0, -1) if wide_mm(word[:n], size_mm, strong=strong) <= most_mm)
            lines += [line] if line else []
            lines, line, word = [*lines, word[:fits]], "", word[fits:]
        longer = f"{line} {word}" if line else word
        if wide_mm(longer, size_mm, strong=strong) <= most_mm:
            line = longer
        else:
            lines, line = [*lines, line], word
    return [*lines, line] if line else lines


def laid_out(label: Label) -> Drawn:
    """A label with every line where it is drawn. [mm]"""
    room = WIDE_MM - 3 * MARGIN_MM - SQUARE_MM
    placed, y = [], MARGIN_MM
    for kind, text in ((TITLE, label.title), *label.lines):
        size, high = SIZES[kind]
        strong = kind in (TITLE, STRONG)
        for line in folded(text, size, room, strong=strong):
            y += high
            placed.append(Placed(line, MARGIN_MM, y - (high - size), size, strong))
    height = max(LEAST_MM, y + MARGIN_MM, SQUARE_MM + 2 * MARGIN_MM + SIZES[STRONG][1])
    cells = segno.make(label.address, error="m", micro=False).matrix_iter(border=2)
    size, _ = SIZES[STRONG]
    code = plain(label.code)
    left = WIDE_MM - MARGIN_MM - SQUARE_MM + (SQUARE_MM - wide_mm(code, size, strong=True)) / 2
    placed.append(Placed(code, left, MARGIN_MM + SQUARE_MM + size, size, strong=True))
    return Drawn(height, tuple(placed), tuple(tuple(bool(cell) for cell in row) for row in cells))


def _runs(cells: Sequence[Sequence[bool]]) -> list[tuple[float, float, float, float]]:
    """Dark cells side by side as bars: x, y, width and height. [mm]"""
    each = SQUARE_MM / len(cells)
    left, top, found = WIDE_MM - MARGIN_MM - SQUARE_MM, MARGIN_MM, []
    for row, line in enumerate(cells):
        begin = None
        for column, dark in enumerate([*line, False]):
            if dark and begin is None:
                begin = column
            elif not dark and begin is not None:
                found.append((left + begin * each, top + row * each, (column - begin) * each, each))
                begin = None
    return found


def label_svg(label: Label) -> str:
    """A label as SVG, in millimetres."""
    drawn = laid_out(label)
    bars = "".join(f"M{x:.2f} {y:.2f}h{w:.2f}v{h:.2f}h-{w:.2f}z" for x, y, w, h in _runs(drawn.cells))
    texts = "".join(
        f'<text x="{each.x_mm:.2f}" y="{each.y_mm:.2f}" font-size="{each.size_mm:g}"'
        f' textLength="{wide_mm(each.text, each.size_mm, strong=each.strong):.2f}" lengthAdjust="spacingAndGlyphs"'
        f' font-weight="{600 if each.strong else 400}">{escape(each.text)}</text>'
        for each in drawn.lines
    )
    size = f"{WIDE_MM:g} {drawn.height_mm:.2f}"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE_MM:g}mm" height="{drawn.height_mm:.2f}mm" '
        f'viewBox="0 0 {size}" font-family="Atkinson Hyperlegible Next, sans-serif">'
        f'<rect width="{WIDE_MM:g}" height="{drawn.height_mm:.2f}" fill="#fff"/>{texts}<path d="{bars}"/></svg>\n'
    )


def label_pdf(label: Label) -> bytes:
    """A label as a PDF of one page, its letters in it."""
    drawn, out = laid_out(label), BytesIO()
    page = Canvas(out, pagesize=(WIDE_MM * mm, drawn.height_mm * mm), invariant=1)
    page.setTitle(plain(label.title))
    for each in drawn.lines:
        page.setFont(f"label-{'strong' if each.strong else 'regular'}", each.size_mm * _POINTS_PER_MM)
        page.drawString(each.x_mm * mm, (drawn.height_mm - each.y_mm) * mm, each.text)
    for x, y, wide, high in _runs(drawn.cells):
        page.rect(x * mm, (drawn.height_mm - y - high) * mm, wide * mm, high * mm, stroke=0, fill=1)
    page.showPage()
    page.save()
    return out.getvalue()
