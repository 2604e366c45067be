"""What records have taught, as a plan takes it; and plans that are kept while the values they asked for hold."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from threading import Lock
from typing import Any, Generic, TypeVar

from northfold.core.bake.worked import OVEN_SD
from northfold.core.formula.liquid import LIQUID_SD


@dataclass(frozen=True)
class Learned:
    """
    What records have taught.

    `shrink_scales` by subject, see `shrink_subject` [ratio]; `thirsts` by flour: how much of the written liquid it
    takes, and the sd of that [ratio], from so many `thirst_records`. `frictions` by tool, or by the creaming: times
    the start value. [ratio] `paces` by step: how long hands take at it, times the start value. [ratio] `ovens`
    by oven: how many times more heat it passes on than by the table, and the sd of that. [ratio] `juices` and
    `settlings` by fruit: how many times more juice it gives, and how far it sinks, than by the table. [ratio]
    """

    shrink_scales: tuple[tuple[str, float], ...] = ()
    thirsts: tuple[tuple[str, float, float], ...] = ()
    frictions: tuple[tuple[str, float], ...] = ()
    thirst_records: tuple[tuple[str, int], ...] = ()
    paces: tuple[tuple[str, float], ...] = ()
    ovens: tuple[tuple[str, float, float], ...] = ()
    juices: tuple[tuple[str, float], ...] = ()
    settlings: tuple[tuple[str, float], ...] = ()

    def thirst(self, flour: str) -> tuple[float, float]:
        """Mean and sd of the liquid that a flour takes; the default where nothing was recorded. [ratio]"""
        return next(((mean, sd) for name, mean, sd in self.thirsts if name == flour), (1.0, LIQUID_SD))

    def records_of_thirst(self, flour: str) -> int:
        """How many records tell what a flour takes."""
        return dict(self.thirst_records).get(flour, 0)

    def shrink_scale(self, family: str, tin_key: str) -> float:
        """The scale of a tin with this family of dough, else the family's, else 1. [ratio]"""
        known = dict(self.shrink_scales)
        return known.get(shrink_subject(family, tin_key), known.get(shrink_subject(family), 1.0))

    def friction(self, tool: str) -> float:
        """How many times its start value a tool, or the creaming, warms a dough; 1 without records. [ratio]"""
        return dict(self.frictions).get(tool, 1.0)

    def pace(self, step: str) -> float:
        """How many times its start value hands take at a step, to a twentieth; 1 without records. [ratio]"""
        return round(dict(self.paces).get(step, 1.0) / PACE_STEP) * PACE_STEP

    def oven(self, key: str) -> tuple[float, float]:
        """How many times more heat an oven passes on than by the table, and the sd of that. [ratio]"""
        return next(((mean, sd) for name, mean, sd in self.ovens if name == key), (1.0, OVEN_SD))

    def juice(self, fruit: str) -> float:
        """How many times more juice a fruit gives than by the table; 1 without records. [ratio]"""
        return dict(self.juices).get(fruit, 1.0)

    def settling(self, fruit: str) -> float:
        """How many times further a filling of a fruit sinks than by the table; 1 without records. [ratio]"""
        return dict(self.settlings).get(fruit, 1.0)


# Paces are taken no finer, so that one more make moves no plan by seconds. [ratio]
PACE_STEP = 0.05


def shrink_subject(family: str, tin_key: str = "") -> str:
    """The stable word under which a shrink scale is kept: a family of dough, in one tin or in any."""
    return f"{family or 'own'}/{tin_key}" if tin_key else family or "own"


# Questions with their words, and what was answered.
Asked = dict[tuple[str, tuple[str, ...]], object]


def still_holds(asked: Sequence[tuple[str, Sequence[str], object]], learned: Learned) -> bool:
    """Whether learned values answer as they did; what was asked may have been kept as JSON, with lists for tuples."""
    return all(_plain(getattr(learned, question)(*words)) == _plain(was) for question, words, was in asked)


def _plain(answer: object) -> object:
    return list(answer) if isinstance(answer, tuple) else answer


class Asking:
    """Learned values, with every question that was put to them and its answer written down."""

    def __init__(self, learned: Learned) -> None:
        self.learned = learned
        self.asked: Asked = {}

    def _answer(self, question: str, *words: str) -> Any:
        found = getattr(self.learned, question)(*words)
        self.asked[question, words] = found
        return found

    def thirst(self, flour: str) -> tuple[float, float]:
        """As `Learned.thirst`. [ratio]"""
        answer: tuple[float, float] = self._answer("thirst", flour)
        return answer

    def records_of_thirst(self, flour: str) -> int:
        """As `Learned.records_of_thirst`."""
        answer: int = self._answer("records_of_thirst", flour)
        return answer

    def shrink_scale(self, family: str, tin_key: str) -> float:
        """As `Learned.shrink_scale`. [ratio]"""
        answer: float = self._answer("shrink_scale", family, tin_key)
        return answer

    def friction(self, tool: str) -> float:
        """As `Learned.friction`. [ratio]"""
        answer: float = self._answer("friction", tool)
        return answer

    def oven(self, key: str) -> tuple[float, float]:
        """As `Learned.oven`. [ratio]"""
        answer: tuple[float, float] = self._answer("oven", key)
        return answer

    def juice(self, fruit: str) -> float:
        """As `Learned.juice`. [ratio]"""
        answer: float = self._answer("juice", fruit)
        return answer

    def settling(self, fruit: str) -> float:
        """As `Learned.settling`. [ratio]"""
        answer: float = self._answer("settling", fruit)
        return answer

    def pace(self, step: str) -> float:
        """As `Learned.pace`. [ratio]"""
        answer: float = self._answer("pace", step)
        return answer


Found = TypeVar("Found")
# A make is seldom asked for under more than a few states of what was learned. [answers kept for one question]
STATES = 4


class KeptByWhatItAsks(Generic[Found]):
    """
    A reckoning whose answers are kept until one of the learned values that it asked for is another.

    So a new measure moves the plans that use it and no others. `reckon` takes its inputs, hashable, and `learned` as an
    Asking; answers for the `most` inputs that were asked for last are kept.
    """

    def __init__(self, reckon: Callable[..., Found], most: int) -> None:
        self.reckon, self.most = reckon, most
        self.known: OrderedDict[tuple[Hashable, ...], list[tuple[Asked, Found]]] = OrderedDict()
        self.lock = Lock()

    def __call__(self, *inputs: Hashable, learned: Learned) -> Found:
        return self.with_asked(*inputs, learned=learned)[1]

    def with_asked(self, *inputs: Hashable, learned: Learned) -> tuple[Asked, Found]:
        """What it asked for and was answered, and what came of it."""
        with self.lock:
            states = self.known.setdefault(inputs, [])
            self.known.move_to_end(inputs)
            while len(self.known) > self.most:
                self.known.popitem(last=False)
        for asked, found in list(states):
            if all(getattr(learned, question)(*words) == was for (question, words), was in asked.items()):
                return asked, found
        asking = Asking(learned)
        found = self.reckon(*inputs, learned=asking)
        states.insert(0, (asking.asked, found))
        del states[STATES:]
        return asking.asked, found
