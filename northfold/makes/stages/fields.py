"""The fields of steps as a page has them: what can be overridden, as it stands, what was refused."""

from dataclasses import dataclass, field, replace

from northfold.core.bake.kinds import bake_kinds
from northfold.core.fill.mixture import TOP
from northfold.core.heat.conduction import BALL
from northfold.core.method import Plan
from northfold.core.method.advice.plan_says import plan_says
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited
from northfold.core.method.choices.fields import field_of, options
from northfold.core.method.choices.schools import questions
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.passes.halves import is_asked
from northfold.core.method.plan import finishes_of
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.reckon.cold_form import DISC
from northfold.core.method.reckon.mixing import CRUMB, NO_CRUMB, TOGETHER
from northfold.core.method.route.order import may_follow, name_of
from northfold.core.method.route.routes import RouteKind, route_kinds
from northfold.core.method.route.step import Step
from northfold.core.shape.blanks import TRIMMING


@dataclass(frozen=True)
class Refused:
    """A value that was sent and could not be taken, with the reason. It stays in its field."""

    step_key: str
    field: str
    value: str
    error: str


@dataclass(frozen=True)
class Field:
    """One thing to override. `choices` makes it a menu; `edited` tells that it is the maker's own."""

    step_key: str
    name: str
    label: str
    value: str
    unit: str = ""
    choices: dict[str, str] = field(default_factory=dict)
    edited: Edited | None = None
    is_own: bool = False
    error: str = ""
    is_words: bool = False

    @property
    def id(self) -> str:
        return f"{self.step_key}-{self.name}".replace(".", "-").replace(step_keys.OF_ITEM, "-")


class Fields:
    """Makes the fields of one plan, with the refused value in its place."""

    def __init__(self, plan: Plan, refused: Refused | None = None) -> None:
        self.plan, self.refused = plan, refused
        # Whether what was refused stands in its field; one that the page does not show is told elsewhere.
        self.is_told = refused is None
        self.own = {(edit.step_key, edit.field): edit for edit in plan.edits}
        self._products: dict[int, Fields] = {}

    def make(
        self,
        step_key: str,
        name: str,
        value: str,
        *,
        label: str = "",
        choices: dict[str, str] | None = None,
        edited: Edited | None = None,
    ) -> Field:
        """A field by its row, under another label and with other choices where they are said."""
        kind = field_of(step_key, name)
        assert kind is not None, (step_key, name)
        error, kept_at = "", self.plan.key_of(step_key, name)
        if self.refused and (self.refused.step_key, self.refused.field) == (kept_at, name):
            value, error, self.is_told = self.refused.value, self.refused.error, True
        return Field(
            kept_at,
            name,
            label or kind.label,
            value,
            kind.shown_unit,
            kind.options if choices is None else choices,
            edited,
            (step_key, name) in self.own and not step_key.startswith(step_keys.OWN_),
            error,
            kind.is_words,
        )

    def own_or(self, step_key: str, name: str, usual: str) -> Field:
        """A field with the maker's own value, or else the usual."""
        edit = self.own.get((step_key, name))
        return self.make(step_key, name, edit.value if edit else usual)

    def of(self, step: Step) -> tuple["Fields", Step]:
        """The fields of the product that a step is of, and the step as it is there."""
        if step.item < 1 or self.plan.product:
            return self, step
        own = self._products.get(step.item)
        if own is None:
            own = self._products[step.item] = Fields(self.plan.of_item(step.item), self.refused)
        route = own.plan.route
        plain = step_keys.plain(step.key)
        return own, next(each for each in route.steps if each.key == plain) if route else step

    def question(self, key: str) -> Field:
        """The menu of a question on which makers differ."""
        question = questions()[key]
        own = self.own.get((question.step, question.field))
        route = self.plan.route
        habit = self.plan.inputs.worked_in.schools.key(key)
        chosen = route.answer(key) if route else own.value if own else habit
        names = question.names
        if key == "mixing":
            blocks = bool(self.plan.mixing and self.plan.mixing.way == TOGETHER)
            names = {name: text for name, text in names.items() if question.options[name].blocks == blocks}
            names |= {chosen: question.names.get(chosen, chosen)}
        if question.unsaid and not own and key not in dict(self.plan.inputs.schools):
            # Neither this make nor its formula answers: what holds is none of the answers.
            chosen, names = "", {"": question.unsaid, **names}
        if question.unsaid and own:
            names = {"": question.unsaid, **names}
        return self.make(question.step, question.field, chosen, choices=names)

    def questions_of(self, step: Step) -> list[Field]:
        """What makers differ on at a step, as menus; of several products once for all."""
        if step.item > 1:
            return []
        if step.key == step_keys.LINE:
            return [self.trimming()]
        return [self.question(key) for key in self.asked if questions()[key].step == step.key]

    @property
    def form(self) -> str:
        """How the dough is shaped for the cold."""
        own = self.own.get((step_keys.SHAPE, "form"))
        return own.value if own else DISC

    @property
    def kind(self) -> RouteKind | None:
        """How the pieces are worked."""
        return route_kinds().get(self.plan.route.kind) if self.plan.route else None

    @property
    def asked(self) -> list[str]:
        """The questions that this dough raises: without eggs, or without pieces of fat, some do not arise."""
        plan = self.plan
        eggs = any(line.ingredient.role == "egg" and line.grams for line in plan.inputs.lines)
        crumbs = bool(plan.mixing and plan.mixing.verdict != NO_CRUMB)
        flaky = bool(crumbs and plan.mixing and plan.mixing.crumb_mm)
        fats = any(line.ingredient.fat is not None and not line.ingredient.is_oil for line in plan.inputs.lines)
        warmth = fats and bool(plan.mixing and plan.mixing.way == CRUMB)
        kind = self.kind
        raised = {"egg": eggs, "crumb": flaky, "fat_temperature": warmth, "first_rest": bool(kind and kind.rolls)}
        rests = bool(plan.route and plan.route.answer("first_rest") != "none")
        raised["rolling"] = bool(kind and kind.rolls) and rests
        raised["rolled_on"] = bool(kind and kind.rolls)
        shown = {step.key for step in plan.route.steps} if plan.route else set()
        raised |= dict.fromkeys(("docking", "weights"), bool(kind and kind.blind))
        raised["freeze"] = bool(kind and step_keys.FREEZE in kind.steps)
        raised["base"] = bool(kind and step_keys.BAKE_BASE in kind.steps)
        raised |= {"dusted": bool(kind), "torched": any(f is not None and f.of(TOP) for f in plan.filled)}
        raised["heat"] = bool(plan.bake and bake_kinds()[plan.bake.kind].is_filled)
        asked_at = (("rim", step_keys.RIM), ("weights_off", step_keys.WEIGHTS), ("lock_in", step_keys.LOCK))
        raised |= {question: key in shown for question, key in asked_at}
        # Of a laminated dough it is asked under Fold, of another it is the way to have it folded.
        raised["folds"] = fats and not plan.is_laminated
        if plan.is_laminated:
            raised |= {"rolling": False, "rolled_on": False}
        asked_then = plan.route.chosen if plan.route else questions()  # a frozen plan knows no later question
        found = [key for key in questions() if raised.get(key, True) and key in asked_then]
        half, entries = plan.inputs.half, kind.steps if kind else ()
        return [key for key in found if is_asked(half, entries, questions()[key].step)]

    def trimming(self) -> Field:
        kinds = {piece.item.trimming for piece in self.plan.pieces}
        value = kinds.pop() if len(kinds) == 1 else ""
        choices = dict(TRIMMING) if value else {"": "by piece, see Size", **TRIMMING}
        return Field(step_keys.LINE, "trimming", "Trim", value, choices=choices)

    def of_step(self, step: Step) -> list[Field]:
        """What of a step can be overridden."""
        fields, step = self.of(step)
        if fields is not self:
            return self._told(fields, fields.of_step(step))
        marks, bake = {edited.field: edited for edited in step.edits}, self.plan.bake
        found = []
        found += self.put_on(step_keys.GLAZE if step.key in step_keys.GLAZES else step.key)
        if step.key in step_keys.GLAZES:
            found += self.of_glaze()
        # A wait that its maker has set to nothing keeps its field, so that it can be set again.
        if step.is_wait or (step.key, "minutes") in self.own:
            found.append(self.make(step.key, "minutes", f"{step.least_min:g}", edited=marks.get("minutes")))
        kind = kind_of(step.key)
        if kind is None or kind.placed:
            places = {place.key: place.name for place in self.plan.inputs.setting.places}
            if step.key.startswith(step_keys.OWN_):
                places |= {oven.key: oven.name for oven in self.plan.inputs.setting.ovens}
            if step.place_key and step.place_key not in places:
                places = {step.place_key: step.place, **places}
            found.append(self.make(step.key, "place", step.place_key, choices=places, edited=marks.get("place")))
            if step.in_oven:
                found.append(self.make(step.key, "oven_c", f"{step.place_c:g}"))
        if kind and kind.optional:
            found.append(self.skip(step.key, ""))
        if step.key.startswith(step_keys.FILL_):
            found += self.case_filling(bake) if step.key == step_keys.FILL_CASE and bake else self.filling(step)
        found += self.of_mixture(step)
        form = self.form
        if step.key == step_keys.SHAPE:
            found += [self.make(step.key, "form", form), self.own_or(step.key, "parts", "1")]
        if step.key == step_keys.ROLL or (step.key == step_keys.SHAPE and form != BALL):
            thick = self.own_or(step.key, "thickness_mm", plan_says(self.plan, step.key, "thickness_mm"))
            found.append(replace(thick, edited=marks.get("thickness_mm")))
        return found

    def of_glaze(self) -> list[Field]:
        """When a glaze goes on, in how many coats, what is strewn over it."""
        usual = finishes_of(self.plan).glaze.when
        return [
            self.own_or(step_keys.GLAZE, "when", usual),
            self.own_or(step_keys.GLAZE, "coats", "1"),
            replace(
                self.own_or(step_keys.GLAZE, "strew", ""),
                choices={"": "nothing", **options(step_keys.GLAZE, "strew")},
            ),
        ]

    def of_mixture(self, step: Step) -> list[Field]:
        """How a mixture is made, how hot, how long before; how deep it cools."""
        of, marks = step.mixture, {edited.field: edited for edited in step.edits}
        if of is None:
            return []
        if of.depth_mm is not None:
            return [self.make(step.key, "depth_mm", f"{of.depth_mm:g}", edited=marks.get("depth_mm"))]
        if field_of(step.key, "made") is None:
            return []
        found = [self.make(step.key, "made", of.made, edited=marks.get("made"))]
        if of.cook_c is not None:
            found.append(self.make(step.key, "cook_c", f"{of.cook_c:g}", edited=marks.get("cook_c")))
        return [*found, self.own_or(step.key, "ahead_h", "0")]

    def case_filling(self, bake: Bake) -> list[Field]:
        """What a part-baked case is filled with today, how warm, and the oven for that."""
        key = step_keys.FILL_CASE
        inside = bake.second.asked.inside.key if bake.second and bake.second.asked and bake.second.asked.inside else ""
        menu = self.make(key, "inside", inside)
        found = [replace(menu, choices={"": "none today, it is kept", **menu.choices})]
        if bake.second is not None:
            found.append(self.make(key, "inside_c", f"{round(bake.second.put_in_c):g}"))
            found.append(self.make(step_keys.BAKE_FILLED, "oven_c", f"{bake.second.oven_c:g}"))
        return found

    def filling(self, step: Step) -> list[Field]:
        """What a filling is for the oven, and how warm it goes in."""
        bake = self.plan.bake
        if bake is None or bake.asked is None or bake.asked.inside is None:
            return []
        return [
            self.make(step.key, "inside", bake.asked.inside.key),
            self.make(step.key, "inside_c", f"{round(bake.put_in_c):g}"),
        ]

    def _told(self, fields: "Fields", found: list[Field]) -> list[Field]:
        """Fields of one product; what was refused and stands in one of them is told."""
        self.is_told = self.is_told or fields.is_told
        return found

    def is_refused(self, step: Step) -> bool:
        """Whether something of a step that was sent could not be taken."""
        return self.refused is not None and self.refused.step_key == step.key

    def own_hand(self, step: Step) -> list[Field]:
        """What of any step can be made the maker's own: its hands-on minutes, its place in the order, a note."""
        fields, step = self.of(step)
        if fields is not self:
            return self._told(fields, fields.own_hand(step))
        marks = {edited.field: edited for edited in step.edits}
        found = []
        if step.key.startswith(step_keys.OWN_):
            found += [
                self.make(step.key, "name", step.name),
                self.make(step.key, "look", step.look),
            ]
        if step.hands_min or "hands_min" in marks:
            hands = f"{round(step.hands_min, 1):g}"
            found.append(self.make(step.key, "hands_min", hands, edited=marks.get("hands_min")))
        route = self.plan.route
        entry = step.key
        where = may_follow(route.order, entry) if route and entry in route.order else {}
        if route and len(where) > 1:
            before = route.order[route.order.index(entry) - 1]
            found.append(self.make(step.key, "after", before, choices={"": "as suggested", **where}))
        found.append(self.make(step.key, "note", step.note))
        return found

    def put_on(self, step_key: str) -> list[Field]:
        """What is brushed on, where a maker wants something else than the dough allows by itself."""
        chosen = options(step_key, "with")
        if not chosen:
            return []
        own = self.own.get((step_key, "with"))
        usual = getattr(finishes_of(self.plan), step_key).words if own is None else "as suggested"
        return [self.make(step_key, "with", own.value if own else "", choices={"": usual, **chosen})]

    def skip(self, step_key: str, value: str) -> Field:
        """Whether an optional step is done in this make."""
        label = name_of(step_key) if value else ""
        return self.make(step_key, "skip", value, label=label, choices={"": "is done", **options(step_key, "skip")})
