"""Recipes inside the source of a page, or in a file of their own, by the vocabulary that search engines read."""

import html
import json
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from html.parser import HTMLParser
from typing import Any

from northfold.formats.files import BadFile, json_of

# Of one file so many recipes are looked at.
MOST_RECIPES = 200
_TAGS = re.compile(r"<[^>]*>")
_BREAKS = re.compile(r"<(?:br|/p|/li|/div)\b[^>]*>", re.IGNORECASE)


@dataclass(frozen=True)
class Elsewhere:
    """A recipe found in a file: its name, and its text as the reader takes it, line by line."""

    name: str
    text: str


class _Scripts(HTMLParser):
    """What stands in the scripts of a page that hold linked data."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=False)
        self.found: list[str] = []
        self.inside = False

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        kind = (dict(attrs).get("type") or "").split(";")[0].strip().lower()
        if tag == "script" and kind == "application/ld+json":
            self.inside = True
            self.found.append("")

    def handle_endtag(self, tag: str) -> None:
        self.inside = self.inside and tag != "script"

    def handle_data(self, data: str) -> None:
        if self.inside:
            self.found[-1] += data


def recipes_of_page(source: str) -> tuple[Elsewhere, ...]:
    """
    The recipes that a page's source tells in linked data (schema.org Recipe).

    Parameters
    ----------
    source : str
        The source of a page.

    Returns
    -------
    tuple of Elsewhere
        In their order; a script that is no JSON is passed over where another one tells a recipe.

    Raises
    ------
    BadFile
        If none of its scripts tells one, with what can be done.
    """
    parser = _Scripts()
    parser.feed(source)
    found: list[Elsewhere] = []
    wrong = ""
    for script in parser.found:
        try:
            found += recipes_of_data(json_of(_unwrapped(script)))
        except BadFile as error:
            wrong = f" {error}"
    if not found:
        raise BadFile(
            f"This page tells no recipe in its source.{wrong} Copy its ingredients as text instead, and paste them."
        )
    return tuple(found[:MOST_RECIPES])


def _unwrapped(script: str) -> str:
    """A script without what is put around it for old browsers, and without line ends inside its words."""
    bare = re.sub(r"^\s*(?:<!--|//\s*<!\[CDATA\[|<!\[CDATA\[)|(?:-->|//\s*\]\]>|\]\]>)\s*$", "", script)
    return re.sub(r"[\r\n\t]+", " ", bare)


def recipes_of_data(found: Any) -> list[Elsewhere]:
    """The recipes in linked data that was read, however they are wrapped; none where there are none."""
    return [_recipe(each) for each in _recipes(found)]


def _recipes(found: Any) -> Iterator[dict[str, Any]]:
    if isinstance(found, list):
        for each in found:
            yield from _recipes(each)
    elif isinstance(found, dict):
        kinds = found.get("@type", found.get("type", ""))
        named = kinds if isinstance(kinds, list) else [kinds]
        if "recipe" in [str(each).rpartition("/")[2].lower() for each in named]:
            yield found
            return
        for key in ("@graph", "mainEntity", "mainEntityOfPage", "itemListElement", "item"):
            yield from _recipes(found.get(key))


def _recipe(found: dict[str, Any]) -> Elsewhere:
    """A recipe as text: its name, its ingredients a line each, its method."""
    name = _plain(found.get("name")) or "Recipe"
    ingredients = found.get("recipeIngredient", found.get("ingredients"))
    lines = [name, *_texts(ingredients)]
    makes = [text for text in _texts(found.get("recipeYield")) if not text.isdigit()]
    method = list(_steps(found.get("recipeInstructions")))
    if makes:
        method.append(f"Makes {makes[0]}.")
    if method:
        lines += ["", "Method:", *method]
    return Elsewhere(name[:120], "\n".join(lines))


def _texts(found: Any) -> list[str]:
    """Words of a list, or of a text with a line for each."""
    if isinstance(found, list):
        return [text for each in found for text in _texts(each)]
    if isinstance(found, dict):
        return _texts(found.get("name") or found.get("text"))
    if found is None:
        return []
    parts = _BREAKS.sub("\n", str(found)).splitlines()
    return [text for part in parts if (text := _plain(part))]


def _steps(found: Any) -> Iterator[str]:
    """Steps of the method; a section's name stands over its own."""
    if isinstance(found, list):
        for each in found:
            yield from _steps(each)
    elif isinstance(found, dict):
        inside = found.get("itemListElement")
        if inside:
            name = _plain(found.get("name"))
            if name:
                yield f"{name.rstrip(':')}:"
            yield from _steps(inside)
        else:
            yield from _sentences(_texts(found.get("text") or found.get("name")))
    else:
        yield from _sentences(_texts(found))


def _sentences(texts: Iterable[str]) -> Iterator[str]:
    for text in texts:
        yield text if text.endswith((".", "!", "?", ":")) else f"{text}."


def _plain(found: Any) -> str:
    """Words without tags and entities, on one line."""
    return " ".join(html.unescape(_TAGS.sub(" ", html.unescape(str(found or "")))).split())


def recipe_out(
    name: str, ingredients: Iterable[str], steps: Iterable[str], *, makes: str, minutes: float | None, words: str = ""
) -> str:
    """
    A recipe as linked data, with what search engines ask for.

    Parameters
    ----------
    name, words : str
        What it is called, and what it is in a sentence.
    ingredients, steps : iterable of str
        A line each.
    makes : str
        What it makes, such as "6 pieces".
    minutes : float or None
        From the first step until it is ready. [min]

    Returns
    -------
    str
        JSON. Durations by ISO 8601.
    """
    found: dict[str, Any] = {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": name,
        "recipeYield": makes,
        "recipeIngredient": list(ingredients),
        "recipeInstructions": [{"@type": "HowToStep", "text": step} for step in steps],
    }
    if words:
        found["description"] = words
    if minutes is not None:
        found["totalTime"] = duration_iso(minutes)
    return json.dumps(found, indent=2, ensure_ascii=False)


def duration_iso(minutes: float) -> str:
    """Minutes as ISO 8601 says them: "PT3H28M"."""
    hours, rest = divmod(round(minutes), 60)
    return f"PT{f'{hours}H' if hours else ''}{f'{rest}M' if rest or not hours else ''}"
