"""
Figures of a page in ounces, inches and °F, beside the metric ones or in their stead, as the kitchen is set.

Every figure of the product stands on the page with its unit, in sentences of the core as in templates, or in a column
whose head names it. So the finished page is the one place where all of them can be told in other units.
"""

import re
from collections.abc import Callable
from html.parser import HTMLParser

from northfold.core.formula.imperial import in_fahrenheit, in_inches, in_ounces
from northfold.core.formula.units import IMPERIAL

_NUMBER = r"[−-]?\d[\d,]*(?:\.\d+)?"
_JOIN = r"\s?(?:–|×|:|/|to|and|or)\s?"
_UNIT = r"(?:kg|g|mm|°C)(?![\w/²³^(]|\s+per\b)"
_FIGURE = re.compile(rf"(?<![\w.])(?P<n>{_NUMBER}(?:{_JOIN}{_NUMBER})*)(?P<gap>[\s\u2009]?)(?P<unit>{_UNIT})")
_DIAMETER = re.compile(rf"Ø[\s\u2009]?(?P<n>{_NUMBER}(?:\s?[/×]\s?{_NUMBER})*)(?![\d.,]|[\s\u2009]?(?:mm|×|/))")
# A difference of temperatures: "15 °C lower", "± 0.5 °C".
_DIFFERENCE_AFTER = re.compile(r"\s*(?:lower|higher|colder|warmer|cooler|below|above|less|more|either)\b")
_DIFFERENCE_BEFORE = re.compile(r"(?:±|\bby|\boff|\bwithin)\s*$")
_UNIT_FIRST = re.compile(rf"^[\s\u2009]*(?P<unit>{_UNIT})")
_ENDS_IN_NUMBER = re.compile(rf"(?P<n>{_NUMBER}(?:{_JOIN}{_NUMBER})*)[\s\u2009]*$")
_HEAD_UNIT = re.compile(r"(?:^|[\s,(])(?P<unit>kg|g|mm|°C)(?:\s+each)?\)?$")
_BARE_HEAD = re.compile(r"^\s*(?:kg|g|mm|°C)(?:\s+each)?\s*$")
_ONLY_NUMBER = re.compile(rf"^\s*(?P<n>{_NUMBER}(?:{_JOIN}{_NUMBER})*)\s*$")
# What is typed, run or drawn keeps its own figures.
_LEFT_ALONE = ("script", "style", "textarea", "input", "option", "select", "svg", "button", "title", "pre")
_VOID = frozenset(["input"])
_CELLS = ("td", "th", "dt", "dd")
# The strip over a make: its panels never widen.
NARROW_TAG, NARROW_CLASS = "nav", "pleat"
# A column of fields, or a recipe's own words, marked to keep the units they were typed in.
AS_TYPED = "data-as-typed"


def _value(text: str) -> float:
    return float(text.replace(",", "").replace("−", "-"))


def _convert(unit: str, *, difference: bool) -> Callable[[float], str]:
    if unit in ("g", "kg"):
        return lambda value: in_ounces(value * (1000 if unit == "kg" else 1))
    if unit == "mm":
        return in_inches
    return lambda value: in_fahrenheit(value, difference=difference)


def _said(numbers: str, unit: str, *, difference: bool = False) -> str:
    """A figure, a range or a size in other units: "14–20" of mm is "9/16–13/16 in"."""
    convert = _convert(unit, difference=difference)
    found = [convert(_value(each)) for each in re.findall(_NUMBER, numbers)]
    if len(found) == 1:
        return found[0]
    tail = found[-1].rsplit(" ", 1)[-1]
    plain = [each.removesuffix(f" {tail}") for each in found]
    joins = re.split(_NUMBER, numbers)[1:-1]
    joined = plain[0] + "".join(f"{join}{each}" for join, each in zip(joins, plain[1:], strict=True))
    return f"{joined} {tail}"


def beside(other: str) -> str:
    """A figure in other units as it stands beside the metric one."""
    return f'<span class="beside">({other})</span>'


def in_text(text: str, mode: str) -> str:
    """Running text with its figures in other units, beside or instead; what has no unit stays."""

    def told(match: re.Match[str]) -> str:
        unit = match["unit"]
        difference = unit == "°C" and bool(
            _DIFFERENCE_AFTER.match(text[match.end() :]) or _DIFFERENCE_BEFORE.search(text[: match.start()])
        )
        other = _said(match["n"], unit, difference=difference)
        return other if mode == IMPERIAL else f"{match[0]} {beside(other)}"

    def round_one(match: re.Match[str]) -> str:
        other = _said(match["n"], "mm")
        return f"Ø {other}" if mode == IMPERIAL else f"{match[0]} {beside(other)}"

    return _FIGURE.sub(told, _DIAMETER.sub(round_one, text))


class _Page(HTMLParser):
    """Rewrites the text of a page as it goes by; its tags stay as they were sent."""

    def __init__(self, mode: str) -> None:
        super().__init__(convert_charrefs=False)
        self.mode = mode
        self.out: list[str] = []
        self.alone = 0
        # The unit of each column of the table under way, and the cell that is being read.
        self.units: list[str] = []
        self.column, self.head = -1, ""
        # Inside an element that keeps what was typed.
        self.as_typed = ""
        # Panels of fixed width have room for one figure: how deep inside such an element.
        self.narrow = 0
        # Where a number stands that has no unit yet: its unit may come in a tag of its own.
        self.number_at: int | None = None

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.out.append(self.get_starttag_text() or "")
        if tag in _LEFT_ALONE and tag not in _VOID:
            self.alone += 1
        if tag == NARROW_TAG and (self.narrow or NARROW_CLASS in (dict(attrs).get("class") or "").split()):
            self.narrow += 1
        if AS_TYPED in dict(attrs):
            self.as_typed = tag
        if tag not in ("span", "strong", "em", "b"):
            self.number_at = None
        if tag in ("table", "dl"):
            self.units, self.column = [], -1
        elif tag in ("tr", "div"):
            self.column = -1
        elif tag in _CELLS:
            self.column += 1
            self.head = tag if tag == "th" else ""
            if tag == "th":
                self._head_of(self.column, "")

    def handle_startendtag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.out.append(self.get_starttag_text() or "")

    def handle_endtag(self, tag: str) -> None:
        self.out.append(f"</{tag}>")
        if tag in _LEFT_ALONE and self.alone:
            self.alone -= 1
        if tag == self.as_typed:
            self.as_typed = ""
        if tag in _CELLS:
            self.head = ""
        if tag == NARROW_TAG and self.narrow:
            self.narrow -= 1
        if tag not in ("span", "strong", "em", "b"):
            self.number_at = None

    def _head_of(self, column: int, unit: str) -> None:
        self.units += [""] * (column + 1 - len(self.units))
        self.units[column] = unit

    def handle_data(self, data: str) -> None:
        if self.alone or self.as_typed or not data.strip() or (self.narrow and self.mode != IMPERIAL):
            self.out.append(data)
            return
        is_head = self.column >= 0 and (self.head == "th" or _BARE_HEAD.match(data))
        head = _HEAD_UNIT.search(data.rstrip()) if is_head and not _FIGURE.search(data) else None
        if head:
            self._head_of(self.column, head["unit"])
            self.out.append(self._other_head(data, head))
            return
        unit_first = _UNIT_FIRST.match(data)
        if unit_first and self.number_at is not None:
            self._unit_after(data, unit_first)
            return
        unit = self.units[self.column] if 0 <= self.column < len(self.units) and self.head != "th" else ""
        only = _ONLY_NUMBER.match(data)
        if unit and only:
            other = _said(only["n"], unit)
            self.out.append(other if self.mode == IMPERIAL else f"{data.rstrip()} {beside(other)}")
            return
        self.number_at = len(self.out) if _ENDS_IN_NUMBER.search(data) else None
        self.out.append(in_text(data, self.mode))

    def _other_head(self, data: str, head: re.Match[str]) -> str:
        if self.mode != IMPERIAL:
            return data
        name = {"g": "oz", "kg": "oz", "mm": "in", "°C": "°F"}[head["unit"]]
        return f"{data[: head.start('unit')]}{name}{data[head.end('unit') :]}"

    def _unit_after(self, data: str, unit: re.Match[str]) -> None:
        """The unit of a number that stands in a tag before it."""
        assert self.number_at is not None
        before = self.out[self.number_at]
        number = _ENDS_IN_NUMBER.search(before)
        rest = in_text(data[unit.end() :], self.mode)
        if number is None:
            self.out.append(data)
        elif self.mode == IMPERIAL:
            self.out[self.number_at] = before[: number.start()] + _said(number["n"], unit["unit"])
            self.out.append(rest)
        else:
            self.out.append(f"{data[: unit.end()]} {beside(_said(number['n'], unit['unit']))}{rest}")
        self.number_at = None

    def handle_entityref(self, name: str) -> None:
        self.out.append(f"&{name};")

    def handle_charref(self, name: str) -> None:
        self.out.append(f"&#{name};")

    def handle_comment(self, data: str) -> None:
        self.out.append(f"<!--{data}-->")

    def handle_decl(self, decl: str) -> None:
        self.out.append(f"<!{decl}>")


def page_in(html: str, mode: str) -> str:
    """A whole page, or a part of one, with its figures in other units."""
    page = _Page(mode)
    page.feed(html)
    page.close()
    return "".join(page.out)
