"""Recipes from elsewhere: whatever file or text they come in, as texts for the reader."""

from dataclasses import dataclass
from pathlib import PurePath

from northfold.formats.files import MOST_BYTES, BadFile, checked, json_of, text_of
from northfold.formats.formula import FormulaFile
from northfold.formats.pages import Elsewhere, recipes_of_data, recipes_of_page
from northfold.formats.tables import Table, guessed, is_told, recipes_of_table, table_of_csv, tables_of_sheets


@dataclass(frozen=True)
class Found:
    """What a file holds: formulas, recipes, and tables of which nobody knows yet what their columns are."""

    recipes: tuple[Elsewhere, ...] = ()
    formulas: tuple[FormulaFile, ...] = ()
    tables: tuple[Table, ...] = ()


def found_in(data: bytes, filename: str = "") -> Found:
    """
    The recipes in a file.

    Parameters
    ----------
    data : bytes
        A text, a page's source, linked data, a CSV file or a spreadsheet, by what is in it; at most 20 MB.
    filename : str
        What it is called; its ending decides between a text and a table.

    Raises
    ------
    BadFile
        With the line, and what can be done.
    """
    name = PurePath(filename.replace("\\", "/")).stem.replace("-", " ").replace("_", " ").strip() or "Recipe"
    name = name[:1].upper() + name[1:120]
    if len(data) > MOST_BYTES:
        raise BadFile(f"The file has {len(data) / 1e6:,.1f} MB; at most {MOST_BYTES / 1e6:.0f} MB are read.")
    if data[:4] == b"PK\x03\x04":
        return _of_tables(tables_of_sheets(data, name))
    text = text_of(data)
    start = text.lstrip()[:2000].lower()
    if not start:
        raise BadFile("There is nothing in it.")
    if start[:1] in "{[":
        data_found = json_of(text)
        if isinstance(data_found, dict) and str(data_found.get("format", "")).startswith("northfold/kitchen/"):
            raise BadFile("This is a kitchen’s file, and not a recipe: it is read in under Kitchen, Files.")
        if _is_formula(data_found):
            return Found(formulas=(checked(data_found, FormulaFile),))
        found = recipes_of_data(data_found)
        if not found:
            raise BadFile("This JSON tells no recipe. A recipe has “@type”: “Recipe” and its recipeIngredient.")
        return Found(tuple(found))
    if "application/ld+json" in text or start.startswith(("<!doctype html", "<html")):
        return Found(recipes_of_page(text))
    if filename.lower().endswith((".csv", ".tsv")):
        return _of_tables((table_of_csv(text, name),))
    return Found((Elsewhere(name, text),))


def recipe_text(pasted: str) -> str:
    """
    What was pasted as the text of a recipe: a page's source or linked data becomes the first recipe that it tells.

    Raises
    ------
    BadFile
        If it is a page's source that tells none.
    """
    start = pasted.lstrip()[:2000].lower()
    if "application/ld+json" in pasted or start.startswith(("<!doctype html", "<html")):
        return recipes_of_page(pasted)[0].text
    if start[:1] in ("{", "[") and '"@type"' in pasted:
        told = recipes_of_data(json_of(pasted))
        return told[0].text if told else pasted
    return pasted


def _is_formula(found: object) -> bool:
    """Whether it is a formula of this format, or one written by hand."""
    if not isinstance(found, dict):
        return False
    return str(found.get("format", "")).startswith("northfold/") or ("lines" in found and "@type" not in found)


def _of_tables(tables: tuple[Table, ...]) -> Found:
    recipes: list[Elsewhere] = []
    unknown = []
    for table in tables:
        holds = guessed(table)
        if is_told(holds):
            recipes += recipes_of_table(table, holds)
        else:
            unknown.append(table)
    return Found(tuple(recipes), tables=tuple(unknown))
