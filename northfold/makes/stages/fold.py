"""The stage Fold: its face in the pleat, its fields, the lamination drawn."""

from dataclasses import replace
from typing import Any

from northfold.core.fold.pictures import film_plot, from_above, section
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.reckon.division import lead_piece
from northfold.core.method.rules.laminate import turns_in_words
from northfold.makes.queries import MakeThread
from northfold.makes.stages.fields import Field, Fields
from northfold.makes.stages.page import shows
from northfold.makes.stages.steps import step_rows
from northfold.web.panels import Face, Thread
from northfold.web.templatetags.figures import half_degrees


def face(thread: Thread) -> Face | None:
    plan = thread.plan
    if not plan.is_laminated or takes_pieces(plan.inputs.half):
        return None
    if plan.fold is None:
        return Face("–", "", "does not fold")
    owed = "too fine" if plan.fold.verdict in ("fine", "merged") else "coarse" if plan.fold.verdict == "coarse" else ""
    return Face(f"{plan.fold.layers.fat}", "fat films", owed)


def fields_of(fields: Fields) -> list[Field]:
    """What of a lamination can be chosen: lock-in, folds, thicknesses, blocks."""
    plan, fold = fields.plan, fields.plan.fold
    if not plan.is_laminated:
        return []
    found = [fields.make("fold", "total_g", f"{plan.dough_g or 0:.0f}")]
    found += [fields.question("lock_in")] if fold is None or plan.fold_has_block else []
    found.append(fields.question("folds"))

    folds = " ".join(str(into) for into in fold.inputs.folds) if fold else ""
    found.append(fields.own_or(step_keys.TURNS, "own", folds))
    before_mm = f"{fold.inputs.turn_mm:g}" if fold else "8"
    found.append(fields.own_or(step_keys.TURNS, "turn_mm", before_mm))
    thickness = f"{lead_piece(plan.pieces).item.thickness_mm:g}" if plan.pieces else ""
    found.append(replace(fields.own_or(step_keys.ROLL, "thickness_mm", thickness), label="Last sheet"))
    found.append(fields.own_or(step_keys.TURNS, "blocks", f"{fold.blocks}" if fold else ""))
    if fields.question("lock_in").value == "inverse":
        per_100 = 100 * fold.inputs.flour_in_fat_g / (fold.inputs.fat_g - fold.inputs.flour_in_fat_g) if fold else 35
        found.append(fields.own_or(step_keys.LOCK, "flour_in_fat_g", f"{per_100:.0f}"))
    if plan.route and any(step.key == step_keys.PROVE for step in plan.route.steps):
        proof = next(step for step in plan.route.steps if step.key == step_keys.PROVE)
        found.append(fields.own_or(step_keys.PROVE, "proof_c", half_degrees(proof.place_c)))
    return found


@shows("fold")
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    """The lamination: its stages, films and turns."""
    plan, fold = thread.plan, thread.plan.fold
    route = plan.route
    turns = [step for step in route.steps if _is_of_fold(step.key)] if route else []
    return {
        "fold": fold,
        "fold_fields": fields_of(fields),
        "turns_said": turns_in_words(route.along) if route else "",
        "above": from_above(fold) if fold else (),
        "section": section(fold) if fold else None,
        "films": film_plot(fold) if fold else None,
        "turn_rows": [row for row in step_rows(plan, fields) if row.step in turns],
        "fold_remarks": [r for r in route.remarks if _is_of_fold(r.step_key)] if route else [],
    }


def _is_of_fold(step_key: str) -> bool:
    kind = kind_of(step_key)
    return kind is not None and kind.laminates
