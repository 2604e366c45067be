"""The lines of a draft's payload as the desk understands them, and what they make together."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from northfold.core.errors import CoreError
from northfold.core.fill.mixture import DOUGH, Mixture
from northfold.core.formula.notes import Notes, american_words
from northfold.core.formula.numbers import Spread
from northfold.core.formula.parts import PARTS, sorted_out
from northfold.core.formula.ratio import DoughLine, LineFigures
from northfold.core.formula.read_lines import Doubt, ReadLine, Remedy
from northfold.core.formula.reading import read_recipe
from northfold.core.formula.triangle import Triangle
from northfold.core.formula.typed import read_gram_range
from northfold.core.matter import Ingredient
from northfold.core.method import Plan
from northfold.core.method.choices.schools_of_recipe import Said
from northfold.core.method.formulated import Formulated

Payload = dict[str, Any]
# The part of a line that its editor counts in the dough, whatever its heading says.
IN_DOUGH = "dough"


PlanFrom = Callable[[Formulated], Plan]


@dataclass(frozen=True)
class Row:
    """One line of the desk: as written, as understood, with its figures once the whole has a ratio."""

    id: str
    text: str
    reading: ReadLine
    ingredient: Ingredient | None
    spread: Spread | None
    grams_typed: str
    error: str
    doubts: tuple[Doubt, ...]
    dropped: bool
    part: str = ""
    figures: LineFigures | None = None

    @property
    def grams(self) -> float | None:
        return self.spread.usual if self.spread else None

    @property
    def is_method(self) -> bool:
        """Whether a line that weighs nothing tells how, instead of heading what follows."""
        return self.reading.heading and (bool(self.reading.facts) or self.text.strip().endswith("."))

    @property
    def is_heading(self) -> bool:
        return self.reading.heading and not self.dropped

    @property
    def is_apart(self) -> bool:
        """Whether it is for a filling, a glaze or the like: kept and shown, but in no sum of the dough."""
        return bool(self.part) and not self.reading.heading

    @property
    def part_words(self) -> str:
        return PARTS.get(self.part, "")

    @property
    def is_settled(self) -> bool:
        read = self.ingredient is not None and self.grams is not None
        return self.dropped or self.reading.heading or self.is_apart or read

    @property
    def is_marked(self) -> bool:
        """Whether something about it waits for a look."""
        return not self.is_apart and (bool(self.error or self.doubts) or not self.is_settled)

    @property
    def is_changed(self) -> bool:
        """Whether the editor gave it another weight than the one written."""
        read = self.reading.grams
        return (
            bool(self.grams_typed)
            and not self.error
            and read is not None
            and abs(read.usual - (self.grams or 0)) > 0.05
        )

    @property
    def reading_as_taken(self) -> ReadLine:
        """The reading with the ingredient that the editor chose."""
        return replace(self.reading, ingredient=self.ingredient)

    @property
    def called(self) -> str:
        return self.ingredient.name if self.ingredient else self.text

    @property
    def shown_grams(self) -> str:
        """What its grams field shows: as typed, else as read, to a tenth."""
        if self.grams_typed or self.grams is None:
            return self.grams_typed
        return f"{round(self.grams, 1):g}"


@dataclass(frozen=True)
class Desk:
    """Everything the Dough view shows of a payload."""

    payload: Payload
    rows: tuple[Row, ...]
    dropped: tuple[Row, ...]
    plan: Plan
    picture: Triangle | None
    notes: Notes
    shelf: Mapping[str, Ingredient]
    said: tuple[Said, ...] = ()
    mixture: Mixture | None = None

    @property
    def schools(self) -> tuple[tuple[str, str], ...]:
        """The formula's own schools: what its editor chose, over what its recipe says."""
        return schools_of(self.payload, self.said)

    @property
    def american(self) -> tuple[str, ...]:
        """Words that speak for US measures, where a recipe that was never saved is read with others."""
        if self.payload["system"] == "us" or any(line.get("kept") for line in self.payload["lines"]):
            return ()
        return american_words(row.text for row in self.rows)

    @property
    def lines(self) -> tuple[DoughLine, ...]:
        return self.plan.inputs.lines if self.mixture is None else self.mixture.lines

    @property
    def counted(self) -> tuple[Row, ...]:
        """The rows that stand in the sums, in the order of `lines`."""
        return tuple(row for row in self.rows if counts(row))

    @property
    def apart(self) -> tuple[Row, ...]:
        """The rows for filling, topping, glaze and finish, in order."""
        return tuple(row for row in self.rows if row.is_apart)

    @property
    def unsettled(self) -> tuple[Row, ...]:
        return tuple(row for row in self.rows if not row.is_settled or row.error)

    @property
    def unread(self) -> tuple[Row, ...]:
        return tuple(row for row in self.rows if not row.is_settled)

    def _sum(self, figure: str) -> float:
        return sum(getattr(row.figures, figure) for row in self.rows if row.figures)

    @property
    def percent_sum(self) -> float:
        return self._sum("percent")

    @property
    def fat_sum_g(self) -> float:
        return self._sum("fat_g")

    @property
    def water_sum_g(self) -> float:
        return self._sum("water_g")


def schools_of(payload: Payload, said: Iterable[Said]) -> tuple[tuple[str, str], ...]:
    """The formula's own schools, as a plan takes them."""
    return tuple(sorted({**{each.question: each.option for each in said}, **payload["schools"]}.items()))


def counts(row: Row) -> bool:
    """Whether a row stands in the sums of the dough."""
    return not row.dropped and not row.is_apart and row.ingredient is not None and row.grams is not None


def rows_of(payload: Payload, shelf: Mapping[str, Ingredient]) -> list[Row]:
    rows = []
    alone = [
        ReadLine(line["text"], heading=True) if line["dropped"] else _reading(line, payload["system"], shelf)
        for line in payload["lines"]
    ]
    dropped = {line["id"]: _reading(line, payload["system"], shelf) for line in payload["lines"] if line["dropped"]}
    for line, reading in zip(payload["lines"], sorted_out(alone).lines, strict=True):
        reading = dropped.get(line["id"], reading)
        # What was saved stays where it was: a heading read better since moves no saved line.
        said = line.get("part") or (IN_DOUGH if line.get("kept") else "")
        # In a mixture every line is the mixture’s own.
        said = IN_DOUGH if payload["kind"] != DOUGH else said
        ingredient = shelf.get(line["ingredient"]) or reading.ingredient
        if line["ingredient"] and reading.ingredient is not ingredient and not line["grams"]:
            # Another ingredient weighs otherwise by the cup: read the amount again with its name put in.
            reading = _reread(line, reading, shelf, payload["system"])
        spread, error = reading.grams, ""
        if line["grams"]:
            try:
                spread = read_gram_range(line["grams"])
            except CoreError as problem:
                error = str(problem)
        doubts = () if line["accepted"] else reading.doubts
        if ingredient is not None and spread is None and not error:
            doubts = reading.doubts or (Doubt("no_amount", "No amount given: type the grams, or leave it out."),)
        elif line["grams"] and not error:
            doubts = tuple(
                d for d in doubts if d.code in ("unknown_ingredient", "partly_read", "loose_name", "spelling")
            )
        if ingredient is None and line["accepted"]:
            doubts = reading.doubts
        rows.append(
            Row(
                id=line["id"],
                text=line["text"],
                reading=reading,
                ingredient=ingredient,
                spread=spread,
                grams_typed=line["grams"],
                error=error,
                doubts=doubts,
                dropped=line["dropped"],
                part="" if said == IN_DOUGH else said or reading.part,
            )
        )
    return rows


def _reading(line: Mapping[str, Any], system: str, shelf: Mapping[str, Ingredient]) -> ReadLine:
    kept = line.get("kept")
    if kept and kept["ingredient"] in shelf:
        return ReadLine(
            line["text"],
            grams=Spread(*kept["grams"]),
            ingredient=shelf[kept["ingredient"]],
            preparation=kept["preparation"],
        )
    found = read_recipe(line["text"], system, shelf).lines if line["text"] else ()
    if len(found) > 1:
        parted = Remedy("Make two lines of it", "text", "\n".join(each.text for each in found))
        return ReadLine(
            line["text"], doubts=(Doubt("two_things", "That is two things, each with its weight.", (parted,)),)
        )
    return found[0] if found else ReadLine(line["text"])


def _reread(line: Mapping[str, Any], reading: ReadLine, shelf: Mapping[str, Ingredient], system: str) -> ReadLine:
    if reading.amount is None or line["ingredient"] not in shelf:
        return reading
    again = read_recipe(f"{reading.amount.usual:g} {reading.unit} {line['ingredient']}", system, shelf).lines[0]
    return ReadLine(
        text=line["text"],
        amount=reading.amount,
        unit=reading.unit,
        grams=again.grams,
        ingredient=again.ingredient,
        preparation=reading.preparation,
        doubts=reading.doubts,
    )
