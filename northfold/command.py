"""
Plans from a terminal, without server or database: `python -m northfold read | plan | bake`.

Answers 0 where all went well, 1 where the recipe or a number in it cannot be taken, 2 where the command itself is
wrong.
"""

import argparse
import sys
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta
from pathlib import Path
from typing import Any

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.read_lines import ReadLine
from northfold.core.formula.reading import read_recipe
from northfold.core.formula.units import SYSTEMS
from northfold.core.matter import reference_ingredients
from northfold.core.method import Edit, Plan, PlanInputs, Setting, plan
from northfold.core.method.choices.kitchen import ROOM_C, ROOM_RANGE_C, Oven
from northfold.core.method.choices.schools import questions
from northfold.core.method.formulated import Formulated, formulated, unsettled
from northfold.core.shape.blanks import COVERS, OPEN
from northfold.formats.files import BadFile, checked, dumped, json_of, text_of
from northfold.formats.formula import FormulaFile, formula_file
from northfold.formats.plan import PlanFile, plan_file
from northfold.formats.tins import EXAMPLES, read_tins
from northfold.formats.words import bake_words, finding_words, plan_words, read_words

WRONG, MISUSED = 1, 2


@dataclass(frozen=True)
class Taken:
    """A recipe that was taken: its name, as a plan takes it, and its lines where it was text."""

    name: str
    found: Formulated
    read: tuple[ReadLine, ...] = ()


def main(argv: Sequence[str] | None = None) -> int:
    """Do what the command says; the number it ends with."""
    asked = _parser().parse_args(argv)
    try:
        found: int = asked.does(asked)
    except (BadFile, CoreError) as error:
        return _fails(str(error))
    except BrokenPipeError:
        # Whoever reads has heard enough, such as `head`.
        sys.stderr.close()
        return 0
    return found


def _parser() -> argparse.ArgumentParser:
    whole = argparse.ArgumentParser(prog="python -m northfold", description="Pastry doughs, planned from a recipe.")
    commands = whole.add_subparsers(required=True, metavar="read | plan | bake")
    recipe = argparse.ArgumentParser(add_help=False)
    recipe.add_argument("recipe", help="a text, or a formula as JSON; - reads what is piped in")
    recipe.add_argument("--measures", choices=[*SYSTEMS], default="metric", help="what a cup holds (%(default)s)")
    recipe.add_argument("--json", action="store_true", help="answer in JSON, see docs/formats")
    make = argparse.ArgumentParser(add_help=False)
    make.add_argument("--tins", action="append", default=[], metavar="TINS", help=f"how many of what: {EXAMPLES}")
    make.add_argument("--cover", choices=[*COVERS], default=OPEN, help="what else is made of dough (%(default)s)")
    make.add_argument("--thickness", type=float, metavar="MM", help="of the dough; else as usual for the tin")
    make.add_argument("--due", type=_hour, metavar="TIME", help="when it must be ready: 07:00, or 2026-12-04T07:00")
    make.add_argument("--now", type=_hour, metavar="TIME", help="what time it is; else the clock's")
    make.add_argument("--room", type=float, default=ROOM_C, metavar="°C", help="how warm the room is (%(default)s)")
    make.add_argument("--fan", action="store_true", help="the oven has a fan")
    make.add_argument("--loss", type=float, default=2.0, metavar="%", help="left on bowl and bench (%(default)s)")
    make.add_argument("--school", action="append", default=[], metavar="QUESTION=ANSWER", help="where makers differ")
    make.add_argument("--set", action="append", default=[], metavar="STEP.FIELD=VALUE", help="a value of your own")
    make.add_argument("--leave-out", action="store_true", help="plan without lines that cannot be read")
    for name, does, parents, help_ in (
        ("read", _read, [recipe], "say how each line of a recipe is understood"),
        ("plan", _plan, [recipe, make], "what to weigh, every step with its hour, the bake"),
        ("bake", _bake, [recipe, make], "the bake alone, and what will not come out as wanted"),
    ):
        command = commands.add_parser(name, parents=parents, help=help_, description=help_.capitalize() + ".")
        command.set_defaults(does=does)
    return whole


# -- the commands


def _read(asked: argparse.Namespace) -> int:
    taken = _taken(asked)
    if asked.json:
        _say(dumped(_as_file(taken)))
    elif taken.read:
        _say(*read_words(taken.read))
    else:
        _say(*(f"{line.grams:10,.1f} g  {line.ingredient.name}" for line in taken.found.lines))
    return _fails_for(unsettled(taken.read))


def _plan(asked: argparse.Namespace) -> int:
    found = _planned(asked)
    if found is None:
        return WRONG
    file, _ = found
    _say(file.model_dump_json(indent=2)) if asked.json else _say(*plan_words(file))
    return _fails(*file.problems) if file.problems else 0


def _bake(asked: argparse.Namespace) -> int:
    found = _planned(asked)
    if found is None:
        return WRONG
    file, planned = found
    if planned.bake is None:
        return _fails(*(file.problems or ("There is nothing to bake: say what it is baked in with --tins.",)))
    if asked.json:
        _say(file.model_dump_json(indent=2, include={"format", "formula", "bake", "problems", "remarks"}))
    else:
        _say(*bake_words(file)[1:], *finding_words(planned))
    return 0


# -- what they share


def _planned(asked: argparse.Namespace) -> tuple[PlanFile, Plan] | None:
    """The plan that was asked for; None, once that is said, where lines are not settled."""
    taken = _taken(asked)
    open_lines = unsettled(taken.read)
    if open_lines and not asked.leave_out:
        _fails_for(open_lines)
        return None
    _note(*(f"“{line.text}”: {doubt.message}" for line in taken.read for doubt in line.doubts if not line.part))
    here = datetime.now().astimezone()
    midnight = here.replace(hour=0, minute=0, second=0, microsecond=0)
    now = _moment(asked.now, midnight) if asked.now else here
    if not ROOM_RANGE_C[0] <= asked.room <= ROOM_RANGE_C[1]:
        raise OutsideRange("A room at", asked.room, *ROOM_RANGE_C, "°C")
    schools = {**dict(taken.found.schools), **_schools(asked.school)}
    setting = replace(Setting(), room_c=asked.room, ovens=(Oven(fan=asked.fan),))
    inputs = PlanInputs(
        lines=taken.found.lines,
        items=tuple(read_tins(each, asked.cover, asked.thickness) for each in asked.tins),
        loss=asked.loss / 100,
        setting=setting,
        due_at=_moment(asked.due, now) if asked.due else None,
        now=now,
        schools=tuple(sorted(schools.items())),
        apart=taken.found.apart,
        counting=taken.found.counting,
    )
    planned = plan(inputs, [_edit(each) for each in asked.set])
    _note(*(f"{each.edit.step_key}.{each.edit.field}: {each.reason}" for each in planned.unused_edits))
    return plan_file(taken.name, planned), planned


def _taken(asked: argparse.Namespace) -> Taken:
    """The recipe, from its file or from what is piped in."""
    data = sys.stdin.buffer.read() if asked.recipe == "-" else _file(asked.recipe)
    text = text_of(data)
    name = "Recipe" if asked.recipe == "-" else Path(asked.recipe).stem.replace("-", " ").replace("_", " ")
    if text.lstrip().startswith("{"):
        file = checked(json_of(text), FormulaFile)
        return Taken(file.name, file.formulated(reference_ingredients()))
    recipe = read_recipe(text, asked.measures)
    if not any(line.is_read for line in recipe.lines):
        raise BadFile("There is no line with an ingredient and its weight in it, such as 420 g plain flour.")
    return Taken(recipe.title or name[:1].upper() + name[1:], formulated(recipe), recipe.lines)


def _file(path: str) -> bytes:
    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise BadFile(f"{path}: {error.strerror or error}") from None


def _as_file(taken: Taken) -> FormulaFile:
    return formula_file(taken.name, taken.found, reference_ingredients())


def _schools(said: Sequence[str]) -> dict[str, str]:
    found = {}
    for each in said:
        question, _, answer = each.partition("=")
        known = questions().get(question)
        if known is None or answer not in known.options:
            there_are = ", ".join(known.options) if known else ", ".join(questions())
            raise BadFile(f"--school {each}: not known. There are {there_are}.")
        found[question] = answer
    return found


def _edit(said: str) -> Edit:
    where, _, value = said.partition("=")
    step, _, field = where.rpartition(".")
    if not (step and field and value):
        raise BadFile(f"--set {said}: write STEP.FIELD=VALUE, such as chill.1.minutes=45.")
    return Edit(step, field, value)


def _hour(text: str) -> time | datetime:
    """A time of day, or a day with one."""
    try:
        return time.fromisoformat(text.replace(".", ":"))
    except ValueError:
        pass
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text}” is no time: 07:00, or 2026-12-04T07:00") from None


def _moment(said: time | datetime, after: datetime) -> datetime:
    """When that is: of an hour alone, the next time that it strikes; where no offset is said, here."""
    if isinstance(said, datetime):
        return said if said.tzinfo else said.astimezone()
    today = datetime.combine(after.date(), said, tzinfo=after.tzinfo)
    return today if today >= after else today + timedelta(days=1)


def _say(*lines: str) -> None:
    sys.stdout.write("".join(f"{line}\n" for line in lines))


def _note(*lines: str) -> None:
    sys.stderr.write("".join(f"note: {line}\n" for line in lines))


def _fails(*lines: str) -> int:
    sys.stderr.write("".join(f"northfold: {line}\n" for line in lines))
    return WRONG


def _fails_for(lines: Sequence[ReadLine]) -> int:
    """Say of lines that they are not settled; 0 where there are none."""
    said: list[Any] = []
    for line in lines:
        why = " ".join(doubt.message for doubt in line.doubts) or "no weight or no ingredient could be read."
        said.append(f"“{line.text}”: {why}")
    return _fails(*said, "Write those lines otherwise, or plan without them: --leave-out.") if said else 0
