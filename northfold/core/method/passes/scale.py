"""Last pass: dough needed, lines as they are weighed, loads of the mixers."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import CoreError
from northfold.core.formula.eggs import EggRule, apply_egg_policy
from northfold.core.formula.loads import Loads, Mixer, mixer_loads
from northfold.core.formula.ratio import DoughLine
from northfold.core.formula.scaling import ScaledLine, rounded_to_scale
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.passes.make_up import needed_g
from northfold.core.shape.blanks import Piece

# Less than this is no load for a mixer. [g]
LEAST_LOAD_G = 1.0


@dataclass(frozen=True)
class Scaled:
    """Dough needed [g], what its eggs came to, its lines as they are weighed. [g]"""

    dough_g: float | None = None
    eggs: EggRule | None = None
    lines: tuple[ScaledLine, ...] = ()

    @property
    def mixed_g(self) -> float:
        """What goes into the bowl, before rounding. [g]"""
        return sum(line.exact_g for line in self.lines)


NOTHING = Scaled()


def scale(
    inputs: PlanInputs,
    lines: Sequence[DoughLine],
    pieces: Sequence[Piece],
    setting: Setting,
    reader: EditReader,
    *,
    nothing_mixed: bool = False,
) -> Scaled:
    """The lines of a dough, for what pieces need beyond the dough at hand; CoreError where a line cannot be. [g]"""
    dough_g = needed_g(inputs, pieces)
    fresh_g = 0.0 if nothing_mixed else max(0.0, dough_g - inputs.on_hand_g)
    eggs = apply_egg_policy(lines, fresh_g, reader.school("egg", setting.schools).key)
    return Scaled(dough_g, eggs, rounded_to_scale(eggs.weights_g))


def loads_of(mixed_g: float, mixers: Sequence[Mixer]) -> tuple[tuple[Loads, ...], tuple[str, ...]]:
    """The equal loads of each mixer for so much dough [g], fewest first; and why a mixer takes none of it."""
    loads: list[Loads] = []
    refused: list[str] = []
    for mixer in mixers if mixed_g >= LEAST_LOAD_G else ():
        try:
            loads.append(mixer_loads(mixed_g, mixer))
        except CoreError as error:
            refused.append(str(error))
    return tuple(sorted(loads, key=lambda each: each.count)), tuple(refused)
