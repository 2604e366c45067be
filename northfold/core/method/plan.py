"""plan(inputs, edits, learned) → Plan: the one function behind every panel of a make."""

from dataclasses import dataclass, field

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.families import Fit, fits, traits
from northfold.core.formula.ratio import DoughLine, Ratio, ratio_of
from northfold.core.formula.readout import Statement, read_out
from northfold.core.formula.scaling import ScaledLine, scale_lines
from northfold.core.matter import ALLERGENS, dough_composition, dough_density
from northfold.core.shape.blanks import Item, Piece, piece

# Dough left on bowl, bench and hands. [share] Assumption, North Fold reference table.
LOSS = 0.02
LOSS_RANGE = (0.0, 0.3)


@dataclass(frozen=True)
class PlanInputs:
    """
    What a make is planned from, copied in whole so that a kept plan never reads a live table.

    `lines` in g as the formula was saved; `items` the pieces wanted; `loss` the share left on bowl and bench.
    """

    lines: tuple[DoughLine, ...]
    items: tuple[Item, ...] = ()
    loss: float = LOSS


@dataclass(frozen=True)
class Edit:
    """A maker's own value for one field of one step; keys are stable words."""

    step_key: str
    field: str
    value: str


@dataclass(frozen=True)
class Learned:
    """What records have taught, by kind and subject key; empty where nothing has been measured yet."""

    values: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Problem:
    """Why a stage of the plan could not be reckoned: the stage, the rule broken, a sentence to show."""

    stage: str
    code: str
    message: str


@dataclass(frozen=True)
class UnusedEdit:
    """An edit kept though no step of this plan takes it, with the reason."""

    edit: Edit
    reason: str


@dataclass(frozen=True)
class Plan:
    """Every figure of a make, stage by stage. A stage that could not be reckoned is None or empty, see `problems`."""

    inputs: PlanInputs
    ratio: Ratio | None
    traits: frozenset[str]
    fits: tuple[Fit, ...]
    statements: tuple[Statement, ...]
    allergens: tuple[str, ...]
    density_kg_m3: float | None
    pieces: tuple[Piece, ...]
    dough_g: float | None
    scaled: tuple[ScaledLine, ...]
    weighed_g: float | None
    drift_g: float | None
    net_g: float
    offcuts_g: float
    loss_g: float
    unused_edits: tuple[UnusedEdit, ...]
    problems: tuple[Problem, ...]

    @property
    def factor(self) -> float | None:
        """How many times the formula as saved is mixed."""
        if self.dough_g is None or self.ratio is None:
            return None
        return self.dough_g / self.ratio.total_g


def check_loss(loss: float) -> None:
    """Hold the loss, a share, against what makes sense; OutsideRange beyond 0 to 30 %."""
    if not LOSS_RANGE[0] <= loss <= LOSS_RANGE[1]:
        raise OutsideRange("A loss of", 100 * loss, 100 * LOSS_RANGE[0], 100 * LOSS_RANGE[1], "%")


def plan(inputs: PlanInputs, edits: tuple[Edit, ...] = (), learned: Learned | None = None) -> Plan:
    """
    Plan a make.

    Parameters
    ----------
    inputs : PlanInputs
        Formula lines [g], pieces [mm], loss [share, 0 to 0.3].
    edits : tuple of Edit
        A maker's own values. Those that no step takes are kept and reported.
    learned : Learned, optional
        Values from records; the defaults where there are none.

    Returns
    -------
    Plan
        Ratio → geometry of the pieces → dough needed → scaled lines. Dough needed = Σ pieces × (net + offcuts not
        used again) ÷ (1 − loss).

    Notes
    -----
    Broken rules do not raise: the stage is left out and `problems` says why, so that the other stages still show.
    """
    problems: list[Problem] = []
    ratio: Ratio | None = None
    density: float | None = None
    found: frozenset[str] = frozenset()
    ranked: tuple[Fit, ...] = ()
    lines = inputs.lines
    try:
        ratio = ratio_of(lines)
        density = dough_density(dough_composition((line.ingredient, line.grams) for line in lines))
        found = traits(lines)
        ranked = fits(ratio, lines)
    except CoreError as error:
        problems.append(Problem("dough", error.code, str(error)))
    pieces: list[Piece] = []
    dough_g: float | None = None
    scaled: tuple[ScaledLine, ...] = ()
    if density is not None and inputs.items:
        try:
            check_loss(inputs.loss)
            pieces = [piece(item, density) for item in inputs.items]
            dough_g = sum(one.need_g for one in pieces) / (1 - inputs.loss)
            scaled = scale_lines([line.grams for line in lines], dough_g)
        except CoreError as error:
            pieces, dough_g = [], None
            problems.append(Problem("size", error.code, str(error)))
    weighed = sum(line.weigh_g for line in scaled) if scaled else None
    net = sum(one.net_g * one.item.count for one in pieces)
    need = sum(one.need_g for one in pieces)
    held = {allergen for line in lines for allergen in (*line.ingredient.allergens, *line.ingredient.may_hold)}
    return Plan(
        inputs=inputs,
        ratio=ratio,
        traits=found,
        fits=ranked,
        statements=read_out(ratio, ranked) if ratio else (),
        allergens=tuple(allergen for allergen in ALLERGENS if allergen in held),
        density_kg_m3=density,
        pieces=tuple(pieces),
        dough_g=dough_g,
        scaled=scaled,
        weighed_g=weighed,
        drift_g=None if weighed is None or dough_g is None else weighed - dough_g,
        net_g=net,
        offcuts_g=need - net,
        loss_g=0.0 if dough_g is None else dough_g - need,
        unused_edits=tuple(UnusedEdit(edit, f"This plan has no step “{edit.step_key}”.") for edit in edits),
        problems=tuple(problems),
    )
