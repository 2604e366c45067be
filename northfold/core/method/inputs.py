"""What a make is planned from."""

from dataclasses import dataclass, field, replace
from datetime import datetime

from northfold.core.errors import OutsideRange
from northfold.core.fill.layers import Layer
from northfold.core.formula.ratio import USUAL_COUNTING, Counting, DoughLine
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.choices.halves import WHOLE
from northfold.core.method.choices.hours import Hours, Laid
from northfold.core.method.choices.kitchen import Setting
from northfold.core.shape.blanks import Item

# Dough left on bowl, bench and hands. [share] Assumption, North Fold reference table.
LOSS = 0.02
LOSS_RANGE = (0.0, 0.3)


@dataclass(frozen=True)
class PlanInputs:
    """
    What a make is planned from, copied in whole so that a kept plan never reads a live table.

    `lines` in g as the formula was saved; `items` the pieces wanted; `loss` the share left on bowl and bench;
    `on_hand_g` of the same dough taken from the cold store; `apart` what the recipe has for filling, glaze and finish;
    `counting` by what its percentages are told; `layers` what each item is filled and finished with;
    `setting` the kitchen; `schools` the formula's own answers, by question, over the kitchen's;
    `now` the time it is planned at and `due_at` when it must be ready, both aware; `hours` when somebody is there, None
    for always, and `laid` its waits as a day has them, None where it plans by itself; `half` whether it ends in the
    freezer or begins there, a key of `HALVES`.
    """

    lines: tuple[DoughLine, ...]
    items: tuple[Item, ...] = ()
    loss: float = LOSS
    setting: Setting = field(default_factory=Setting)
    due_at: datetime | None = None
    now: datetime | None = None
    schools: tuple[tuple[str, str], ...] = ()
    on_hand_g: float = 0.0
    apart: tuple[PartLine, ...] = ()
    counting: Counting = USUAL_COUNTING
    layers: tuple[tuple[Layer, ...], ...] = ()
    hours: Hours | None = None
    laid: Laid | None = None
    half: str = WHOLE

    def layers_of(self, number: int) -> tuple[Layer, ...]:
        """The layers of an item, counted from 1."""
        return self.layers[number - 1] if number <= len(self.layers) else ()

    @property
    def worked_in(self) -> Setting:
        """The kitchen with the formula's own schools."""
        return replace(self.setting, schools=self.setting.schools.but(self.schools))

    @property
    def timeless(self) -> "PlanInputs":
        """The same without the hours, on which nothing but the clock hangs."""
        laid = self.laid.timeless if self.laid else None
        return replace(self, due_at=None, now=None, hours=None, laid=laid)


def check_loss(loss: float) -> None:
    """Hold the loss, a share, against what makes sense; OutsideRange beyond 0 to 30 %."""
    if not LOSS_RANGE[0] <= loss <= LOSS_RANGE[1]:
        raise OutsideRange("A loss of", 100 * loss, 100 * LOSS_RANGE[0], 100 * LOSS_RANGE[1], "%")
