"""The kitchen's own methods: overrides of a make kept under a name, taken by others, and what they come to in words."""

from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from northfold.core.method import Edit, Plan
from northfold.core.method.advice.plan_says import plan_says
from northfold.core.method.choices.fields import ORDER, field_named, field_of
from northfold.core.method.choices.schools import questions
from northfold.core.method.route.order import name_of
from northfold.core.method.route.routes import route_kinds
from northfold.makes.models import Make, Method, MethodEdit
from northfold.makes.queries import edits_of, plan_of
from northfold.makes.services import allowed_words, set_edits, to_change
from northfold.web.models import User


@dataclass(frozen=True)
class Difference:
    """One override in words: of which step, what, how it is, and what the plan suggests."""

    step: str
    what: str
    is_so: str
    suggested: str


def _lasting(edits: tuple[Edit, ...]) -> list[Edit]:
    return [edit for edit in edits if not _is_of_the_day(edit)]


def _is_of_the_day(edit: Edit) -> bool:
    """Whether it hangs on the day and not on the method: how warm things are, and what the bowl weighs."""
    kind = field_named(edit.field)
    return kind is not None and kind.of_the_day


@transaction.atomic
def save_method(user: User, make: Make, name: str, *, is_usual: bool) -> Method | None:
    """Keep a make's overrides as a method of its route; one of the same name and route takes them instead."""
    # Of several products the one that everything goes by.
    plan = plan_of(make).leading
    route = plan.route
    if route is None:
        return None
    method, _ = Method.objects.update_or_create(
        name=name.strip()[:60], kind=route.kind, binned_at=None, defaults={"author": user}
    )
    method.edits.all().delete()
    values = [
        MethodEdit(method=method, step_key=edit.step_key, field=edit.field, value=edit.value)
        for edit in _lasting(plan.edits)
    ]
    MethodEdit.objects.bulk_create(values)
    set_usual(method, is_usual=is_usual)
    return method


@transaction.atomic
def set_usual(method: Method, *, is_usual: bool) -> None:
    """Let new makes of its route start with a method, or not; one of a route at most."""
    if is_usual:
        Method.objects.filter(kind=method.kind).exclude(pk=method.pk).update(is_usual=False)
    method.is_usual = is_usual
    method.save(update_fields=["is_usual"])


@transaction.atomic
def use_method(user: User, make: Make, method: Method | None) -> list[Edit]:
    """
    Work a make by a method, or as the plan suggests; what its own overrides were.

    What hangs on the day stays as it is. Raises StartedMake once it has started.
    """
    make = to_change(make)
    was = edits_of(make)
    of_the_day = [edit for edit in was if _is_of_the_day(edit)]
    plain = plan_of(make, edits=tuple(of_the_day))
    wanted = method.edits.all() if method else ()
    taken = [
        Edit(each.step_key, each.field, each.value, plan_says(plain, each.step_key, each.field)[:40]) for each in wanted
    ]
    set_edits(user, make, [*of_the_day, *taken], instead=True)
    return list(was)


def start_as_usual(user: User, make: Make) -> None:
    """A new make takes the usual method of its route, where there is one."""
    route = plan_of(make).route
    usual = Method.objects.kept().filter(kind=route.kind, is_usual=True).first() if route else None
    if usual is not None:
        use_method(user, make, usual)


def methods_for(plan: Plan) -> list[Method]:
    """The kept methods of a plan's route."""
    return list(Method.objects.kept().filter(kind=plan.route.kind).prefetch_related("edits")) if plan.route else []


def method_in_use(plan: Plan, methods: list[Method]) -> Method | None:
    """The method whose overrides are just those of a plan."""
    own = {(edit.step_key, edit.field, edit.value) for edit in _lasting(plan.edits)}
    return next(
        (each for each in methods if {(e.step_key, e.field, e.value) for e in each.edits.all()} == own and own), None
    )


@dataclass(frozen=True)
class MethodRow:
    """A method in the list: its route in words, and what it does otherwise."""

    method: Method
    route: str
    differences: list[Difference]


def method_rows() -> list[MethodRow]:
    """All kept methods."""
    kinds = route_kinds()
    return [
        MethodRow(each, kinds[each.kind].name, in_words(tuple(_edits(each)), None))
        for each in Method.objects.kept().prefetch_related("edits")
        if each.kind in kinds
    ]


def binned_methods() -> list[Method]:
    return list(Method.objects.binned(timezone.now()))


def _edits(method: Method) -> list[Edit]:
    return [Edit(each.step_key, each.field, each.value) for each in method.edits.all()]


def in_words(edits: tuple[Edit, ...], plan: Plan | None) -> list[Difference]:
    """Overrides in words, one for each step of a maker's own; what the plan would say only where there is a plan."""
    own_names = {edit.step_key: edit.value for edit in edits if edit.field == "name"}
    said = []
    for edit in _lasting(edits):
        step = own_names.get(edit.step_key) or name_of(edit.step_key)
        if edit.step_key in own_names:
            if edit.field == "name":
                said.append(Difference(step, "your own step", _own_minutes(edits, edit.step_key), ""))
            continue
        what, shown = _field_in_words(edit, plan)
        suggested = _suggested(edit, plan) if plan else ""
        said.append(Difference(step, what, shown, suggested))
    return said


def _own_minutes(edits: tuple[Edit, ...], key: str) -> str:
    values = {edit.field: edit.value for edit in edits if edit.step_key == key}
    parts = [(values.get("hands_min"), "min hands on"), (values.get("minutes"), "min waiting")]
    return ", ".join(f"{value} {words}" for value, words in parts if value and value != "0") or "no minutes"


def _field_in_words(edit: Edit, plan: Plan | None) -> tuple[str, str]:
    """What an override is of, and its value as it is read."""
    kind = field_of(edit.step_key, edit.field)
    if kind is None:
        return edit.field.replace("_", " "), edit.value
    if kind.choose == ORDER:
        return kind.said, name_of(edit.value)
    chosen = allowed_words(kind, plan.inputs.setting, edit.step_key) if plan else kind.options
    if kind.is_words:
        return kind.said, f"“{edit.value}”"
    return kind.said, f"{chosen.get(edit.value, edit.value)} {kind.shown_unit}".strip()


def _suggested(edit: Edit, plan: Plan) -> str:
    """What the plan would say: the habit for a question, what it says now or said then for the rest."""
    for question in questions().values():
        if (question.step, question.field) == (edit.step_key, edit.field):
            return plan.inputs.worked_in.schools.option(question.key).name
    kind = field_of(edit.step_key, edit.field)
    if kind is None or kind.is_words or edit.field == "skip":
        return ""
    step = next((each for each in plan.route.steps if each.key == edit.step_key), None) if plan.route else None
    mark = next((each for each in step.edits if each.field == edit.field), None) if step else None
    return mark.plan_says if mark else edit.replaced
