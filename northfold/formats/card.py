"""The bench card as a picture of its own (SVG): what to weigh, the steps by the clock, a box to tick at each."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from textwrap import wrap
from xml.etree import ElementTree

# As wide as A4 at four to the millimetre; where its columns begin. [px]
WIDTH, MARGIN, AT, TEXT, FIGURE = 840.0, 40.0, 74.0, 168.0, 800.0
# Sizes of letters and from line to line; how wide a letter is at most on average, as a share of its size.
TITLE, BODY, SMALL, LINE, WIDE = 30.0, 15.0, 13.0, 20.0, 0.54
INK, SOFT, WARN, RULE = "#1d2330", "#4a5266", "#7d1247", "#d6cbb5"
FONT = "Atkinson Hyperlegible Next, Verdana, sans-serif"


@dataclass(frozen=True)
class CardStep:
    """A step on the card: when, what and where, what to look for, what to mind, its figure; all as it is read."""

    at: str
    name: str
    look: str
    caution: str
    figure: str
    is_wait: bool = False


@dataclass(frozen=True)
class Card:
    """A card: what is made, of how many pieces, from when to when, what to weigh, the steps."""

    title: str
    under: str
    hours: str
    weigh: Sequence[str]
    steps: Sequence[CardStep]
    foot: str


def card_svg(card: Card) -> str:
    """A card as SVG: as wide as A4, and as high as its steps need. [px]"""
    picture = ElementTree.Element("svg", xmlns="http://www.w3.org/2000/svg")
    ElementTree.SubElement(picture, "title").text = f"Bench card, {card.title}"
    paper = ElementTree.SubElement(picture, "rect", x="0", y="0", fill="#ffffff")
    y = MARGIN + TITLE
    _words(picture, MARGIN, y, card.title, TITLE, weight="600")
    _words(picture, FIGURE, y, card.hours, 22.0, anchor="end", weight="600")
    y += 22
    _words(picture, MARGIN, y, card.under, SMALL, SOFT)
    for line in _lines(" · ".join(card.weigh), FIGURE - MARGIN, BODY):
        y += LINE + 4
        _words(picture, MARGIN, y, line, BODY, weight="600")
    y += 14
    _rule(picture, y, INK, 2)
    for number, step in enumerate(card.steps, 1):
        y = _step(picture, y, number, step)
    y += 24
    _words(picture, MARGIN, y, card.foot, SMALL, SOFT)
    height = f"{y + MARGIN:g}"
    for shape in (picture, paper):
        shape.set("width", f"{WIDTH:g}")
        shape.set("height", height)
    picture.set("viewBox", f"0 0 {WIDTH:g} {height}")
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ElementTree.tostring(picture, encoding="unicode") + "\n"


def _step(picture: ElementTree.Element, y: float, number: int, step: CardStep) -> float:
    """A step below a height; answers where it ends."""
    top = y + LINE + 4
    box = {"x": f"{MARGIN:g}", "y": f"{top - 14:g}", "width": "18", "height": "18", "rx": "2"}
    ElementTree.SubElement(picture, "rect", box | {"fill": "none", "stroke": INK, "stroke-width": "2"})
    _words(picture, AT, top, step.at, BODY, weight="600")
    _words(picture, FIGURE, top, step.figure, BODY, anchor="end", weight="600")
    y = top - LINE
    # The figure stands beside the name, and under it the whole width is free.
    beside = FIGURE - TEXT - WIDE * BODY * (len(step.figure) + 2)
    for line in _lines(f"{number}. {step.name}", beside, BODY):
        y += LINE
        _words(picture, TEXT, y, line, BODY, SOFT if step.is_wait else INK, weight="600")
    for text, colour in ((step.look, INK), (step.caution, WARN)):
        for line in _lines(text, FIGURE - TEXT, SMALL):
            y += LINE - 2
            _words(picture, TEXT, y, line, SMALL, colour)
    y += 10
    _rule(picture, y, RULE, 1)
    return y


def _lines(text: str, width: float, size: float) -> Iterator[str]:
    """A text in lines that fit a width. [px]"""
    yield from wrap(text, max(10, int(width / (WIDE * size))))


def _rule(picture: ElementTree.Element, y: float, colour: str, wide: float) -> None:
    ends = {"x1": f"{MARGIN:g}", "x2": f"{FIGURE:g}", "y1": f"{y:g}", "y2": f"{y:g}"}
    ElementTree.SubElement(picture, "line", ends | {"stroke": colour, "stroke-width": f"{wide:g}"})


def _words(
    picture: ElementTree.Element,
    x: float,
    y: float,
    text: str,
    size: float,
    colour: str = INK,
    *,
    anchor: str = "start",
    weight: str = "400",
) -> None:
    if not text:
        return
    look = {"font-family": FONT, "font-size": f"{size:g}", "font-weight": weight, "fill": colour, "text-anchor": anchor}
    ElementTree.SubElement(picture, "text", {"x": f"{x:g}", "y": f"{y:g}"} | look).text = text
