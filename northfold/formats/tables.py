"""Tables of recipes, from a CSV file or a spreadsheet: what their columns are, and the recipes that they tell."""

import csv
import io
import re
import zipfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from northfold.formats.files import BadFile
from northfold.formats.pages import Elsewhere

# What is read of one table, and of one file; how large a packed file may become. [rows, columns, sheets, bytes]
MOST_ROWS, MOST_COLUMNS, MOST_SHEETS, MOST_UNPACKED = 2_000, 60, 40, 60_000_000
# What a column may hold. `formula` is the name of the recipe that a row belongs to; `weights` are the weights of a
# recipe of their own, named by the heading.
INGREDIENT, AMOUNT, UNIT, PREP, FORMULA, WEIGHTS, NOTHING = (
    "ingredient", "amount", "unit", "prep", "formula", "weights", "",
)  # fmt: skip
HOLDS = {
    NOTHING: "nothing for us",
    INGREDIENT: "the ingredient",
    AMOUNT: "its weight",
    UNIT: "the unit of the weight",
    PREP: "how it is prepared",
    FORMULA: "the name of the recipe",
    WEIGHTS: "weights of a recipe named by the heading",
}
_HEADINGS = (
    (INGREDIENT, r"ingredients?|item|what|line"),
    (UNIT, r"units?|measure|uom"),
    (FORMULA, r"formula|recipe|dough|product|name"),
    (PREP, r"prep(?:aration)?|notes?|remarks?|how"),
    (AMOUNT, r"g|grams?|weight(?:[ _(]*g\)?)?|weight|amount|qty|quantity|grammes|usual_g|kg|weight[ _(]*kg\)?"),
)
_NUMBER = re.compile(r"^\s*-?\d+(?:[.,]\d+)?\s*(?:g|kg)?\s*$", re.IGNORECASE)
_UNIT_IN = re.compile(r"\b(kg|g|lb|oz)\b", re.IGNORECASE)
# A cell that begins so would be reckoned by a spreadsheet: it is written with an apostrophe before it.
_RECKONED = ("=", "+", "-", "@", "\t", "\r")


@dataclass(frozen=True)
class Table:
    """A table with its heading; every row as long as it. Cells are text."""

    name: str
    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def safe_cell(text: str) -> str:
    """A cell that no spreadsheet reckons."""
    return f"'{text}" if text.startswith(_RECKONED) and not _NUMBER.match(text) else text


def plain_cell(text: str) -> str:
    """A cell as it was before `safe_cell`."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_RECKONED) else text


class _Line:
    """What a csv writer writes to: it answers each line."""

    def write(self, line: str) -> str:
        return line


def csv_lines(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[str]:
    """A table as CSV, line by line: UTF-8, one heading, commas; nothing in it is reckoned by a spreadsheet."""
    out = csv.writer(_Line(), lineterminator="\n")
    yield str(out.writerow(head))
    for row in rows:
        yield str(out.writerow(["" if cell is None else safe_cell(str(cell)) for cell in row]))


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    """The same as one text."""
    return "".join(csv_lines(head, rows))


def table_of_csv(text: str, name: str) -> Table:
    """
    A CSV text as a table, with commas, semicolons or tabs.

    Raises
    ------
    BadFile
        If there is no row under a heading, a row is longer than its heading, or there are too many, with the line.
    """
    first = next((line for line in text.splitlines() if line.strip()), "")
    mark = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text), delimiter=mark, strict=True))
    except csv.Error as error:
        raise BadFile(f"This is no table: {error}.") from None
    return _table(name, [[plain_cell(cell) for cell in row] for row in rows])


def tables_of_sheets(data: bytes, name: str) -> tuple[Table, ...]:
    """
    The sheets of a spreadsheet as tables; formulas of cells as the values they had, empty sheets left out.

    Raises
    ------
    BadFile
        If it is no spreadsheet, or becomes too large when it is unpacked.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            large = sum(each.file_size for each in packed.infolist())
            if large > MOST_UNPACKED:
                raise BadFile(f"{name} would unpack to {large / 1e6:,.0f} MB; at most {MOST_UNPACKED / 1e6:.0f} MB.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, OSError, SyntaxError) as error:
        raise BadFile(f"{name} is no spreadsheet that can be read. Save it as .xlsx or .csv.") from error
    found = []
    try:
        for sheet in book.worksheets[:MOST_SHEETS]:
            rows = []
            for row in sheet.iter_rows(max_row=MOST_ROWS + 2, max_col=MOST_COLUMNS, values_only=True):
                rows.append(["" if cell is None else _cell(cell) for cell in row])
            if any(any(row) for row in rows):
                found.append(_table(sheet.title, rows))
    except (KeyError, ValueError, SyntaxError, zipfile.BadZipFile) as error:
        raise BadFile(f"{name} is damaged: half of it is missing. Save it again.") from error
    finally:
        book.close()
    if not found:
        raise BadFile(f"{name} is empty.")
    return tuple(found)


def _cell(value: Any) -> str:
    return f"{value:.10g}" if isinstance(value, float) else str(value).strip()


def _table(name: str, rows: Sequence[Sequence[str]]) -> Table:
    bare = [[cell.strip() for cell in row] for row in rows]
    kept = [(number, row) for number, row in enumerate(bare, 1) if any(row)]
    if len(kept) < 2:
        raise BadFile(f"{name}: there is no row under a heading.")
    if len(kept) > MOST_ROWS:
        raise BadFile(f"{name} has {len(kept):,} rows; at most {MOST_ROWS:,} are read.")
    head = kept[0][1]
    while head and not head[-1]:
        head.pop()
    if not head:
        raise BadFile(f"{name}: its first row is its heading, and that is empty.")
    body = []
    for number, row in kept[1:]:
        if any(row[len(head) :]):
            raise BadFile(f"{name}, row {number}: it has more cells than the heading.")
        body.append(tuple((row + [""] * len(head))[: len(head)]))
    return Table(name, tuple(head), tuple(body))


def guessed(table: Table) -> tuple[str, ...]:
    """What each column of a table holds, as far as its headings and cells tell; see `HOLDS`."""
    found = [_by_heading(heading) for heading in table.head]
    for key in (INGREDIENT, AMOUNT, UNIT, PREP, FORMULA):
        places = [number for number, each in enumerate(found) if each == key]
        for number in places[1:]:
            found[number] = NOTHING
    columns = list(zip(*table.rows, strict=True))
    if INGREDIENT not in found:
        words = [n for n, cells in enumerate(columns) if found[n] in (NOTHING, FORMULA) and not _is_numbers(cells)]
        if words:
            found[words[0]] = INGREDIENT
    if AMOUNT not in found:
        for number, cells in enumerate(columns):
            if found[number] == NOTHING and table.head[number] and _is_numbers(cells):
                found[number] = WEIGHTS
    return tuple(found)


def _by_heading(heading: str) -> str:
    plain = heading.strip().lower()
    return next((key for key, words in _HEADINGS if re.fullmatch(words, plain)), NOTHING)


def _is_numbers(cells: Sequence[str]) -> bool:
    full = [cell for cell in cells if cell]
    return bool(full) and sum(1 for cell in full if _NUMBER.match(cell)) >= 0.6 * len(full)


def is_told(holds: Sequence[str]) -> bool:
    """Whether a table says what is weighed and how much of it."""
    return INGREDIENT in holds and (AMOUNT in holds or WEIGHTS in holds)


def recipes_of_table(table: Table, holds: Sequence[str]) -> tuple[Elsewhere, ...]:
    """
    The recipes of a table.

    Parameters
    ----------
    table : Table
        With its heading.
    holds : sequence of str
        What each column holds, keys of `HOLDS`.

    Returns
    -------
    tuple of Elsewhere
        One for each name in the column of names, for each column of weights, or the table as one. Rows without a weight
        are left out where columns are recipes; else they stand as headings.

    Raises
    ------
    BadFile
        If no column holds the ingredient, or none its weight.
    """
    if not is_told(holds):
        raise BadFile(f"{table.name}: say which column holds the ingredient and which its weight.")
    found: dict[str, list[str]] = {}
    for row in table.rows:
        cells = {key: cell for key, cell in zip(holds, row, strict=True) if key not in (NOTHING, WEIGHTS)}
        ingredient = cells.get(INGREDIENT, "")
        if not ingredient:
            continue
        if WEIGHTS in holds:
            for key, heading, cell in zip(holds, table.head, row, strict=True):
                if key == WEIGHTS and cell and not _is_sum(ingredient):
                    found.setdefault(heading, []).append(_line(cell, _unit(heading), ingredient, cells))
        elif not _is_sum(ingredient):
            heading = table.head[list(holds).index(AMOUNT)]
            name = cells.get(FORMULA) or table.name
            found.setdefault(name, []).append(
                _line(cells.get(AMOUNT, ""), cells.get(UNIT) or _unit(heading), ingredient, cells)
            )
    return tuple(Elsewhere(name[:120], "\n".join([name, *lines])) for name, lines in found.items())


def _unit(heading: str) -> str:
    """The unit that a heading names, g where it names none."""
    named = _UNIT_IN.search(heading.replace("_", " "))
    return named[1].lower() if named else "g"


def _is_sum(ingredient: str) -> bool:
    return ingredient.strip().lower().rstrip(":") in ("total", "sum", "totals", "whole", "yield")


def _line(amount: str, unit: str, ingredient: str, cells: Mapping[str, str]) -> str:
    """A line as a recipe has it: "420 g plain flour, sifted"."""
    prep = f", {cells[PREP]}" if cells.get(PREP) else ""
    if not amount:
        return f"{ingredient}{prep}"
    measured = amount if re.search(r"[a-z]", amount, re.IGNORECASE) else f"{amount} {unit}"
    return f"{measured} {ingredient}{prep}"
