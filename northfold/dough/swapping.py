"""Swaps and moves as the Dough desk asks for them: shown before they are done, and undone with one tap."""

from collections.abc import Mapping
from typing import Any

from django.http import QueryDict

from northfold.core.formula.diets import bases, diets, free_of
from northfold.core.formula.families import AXES, families
from northfold.core.formula.swaps import CannotSwap, Swap, move_to, move_to_centre, reweigh, swap_fat, swap_flour
from northfold.core.formula.typed import read_typed
from northfold.core.matter import Ingredient
from northfold.dough.editing import new_line
from northfold.dough.rows import Desk, Payload
from northfold.web.templatetags.figures import grams, percent

# What can be asked for, as the value of the field "swap-kind".
SWAP, MOVE, CENTRE, FREE = "swap", "move", "centre", "free"


def dragged(post: QueryDict, desk: Desk, shelf: Mapping[str, Ingredient]) -> Swap:
    """What moving the hollow mark of the triangle asks for."""
    shares = [read_typed(post.get(name, ""), "%", what="share", example="0.3") for name in ("drag-fat", "drag-liquid")]
    return reweigh(desk.lines, shares[0], shares[1], shelf)


def asked(post: QueryDict, desk: Desk, shelf: Mapping[str, Ingredient]) -> Swap:
    """The swap or move that the desk's fields ask for. Raises CoreError where it makes no sense."""
    lines, kind = desk.lines, post.get("swap-kind", SWAP)
    if kind == SWAP and post.get("move-to") and not post.get("swap-line"):
        kind = MOVE  # a percentage was written, and nothing chosen to swap
    if kind == MOVE:
        percent = read_typed(post.get("move-to", ""), "%", what="percentage", example="50")
        return move_to(lines, post.get("move-axis", ""), percent)
    if kind == CENTRE:
        family = next((each for each in families() if each.key == post.get("move-family")), None)
        if family is None or desk.plan.ratio is None:
            raise CannotSwap("Choose the family to move to; the dough needs flour first.")
        return move_to_centre(lines, family, desk.plan.ratio)
    if kind == FREE:
        names = ("free-of", "free-base", "free-binder")
        diet, base, binder = (post.get(name, "") for name in names)
        return free_of(lines, diet, shelf, base or "rice", binder or "psyllium")
    ids = [row.id for row in desk.counted]
    to = shelf.get(post.get("swap-to", ""))
    line = post.get("swap-line", "")
    if line not in ids or to is None:
        raise CannotSwap("Choose the line to swap and what to put in its place.")
    number = ids.index(line)
    share = read_typed(post.get("swap-share", "100"), "%", what="percentage", example="100") / 100
    swap = swap_flour if lines[number].ingredient.role == "flour" else swap_fat
    return swap(lines, number, to, shelf, share)


def done(payload: Payload, desk: Desk, swap: Swap) -> Payload:
    """The payload with a swap put into its lines, and the lines as they were, for undoing it."""
    ids = [row.id for row in desk.counted]
    changed = {ids[change.number]: change for change in swap.changes if change.number is not None}
    lines: list[dict[str, Any]] = []
    for line in payload["lines"]:
        change = changed.get(line["id"])
        if change is not None:
            line = {**line, "grams": _grams(change.after_g), "accepted": True, "dropped": change.after_g < 0.05}
            if change.before_name:
                line["ingredient"] = change.ingredient.name
        lines.append(line)
    for change in swap.changes:
        if change.number is None:
            lines.append(new_line(f"{_grams(change.after_g)} g {change.ingredient.name}"))
    return {**payload, "lines": lines, "undo": payload["lines"]}


def undone(payload: Payload, before: Payload) -> Payload:
    """The payload with its lines as they were before the last swap."""
    return {**payload, "lines": before["undo"]} if before.get("undo") else payload


def _grams(value: float) -> str:
    return f"{value:.1f}".removesuffix(".0")


def choices(desk: Desk, shelf: Mapping[str, Ingredient]) -> dict[str, Any]:
    """What the menus of the swap offer: lines, fats, flours, what can be left out, numbers and families to move."""
    rows = [row for row in desk.counted if row.ingredient is not None and row.ingredient.role in ("fat", "flour")]
    held = [diet for diet in diets().values() if any(diet.is_in(line.ingredient) for line in desk.lines)]
    gluten = diets()["gluten"]
    ratio = desk.plan.ratio
    # A dough without gluten is never offered wheat, rye, barley or oats.
    holds_gluten = any(gluten.is_in(line.ingredient) for line in desk.lines)
    flours = [item for item in shelf.values() if item.role == "flour" and (holds_gluten or not gluten.is_in(item))]
    return {
        "swap_rows": {row.id: f"{row.called}, {grams(row.grams)} g" for row in rows},
        "fats": sorted(
            item.name for item in shelf.values() if item.role == "fat" and (holds_gluten or not gluten.is_in(item))
        ),
        "flours": sorted(item.name for item in flours),
        "free_of": {diet.key: diet.name for diet in held},
        "bases": {key: base.name for key, base in bases(shelf).items()},
        "binders": {key: f"bound by {binder.name}" for key, binder in gluten.binder.items()},
        "axes": {axis: f"{axis}, now {percent(getattr(ratio, axis))} %" for axis in AXES} if ratio else {},
        "centres": {fit.family.key: f"the middle of {fit.family.name}" for fit in desk.plan.fits},
    }
