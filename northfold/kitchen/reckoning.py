"""How we reckon: the start values of the models, what this kitchen has learned over them, and where each is set."""

from dataclasses import dataclass

from northfold.core.bake.worked import OVEN_SD
from northfold.core.fill.juice import VARIES
from northfold.core.formula.families import families
from northfold.core.formula.liquid import LIQUID_SD
from northfold.core.heat.mixing import FRICTION_SD
from northfold.core.heat.places import place_kinds
from northfold.core.learning.places import FILM_SD, LearnedPlace
from northfold.core.learning.values import PACE_SD, SCALE_SD, LearnedValue
from northfold.core.method.choices.schools import questions
from northfold.core.method.choices.step_kinds import kind_of
from northfold.kitchen import queries
from northfold.kitchen.models import Tin

# What a start value of a step's minutes is for, by what its row counts.
PER = {"line": " a line", "lot": " a lot", "area": " a disc of Ø 320", "piece": " a piece"}


@dataclass(frozen=True)
class Found:
    """A learned value beside its start: of what, how many times the start value, from how many records."""

    of: str
    start: str
    value: LearnedValue | LearnedPlace
    prior_sd: float


def _shrink_of(subject: str) -> str:
    """A subject of shrink in words: family of dough, and the tin."""
    family_key, _, tin_key = subject.partition("/")
    family = next((each.name for each in families() if each.key == family_key), "your own doughs")
    pk = tin_key.removeprefix("tin:")
    tin = Tin.objects.filter(pk=int(pk)).first() if pk.isdecimal() else None
    return f"shrink of {family}" + (f" in {tin.name}" if tin else " in a tin" if tin_key else " in any tin")


def _is_known(subject: str) -> bool:
    """Whether the step that a pace is of still has a row."""
    return kind_of(subject.partition("/")[0]) is not None


def _pace_of(subject: str) -> tuple[str, str]:
    """What a pace is of, in words, and the start value that it multiplies."""
    key, _, tool = subject.partition("/")
    kind = kind_of(key)
    assert kind is not None
    with_tool = f", {questions()['mixing'].options[tool].name}" if tool in questions()["mixing"].options else ""
    start = f"{kind.hands_min:g} min{PER.get(kind.hands, '')}" if kind.hands_min else "by the tool"
    return f"minutes of hands, {(kind.short or kind.name).lower()}{with_tool}", start


def learned_values() -> list[Found]:
    """Everything that records have moved, with its start."""
    tools = {**questions()["mixing"].options, **questions()["fat_temperature"].options}
    found = [Found(_shrink_of(key), "the model", value, SCALE_SD) for key, value in queries.shrink_scales().items()]
    found += [
        Found(f"liquid that {flour} takes", "as written", value, LIQUID_SD)
        for flour, value in queries.thirsts().items()
    ]
    found += [
        Found(f"warming, {tools[tool].name}", f"{tools[tool].friction_k:g} °C", value, FRICTION_SD)
        for tool, value in queries.frictions().items()
        if tool in tools
    ]
    found += [Found(f"juice that {fruit} gives", "by the table", value, VARIES)
              for fruit, value in queries.juices().items()]  # fmt: skip
    found += [Found(f"how far {fruit} sinks", "by the table", value, SCALE_SD)
              for fruit, value in queries.settlings().items()]  # fmt: skip
    found += [Found(*_pace_of(step), value, PACE_SD) for step, value in queries.paces().items() if _is_known(step)]
    for oven, heat in queries.ovens_with_learning():
        if heat is not None:
            found.append(Found(f"heat that {oven.name} passes on", "by the table", heat, OVEN_SD))
    for place, learned in queries.places_with_learning():
        if learned.count:
            kind = place_kinds()[place.kind].name
            found.append(Found(f"heat that {place.name} takes", f"as a {kind}", learned, FILM_SD))
    return sorted(found, key=lambda each: each.of)


def start_values() -> dict[str, object]:
    """The start values that a kitchen can replace, from the tables they stand in."""
    asked = questions()
    warming = [*asked["mixing"].options.values(), asked["fat_temperature"].options["creamed"]]
    return {
        "places": list(place_kinds().values()),
        "warming": [option for option in warming if option.friction_k],
        "keeping": queries.keeping_times(),
    }
