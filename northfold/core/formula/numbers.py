"""Numbers as people write them in recipes: 1/2, ½, 1 1/4, 1-1/2, 1,000, 3–4, half a."""

import re
from dataclasses import dataclass

from northfold.core.errors import NotANumber

VULGAR = {
    "½": "1/2", "⅓": "1/3", "⅔": "2/3", "¼": "1/4", "¾": "3/4", "⅕": "1/5", "⅖": "2/5", "⅗": "3/5", "⅘": "4/5",
    "⅙": "1/6", "⅚": "5/6", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
}  # fmt: skip
WORDS = {
    "half a": 0.5, "half an": 0.5, "half": 0.5, "a": 1, "an": 1, "one": 1, "two": 2, "three": 3, "four": 4,
    "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "twelve": 12,
}  # fmt: skip
NUMBER = r"(?:\d+\s+\d+/\d+|\d+-\d+/\d+|\d+/\d+|\d{1,3}(?:,\d{3})+(?:\.\d+)?(?!\d)|\d+[.,]\d+|\.\d+|\d+)"
QUANTITY = (
    rf"(?:{NUMBER}(?:\s*(?:-|\bto\b)\s*{NUMBER})?|\b(?:" + "|".join(sorted(WORDS, key=len, reverse=True)) + r")\b)"
)


@dataclass(frozen=True)
class Spread:
    """An amount that may be a range: low ≤ usual ≤ high."""

    low: float
    usual: float
    high: float

    @classmethod
    def point(cls, value: float) -> "Spread":
        return cls(value, value, value)

    def times(self, low: float, usual: float | None = None, high: float | None = None) -> "Spread":
        """This amount in another unit, whose size may itself be a range."""
        usual, high = low if usual is None else usual, low if high is None else high
        return Spread(self.low * low, self.usual * usual, self.high * high)

    def plus(self, other: "Spread") -> "Spread":
        return Spread(self.low + other.low, self.usual + other.usual, self.high + other.high)

    @property
    def is_range(self) -> bool:
        return self.high > self.low * (1 + 1e-9)


# Raised and lowered figures, as fractions are set with them.
RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉", "01234567890123456789")
_RAISED_FRACTION = re.compile(r"([⁰¹²³⁴-⁹]+)\s*[/⁄]\s*([₀-₉\d]+)")
# A space or a stroke that parts thousands: 1 000 with a thin space, 1'000.
_THOUSANDS = re.compile(r"(?<![\d.,])([1-9]\d{0,2})((?:[\u00a0\u2007\u2009\u202f'’]\d{3})+)(?!\d)")


def plain_text(text: str) -> str:
    """One spelling for fractions, thousands, dashes, times signs and spaces."""
    text = _THOUSANDS.sub(lambda match: match[1] + re.sub(r"\D", "", match[2]), text)
    text = _RAISED_FRACTION.sub(lambda match: f" {match[1]}/{match[2]} ".translate(RAISED), text)
    text = re.sub(r"[\u00a0\u2007\u2009\u202f\t]", " ", text).replace("⁄", "/")
    for sign, plain in VULGAR.items():
        text = text.replace(sign, f" {plain} ")
    text = re.sub(r"[–—−‒]", "-", text).replace("×", "x")
    text = re.sub(r"(?<=\d)\s*/\s*(?=\d)", "/", text)
    text = re.sub(r"(?<![\d/])(\d+)-\s+(?=\d/\d)", r"\1 ", text)  # "1-½"
    return re.sub(r"\s+", " ", text).strip()


def _one(text: str) -> float:
    text = text.strip()
    if "/" in text:
        *whole, fraction = re.split(r"[\s-]+", text)
        over, under = fraction.split("/")
        if float(under) == 0:
            raise NotANumber(text)
        return sum(map(float, whole)) + float(over) / float(under)
    if re.fullmatch(r"[1-9]\d{0,2}(,\d{3})+(\.\d+)?", text):
        return float(text.replace(",", ""))
    return float(text.replace(",", "."))


def read_quantity(text: str) -> Spread:
    """
    Read a number or a range of numbers.

    Parameters
    ----------
    text : str
        Matches `QUANTITY`, already through `plain_text`.

    Returns
    -------
    Spread
        The middle of a range is its usual value; a range written backwards is turned round.

    Raises
    ------
    NotANumber
        If a fraction has nothing under it.
    """
    word = WORDS.get(text.strip().lower())
    if word is not None:
        return Spread.point(word)
    numbers = [_one(found) for found in re.findall(NUMBER, text)]
    low, high = min(numbers), max(numbers)
    return Spread(low, (low + high) / 2, high)
