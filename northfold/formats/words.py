"""A recipe as it was read, and a plan, as plain text for a terminal: nothing wider than a line, figures in columns."""

import textwrap
from collections.abc import Iterable

from northfold.core.formula.read_lines import ReadLine
from northfold.core.method import Plan
from northfold.core.method.words import duration
from northfold.formats.plan import PlanFile, StepFile

WIDTH = 88


def read_words(lines: Iterable[ReadLine]) -> list[str]:
    """Every line of a recipe: its weight and what it is taken for, beneath it what is doubtful."""
    said = []
    for line in lines:
        if line.heading:
            said.append(f"            {line.text}")
            continue
        grams = f"{line.grams.usual:10,.1f} g" if line.grams else f"{'?':>10}  "
        part = f"  [{line.part}]" if line.part else ""
        name = line.ingredient.name if line.ingredient else "?"
        said.append(f"{grams}  {name}{part}  <- {line.text}")
        said += _wrapped([doubt.message for doubt in line.doubts], " " * 14)
    return said


def plan_words(found: PlanFile) -> list[str]:
    """A plan: what comes of it, what to weigh, every step with its hour, what to mind."""
    said = [found.formula, "=" * len(found.formula)]
    if found.fat_percent is not None:
        said.append(f"true fat {found.fat_percent:.1f} %, water {found.water_percent:.1f} % of flour")
    for piece in found.pieces:
        rolled = " x ".join(f"{each:.0f}" for each in piece.rolled_mm)
        what = f"{piece.count} x {piece.tin} mm, {piece.thickness_mm:g} mm thick"
        said.append(f"{what}: roll {piece.rolled_g:,.0f} g to {rolled} mm")
    if found.shrink_percent is not None:
        said.append(f"shrinks about {found.shrink_percent:.1f} %")
    if found.weigh:
        said += ["", f"Weigh, g{'':>35}exact      scale"]
        said += [f"  {each.ingredient:36}{each.exact_g:11,.1f}{each.weigh_g:11,.1f}" for each in found.weigh]
        said.append(f"  {'dough':36}{found.dough_g or 0:11,.1f}")
    if found.allergens:
        said.append(f"  Holds {found.allergens}.")
    if found.steps:
        hours = _hours(found)
        said += ["", f"Steps, {duration(found.whole_min)}, {duration(found.hands_min)} by hand{hours}"]
        if found.late_min >= 1 and found.ready_if_now is not None:
            later = f"{found.ready_if_now:%a %H:%M}"
            said.append(f"Too late by {duration(found.late_min)}: started now it is ready {later}.")
        for step in found.steps:
            said += _step(step)
    said += bake_words(found)
    for title, texts in (("Mind", found.remarks), ("Could not be reckoned", found.problems)):
        if texts:
            said += ["", title, *_wrapped(texts, "  ")]
    return said


def bake_words(found: PlanFile) -> list[str]:
    """The stages of the bake."""
    if not found.bake:
        return []
    said = ["", "Bake"]
    for stage in found.bake:
        low, high = stage.low_min, stage.high_min
        span = f", {low:.0f} to {high:.0f}" if low is not None and high is not None else ""
        said.append(f"  {stage.oven_c:.0f} °C, {stage.minutes:.0f} min{span}")
    return said


def finding_words(plan: Plan) -> list[str]:
    """What comes out of the oven that is not as wanted; nothing where all is."""
    bakes = plan.bakes or ((plan.bake,) if plan.bake else ())
    whole = [each for bake in bakes for each in (bake, bake.second) if each is not None]
    return _wrapped([finding.says for bake in whole for finding in bake.findings], "  ")


def _hours(found: PlanFile) -> str:
    if found.start is None or found.ready is None:
        return ""
    return f": start {found.start:%a %H:%M}, ready {found.ready:%a %H:%M}"


def _step(step: StepFile) -> list[str]:
    when = f"{step.start:%H:%M}" if step.start else f"{step.start_min:5.0f}"
    takes = " + ".join(
        word
        for word in (
            f"{max(1, round(step.hands_min))} min" if step.hands_min else "",
            f"{duration(step.wait_min)} wait" if step.wait_min else "",
        )
        if word
    )
    where = f", {step.place}" if step.place else ""
    mark = " |" if step.beside else "  "
    said = [f"{when}{mark}{step.name}: {takes or 'a moment'}{where}"]
    return [*said, *_wrapped([step.look], " " * 9), *_wrapped([f"! {step.caution}"] if step.caution else [], " " * 9)]


def _wrapped(texts: Iterable[str], indent: str) -> list[str]:
    return [
        line for text in texts for line in textwrap.wrap(text, WIDTH, initial_indent=indent, subsequent_indent=indent)
    ]
