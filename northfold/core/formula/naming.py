"""From the words of a recipe line to an ingredient this kitchen knows."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, lru_cache

from rapidfuzz import fuzz, process

from northfold.core.data import table
from northfold.core.matter import Ingredient


@cache
def _word_lists() -> dict[str, frozenset[str]]:
    return {name: frozenset(words.split()) for name, words in table("naming").items()}


# Roles of what is a thing of its own: what is made of it has another name on the shelf, or none.
FILL_ROLES = frozenset({"fruit", "vegetable", "meat", "fish", "grain", "nut", "preserve"})
SIZES = (("extra large", "XL"), ("very large", "XL"), ("xl", "XL"), ("large", "L"), ("medium", "M"), ("small", "S"))
# Weight of one egg out of its shell by size [g], yolk and white as shares of it. North Fold reference table; the
# smallest American and the largest European by the weight class, 88 % of it without the shell.
EGG_G = {"us": {"S": 38.0, "M": 44.0, "L": 50.0, "XL": 56.0}, "eu": {"S": 48.0, "M": 53.0, "L": 60.0, "XL": 68.0}}
EGG_SHARE = {"whole egg": 1.0, "egg yolk": 0.35, "cooked egg yolk": 0.35, "egg white": 0.65}


@dataclass(frozen=True)
class Match:
    """What the words of a line were taken for, and how surely."""

    ingredient: Ingredient | None
    unknown: tuple[str, ...] = ()
    loose: bool = False
    spelling: bool = False
    nearest: tuple[str, ...] = ()
    alternatives: tuple[str, ...] = ()
    leftover: str = ""


def _singular(word: str) -> str:
    if len(word) > 3 and word.endswith("s") and not word.endswith("ss"):
        return word[:-1]
    return word


def tokens(text: str) -> tuple[str, ...]:
    """The words of a text in lower case and singular; percentages stay one word."""
    text = re.sub(r"(\d)\s+%", r"\1%", text.lower().replace("’", "'"))
    return tuple(_singular(word.strip("'")) for word in re.findall(r"\d+(?:[.,]\d+)?%?|[^\W\d_][\w'-]*", text))


# What a line says that its ingredient is free of, by allergen.
_FREE_OF = {
    "gluten": r"\bgluten[ -]?free\b|\bg\.?f\.?\b(?= )|\bfree (?:of|from) gluten\b|\b(?:no|without|non)[ -]gluten\b"
    r"|\bwheat[ -]?free\b|\bc(?:o)?eliac\b",
    "milk": r"\b(?:dairy|milk|lactose)[ -]?free\b|\bnon[ -]?dairy\b|\bvegan\b|\bplant[ -]based\b"
    r"|\bwithout (?:milk|dairy)\b",
    "egg": r"\begg[ -]?free\b|\begg[ -]?(?:replacer|substitute|replacement)s?\b|\bvegan\b"
    r"|\bwithout egg\b|\bflax eggs?\b",
    "nuts": r"\bnut[ -]?free\b|\bwithout nuts\b",
    "soya": r"\bsoya?[ -]?free\b",
}
_FREE_OF_WORDS = {allergen: re.compile(words, re.IGNORECASE) for allergen, words in _FREE_OF.items()}


def said_free_of(text: str) -> frozenset[str]:
    """The allergens that a line says its ingredient does not hold: "gluten-free flour", "vegan butter"."""
    return frozenset(allergen for allergen, words in _FREE_OF_WORDS.items() if words.search(f"{text} "))


class Shelf:
    """The ingredients that a recipe may name, indexed by every name they go by."""

    def __init__(self, ingredients: Mapping[str, Ingredient]) -> None:
        self.ingredients = ingredients
        self.names: dict[tuple[str, ...], tuple[Ingredient, bool]] = {}
        for item in ingredients.values():
            for alias in item.aliases:
                self.names.setdefault(tokens(alias.lstrip("~")), (item, alias.startswith("~")))
        for item in ingredients.values():
            self.names[tokens(item.name)] = (item, False)
        self.longest = max(map(len, self.names), default=0)
        self.spellings = {" ".join(name): item.name for name, (item, _) in self.names.items()}

    def _found(self, words: tuple[str, ...]) -> list[tuple[int, int]]:
        """Non-overlapping spans of words that name something, longest names first."""
        spans: list[tuple[int, int]] = []
        for size in range(min(self.longest, len(words)), 0, -1):
            for start in range(len(words) - size + 1):
                clear = all(start + size <= a or start >= b for a, b in spans)
                if clear and words[start : start + size] in self.names:
                    spans.append((start, start + size))
        return spans

    def nearest(self, text: str, limit: int = 3) -> tuple[str, ...]:
        """Names of the ingredients spelt most like `text`."""
        if set(tokens(text)) & _word_lists()["fruit"]:
            return ()  # an apple is not nearly apple vinegar
        found = process.extract(text, list(self.spellings), scorer=fuzz.WRatio, limit=limit * 4, score_cutoff=70)
        return tuple(dict.fromkeys(self.spellings[name] for name, _, _ in found))[:limit]

    def match(self, text: str) -> Match:
        """
        The ingredient that a line's words name.

        Parameters
        ----------
        text : str
            The line without its amount and its preparation.

        Returns
        -------
        Match
            `ingredient` is None if nothing on the shelf was named; `nearest` then holds what is spelt alike.
        """
        words = tokens(text)
        spans = self._found(words)
        bare = tuple(word for word in words if word not in _word_lists()["descriptors"])
        if bare != words and "or" not in words:
            # "unsalted cold butter": a name with a word of its state in the middle.
            inside = self._found(bare)
            if max((b - a for a, b in inside), default=0) > max((b - a for a, b in spans), default=0):
                words, spans = (*bare, *(word for word in words if word not in bare)), inside
        if not spans:
            return self._by_spelling(words)
        best = max(spans, key=lambda span: (span[1] - span[0], sum(map(len, words[slice(*span)]))))
        if "or" in words:  # of alternatives, the first is taken
            best = min(spans)
        ingredient, loose = self.names[words[slice(*best)]]
        rest = words[: best[0]] + words[best[1] :]
        unknown = tuple(w for w in rest if w not in _word_lists()["descriptors"] and not w.endswith("%"))
        if ingredient.role in FILL_ROLES and set(unknown) & _word_lists()["made_of_it"]:
            return Match(None, unknown=unknown, nearest=self.nearest(" ".join(words)))  # barley flour is no barley
        if any(word in _word_lists()["not_on_shelf"] or word in _word_lists()["fruit"] for word in unknown):
            return Match(None, unknown=unknown, nearest=self.nearest(" ".join(words)))
        alternatives: tuple[str, ...] = ()
        if "or" in words and len(spans) > 1:
            alternatives = tuple(self.names[words[slice(*span)]][0].name for span in sorted(spans))
            named = {word for span in spans for word in words[slice(*span)]}
            unknown = tuple(word for word in unknown if word not in named)
        nearest = self.nearest(" ".join(words)) if unknown else ()
        return Match(
            ingredient,
            unknown=unknown,
            loose=loose,
            nearest=nearest,
            alternatives=alternatives,
            leftover=" ".join(word for word in rest if word not in unknown and word not in ("of", "the", "a", "an")),
        )

    def turned_round(self, head: str, tail: str) -> Ingredient | None:
        """The ingredient whose name stands back to front: "butter (salted)", "sugar, icing"."""
        last = tokens(head)
        if last not in self.names:
            return None
        for word in tokens(tail):
            found = self.names.get((word, *last))
            if found:
                return found[0]
        return None

    def _by_spelling(self, words: tuple[str, ...]) -> Match:
        core = " ".join(word for word in words if word not in _word_lists()["descriptors"])
        if len(core) < 4 or set(words) & _word_lists()["fruit"]:
            return Match(None, unknown=words)
        best = process.extractOne(core, list(self.spellings), scorer=fuzz.ratio, score_cutoff=86)
        if best:
            return Match(self.ingredients[self.spellings[best[0]]], spelling=True, nearest=self.nearest(core))
        return Match(None, unknown=words, nearest=self.nearest(core))


@lru_cache(maxsize=8)
def _shelf(items: tuple[Ingredient, ...]) -> Shelf:
    return Shelf({item.name: item for item in items})


def shelf_of(ingredients: Mapping[str, Ingredient]) -> Shelf:
    """The shelf for these ingredients, made once and kept."""
    return _shelf(tuple(ingredients.values()))


def egg_size(text: str, system: str) -> tuple[str, float] | None:
    """Size word in a line of counted eggs and the weight of one such egg [g], None where no size is said."""
    table = EGG_G["us" if system == "us" else "eu"]
    lower = f" {' '.join(tokens(text))} "
    for word, size in SIZES:
        if f" {word} " in lower:
            return word, table[size]
    return None
