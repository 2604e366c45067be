"""What changes formulas: drafts are opened, edited, saved as versions, thrown away; formulas go to the bin and back."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from django.db import transaction

from northfold.core.errors import CoreError
from northfold.core.fill.mixture import DOUGH, MIXTURE, MixtureTooEmpty, mixture_kinds
from northfold.core.formula.families import families
from northfold.core.version import CORE_VERSION
from northfold.dough import editing
from northfold.dough.files import coming, uuid_of
from northfold.dough.mixtures import Group, groups_of, numbered
from northfold.dough.models import Draft, Formula, FormulaVersion, Line, VersionFacts
from northfold.dough.queries import desk_of, holds, mixtures_for, revisions_for, tagged
from northfold.dough.rows import Desk, Payload
from northfold.formats.formula import FormulaFile
from northfold.kitchen.models import Ingredient, IngredientRevision
from northfold.kitchen.queries import shelf
from northfold.kitchen.services import kitchen, save_ingredient
from northfold.web.models import User


@dataclass
class StaleEdit(Exception):
    """Somebody, or another tab, was here first. Holds both texts, so that nothing is lost."""

    mine: Payload
    theirs: Payload
    why: str


class NotReady(CoreError):
    """A draft cannot be saved as it stands."""

    code = "not_ready"


def open_draft(user: User, formula: Formula | None, newest: FormulaVersion | None = None) -> Draft:
    """
    The draft of this editor for this formula; a new one opens as the newest version stands.

    `newest` is that version, where it was read already. Nothing is written, or waited for, where the draft holds.
    """
    newest = newest or (formula.newest if formula else None)
    draft = Draft.objects.select_related("base_version__author").filter(user=user, formula=formula).first()
    if draft is not None and (newest is None or draft.base_version_id == newest.pk or draft.is_changed):
        return draft
    with transaction.atomic():
        return _begin_draft(user, formula)


def _begin_draft(user: User, formula: Formula | None) -> Draft:
    draft = Draft.objects.select_related("base_version").filter(user=user, formula=formula).first()
    newest = formula.newest if formula else None
    if draft is None:
        payload = newest.payload if newest else editing.empty_payload(kitchen().measuring_system)
        return Draft.objects.create(user=user, formula=formula, base_version=newest, payload=payload)
    if newest and draft.base_version_id != newest.pk and not draft.is_changed:
        # Nothing of its own is in it, so it may follow the newest version.
        draft.base_version, draft.payload, draft.edit_no = newest, newest.payload, draft.edit_no + 1
        draft.save()
    return draft


def _checked(user: User, formula: Formula | None, edit_no: int, mine: Payload) -> Draft:
    """The draft, if it is still what this edit was made on; else StaleEdit."""
    draft = open_draft(user, formula)
    if draft.edit_no != edit_no and draft.payload != mine:  # the same text twice is no conflict
        raise StaleEdit(mine, draft.payload, "This dough was changed in another window after you opened it here.")
    newest = formula.newest if formula else None
    if newest and draft.base_version_id != newest.pk:
        who = newest.author.called if newest.author else "Somebody"
        raise StaleEdit(mine, newest.payload, f"{who} saved version {newest.n} while you were editing.")
    return draft


@transaction.atomic
def edit_draft(user: User, formula: Formula | None, edit_no: int, payload: Payload) -> Draft:
    """Keep what an editor typed. Raises StaleEdit where the draft, or the newest version, has moved on."""
    draft = _checked(user, formula, edit_no, payload)
    if payload != draft.payload:
        draft.payload = payload
        draft.edit_no += 1
        draft.save()
    return draft


@transaction.atomic
def resolve_stale(user: User, formula: Formula | None, payload: Payload | None) -> Draft:
    """After a stale edit: go on with `payload` on top of the newest version, or, with None, with what is there."""
    draft = open_draft(user, formula)
    newest = formula.newest if formula else None
    if payload is not None:
        draft.payload = payload
    elif newest and draft.base_version_id != newest.pk:
        draft.payload = newest.payload
    draft.base_version = newest
    draft.edit_no += 1
    draft.save()
    return draft


@transaction.atomic
def discard_draft(user: User, formula: Formula | None) -> Payload:
    """Throw away what is not saved; answers it, so that it can be put back."""
    draft = open_draft(user, formula)
    thrown = draft.payload
    newest = formula.newest if formula else None
    draft.payload = newest.payload if newest else editing.empty_payload(kitchen().measuring_system)
    draft.base_version = newest
    draft.edit_no += 1
    draft.save()
    return thrown


@transaction.atomic
def open_recipe(user: User, name: str, text: str, kind: str = DOUGH) -> Payload | None:
    """
    Put a recipe from elsewhere onto the editor's desk as a new formula; answers what stood there, None for nothing.

    Raises PasteTooLong where it is longer than one recipe can be.
    """
    draft = open_draft(user, None)
    stood = draft.payload if draft.payload["lines"] else None
    draft.payload = _payload_of(name, text, kind)
    draft.edit_no += 1
    draft.save()
    return stood


@transaction.atomic
def save_recipes(user: User, recipes: Sequence[tuple[str, str, str]]) -> list[FormulaVersion]:
    """
    Keep recipes from elsewhere as formulas, all of them or none: of each its name, its text, its kind.

    One of a name that there is already gets a number behind it. Raises NotReady where a line is not settled, CoreError
    where one of them is no recipe.
    """
    taken, found = set(Formula.objects.values_list("name", flat=True)), []
    for name, text, kind in recipes:
        payload = _payload_of(name, text, kind)
        payload["name"] = numbered(payload["name"] or "Recipe", taken)
        taken.add(payload["name"])
        desk = _ready(Draft(user=user, payload=payload))
        formula = Formula.objects.create(name=payload["name"], kind=kind)
        found.append(_write_version(user, formula, None, desk))
    return found


@transaction.atomic
def take_file(user: User, file: FormulaFile) -> FormulaVersion:
    """
    Keep a formula file: as a new formula, or as the next version of the one that has its id; nothing where it is there.

    Ingredients that the kitchen lacks come onto its shelf, mixtures that are in it into the book. Raises BadFile where
    an ingredient is known to nobody, NotReady where it makes no formula.
    """
    named = {each.name: take_file(user, each).formula.name for each in file.mixtures}
    known = shelf()
    for each in file.ingredients:
        if each.name not in known:
            save_ingredient(None, each.core)
    found = coming(file)
    if found.is_same and found.of is not None:
        return found.of.newest
    payload = found.payload
    for line in payload["lines"]:
        if line["kept"] and line["kept"]["ingredient"] in named:
            line["kept"]["ingredient"] = named[line["kept"]["ingredient"]]
    base = found.of.newest if found.of else None
    if found.of is None:
        payload["name"] = numbered(payload["name"], set(Formula.objects.values_list("name", flat=True)))
    desk = _ready(Draft(user=user, formula=found.of, base_version=base, payload=payload))
    formula = found.of or Formula(kind=payload["kind"])
    formula.name, formula.tags = payload["name"], editing.tags_of(payload["tags"])
    known_as = uuid_of(file.id)
    if found.of is None and known_as and not Formula.objects.filter(uuid=known_as).exists():
        formula.uuid = UUID(known_as)
    formula.save()
    return _write_version(user, formula, base, desk)


@transaction.atomic
def duplicate(user: User, formula: Formula) -> FormulaVersion:
    """The newest version of a formula as the first of another one, with the figures that it was weighed with."""
    newest = formula.newest
    taken = set(Formula.objects.values_list("name", flat=True))
    name = numbered(f"{formula.name[:100]}, copy", taken)
    note = f"A copy of {formula.name}, version {newest.n}."
    payload = {**newest.payload, "name": name, "note": note[:300]}
    made = Formula.objects.create(name=name, kind=formula.kind, tags=formula.tags)
    version = FormulaVersion.objects.create(
        formula=made, n=1, author=user, note=payload["note"], source_text=newest.source_text, schools=newest.schools,
        payload={**payload, "note": ""},
    )  # fmt: skip
    _copy_lines(newest, version)
    write_facts(version)
    return version


def _copy_lines(of: FormulaVersion, version: FormulaVersion, anew: IngredientRevision | None = None) -> None:
    """The lines of a version as those of another one; those of one ingredient with what is known of it `anew`."""
    copied = []
    for line in of.weighed:
        known = line.ingredient_revision
        if known is not None and anew is not None and known.ingredient_id == anew.ingredient_id:
            known = anew
        copied.append(
            Line(
                version=version, position=line.position, ingredient_revision=known, of_mixture=line.of_mixture,
                low_g=line.low_g, usual_g=line.usual_g, high_g=line.high_g, as_written=line.as_written, prep=line.prep,
            )
        )  # fmt: skip
    Line.objects.bulk_create(copied)


def _payload_of(name: str, text: str, kind: str) -> Payload:
    empty = {**editing.empty_payload(kitchen().measuring_system, kind), "name": " ".join(name.split())[:120]}
    return editing.clean_payload(editing.paste(empty, text.replace("\x00", ""), shelf()))


def _ready(draft: Draft) -> Desk:
    payload = draft.payload
    desk = desk_of(payload, draft.base_version)
    if not payload["name"]:
        raise NotReady("Give it a name, then save it.")
    if desk.unsettled:
        row = desk.unsettled[0]
        raise NotReady(
            f"“{row.text[:60]}” is not settled yet: {row.error or 'choose its ingredient and grams, or leave it out.'}"
        )
    if desk.mixture is not None:
        if desk.mixture.grams <= 0:
            raise MixtureTooEmpty(payload["name"])
    elif desk.plan.ratio is None:
        raise NotReady(desk.plan.problems[0].message)
    return desk


@transaction.atomic
def save_version(user: User, formula: Formula | None, edit_no: int) -> FormulaVersion:
    """
    Make the next immutable version from an editor's draft; the first one makes the formula.

    Raises StaleEdit as `edit_draft`, NotReady where a line is unsettled, the name or all flour is missing.
    """
    draft = open_draft(user, formula)
    draft = _checked(user, formula, edit_no, draft.payload)
    desk = _ready(draft)
    base = draft.base_version
    if base and not draft.is_changed:
        return base
    formula = formula or Formula()
    formula.name, formula.tags = draft.payload["name"], editing.tags_of(draft.payload["tags"])
    formula.kind = draft.payload["kind"]
    formula.save()
    version = _write_version(user, formula, base, desk)
    if draft.formula_id:
        draft.base_version, draft.payload = version, version.payload
        draft.edit_no += 1
        draft.save()
    else:
        draft.delete()
    return version


def _write_version(user: User, formula: Formula, base: FormulaVersion | None, desk: Desk) -> FormulaVersion:
    """A settled desk as the next version of its formula, with its lines and its facts."""
    revisions = revisions_for(base)
    version = FormulaVersion.objects.create(
        formula=formula,
        n=base.n + 1 if base else 1,
        parent=base,
        author=user,
        note=desk.payload["note"],
        source_text=editing.source_text(desk.payload),
        schools=dict(desk.schools),
        payload=editing.keep_readings(desk),
    )
    mixtures = mixtures_for(formula) if desk.mixture is not None else {}
    Line.objects.bulk_create(
        Line(
            version=version,
            position=position,
            ingredient_revision=None if line.ingredient.role == MIXTURE else revisions[line.ingredient.name],
            of_mixture=mixtures[line.ingredient.name] if line.ingredient.role == MIXTURE else None,
            low_g=line.grams_low,
            usual_g=line.grams,
            high_g=line.grams_high,
            as_written=line.as_written,
            prep=line.preparation,
        )
        for position, line in enumerate(desk.lines)
    )
    write_facts(version)
    return version


@transaction.atomic
def part_out(user: User, formula: Formula | None, edit_no: int) -> list[FormulaVersion]:
    """
    Keep what a recipe has beside its dough, heading by heading, as mixtures of their own; their lines leave the draft.

    Raises StaleEdit as `edit_draft`, NotReady where nothing stands beside the dough, or a line of it is not settled.
    """
    draft = open_draft(user, formula)
    draft = _checked(user, formula, edit_no, draft.payload)
    groups = groups_of(desk_of(draft.payload, draft.base_version))
    if not groups:
        raise NotReady("There are no lines for a filling, topping or glaze that could be kept as mixtures.")
    saved = [_save_mixture(user, draft, group) for group in groups]
    gone = {line["id"] for group in groups for line in group.lines}
    left = [line for line in draft.payload["lines"] if line["id"] not in gone]
    draft.payload = {**draft.payload, "lines": left}
    draft.edit_no += 1
    draft.save()
    return saved


def stands_beside(mixture: Formula, dough: Formula | None) -> None:
    """That a mixture belongs to the recipe of a dough, where it is offered first; None takes it away again."""
    mixture.beside = dough
    mixture.save(update_fields=["beside"])


def _save_mixture(user: User, draft: Draft, group: Group) -> FormulaVersion:
    """The first version of a mixture from lines of a draft."""
    payload = group.payload(draft.payload, taken=set(Formula.objects.values_list("name", flat=True)))
    desk = desk_of(payload, None)
    if desk.unsettled:
        raise NotReady(
            f"“{desk.unsettled[0].text[:60]}” of {payload['name']} is not settled yet: give its grams and its "
            "ingredient first, or leave it out."
        )
    assert desk.mixture is not None
    if desk.mixture.grams <= 0:
        raise MixtureTooEmpty(payload["name"])
    formula = Formula.objects.create(name=payload["name"], kind=payload["kind"], beside=draft.formula)
    return _write_version(user, formula, None, desk)


def write_facts(version: FormulaVersion) -> VersionFacts:
    """Compute, or compute again, what the book's lists show of a version."""
    if not version.formula.is_dough:
        return _write_mixture_facts(version)
    from northfold.core.method import PlanInputs, plan

    planned = plan(PlanInputs(version.dough_lines(), apart=version.part_lines(), counting=version.counting))
    ratio = planned.ratio
    assert ratio is not None, "a version is only saved with a ratio"
    best = planned.fits[0] if planned.fits and planned.fits[0].inside else None
    names = [line.ingredient.name for line in planned.inputs.lines]
    held = list(dict.fromkeys(each.allergen for each in planned.held))
    facts, _ = VersionFacts.objects.update_or_create(
        version=version,
        defaults={
            "formula": version.formula,
            "name": version.formula.name,
            "rank": [family.key for family in families()].index(best.family.key) if best else len(families()),
            "is_newest": not version.formula.versions.filter(n__gt=version.n).exists(),
            "core_version": CORE_VERSION,
            "family_key": best.family.key if best else "own",
            "family": best.family.name if best else "your own",
            "parts": " : ".join(map(str, ratio.parts)),
            "fat": ratio.fat,
            "liquid": ratio.liquid,
            "true_fat": ratio.true_fat,
            "true_water": ratio.true_water,
            "allergens": held,
            "words": " ".join(
                [
                    version.formula.name,
                    best.family.name if best else "",
                    version.note,
                    *names,
                    *(holds(allergen) for allergen in held),
                    *(tagged(tag) for tag in version.formula.tags),
                ]
            ).lower(),
        },
    )
    return _marked_newest(facts)


def _write_mixture_facts(version: FormulaVersion) -> VersionFacts:
    """What the lists show of a mixture: its kind in the place of a family, behind all doughs."""
    mixture, kinds = version.mixture, list(mixture_kinds())
    name = mixture.of_kind.name
    held = list(mixture.holds)
    facts, _ = VersionFacts.objects.update_or_create(
        version=version,
        defaults={
            "formula": version.formula,
            "name": version.formula.name,
            "rank": len(families()) + 1 + kinds.index(mixture.kind),
            "is_newest": not version.formula.versions.filter(n__gt=version.n).exists(),
            "core_version": CORE_VERSION,
            "family_key": mixture.kind,
            "family": name,
            "parts": "–",
            "fat": 0.0,
            "liquid": 0.0,
            "true_fat": 100 * mixture.composition.fat,
            "true_water": 100 * mixture.composition.water,
            "allergens": held,
            "words": " ".join(
                [
                    version.formula.name,
                    name,
                    version.note,
                    *(line.ingredient.name for line in mixture.lines),
                    *(holds(allergen) for allergen in held),
                    *(tagged(tag) for tag in version.formula.tags),
                ]
            ).lower(),
        },
    )
    return _marked_newest(facts)


def _marked_newest(facts: VersionFacts) -> VersionFacts:
    """Where these are a newer version’s, no older one of its formula is the newest."""
    if facts.is_newest:
        older = VersionFacts.objects.filter(formula=facts.formula, is_newest=True)
        older.exclude(pk=facts.pk).update(is_newest=False)
    return facts


def renew_facts(**_: object) -> int:
    """
    Compute again what the lists show of versions that an older core wrote down, or nobody; says of how many.

    Runs whenever the data is brought up to date.
    """
    stale = FormulaVersion.objects.exclude(facts__core_version=CORE_VERSION).select_related("formula")
    for version in stale:
        write_facts(version)
    return len(stale)


@transaction.atomic
def renew_version(user: User, formula: Formula, ingredient: Ingredient) -> FormulaVersion:
    """The next version of a formula: the same lines, with what is known of one ingredient now."""
    base = formula.newest
    version = FormulaVersion.objects.create(
        formula=formula, n=base.n + 1, parent=base, author=user, source_text=base.source_text, payload=base.payload,
        schools=base.schools,
        note=f"With the new figures of {ingredient.name}.",
    )  # fmt: skip
    _copy_lines(base, version, ingredient.revisions.latest("pk"))
    write_facts(version)
    return version


@transaction.atomic
def restore_version(user: User, version: FormulaVersion) -> Draft:
    """
    Put an older version's lines into the editor's draft of its formula, to be looked at and saved as the next version.

    What the draft held before comes back by throwing the changes away.
    """
    draft = open_draft(user, version.formula)
    kept = {key: draft.payload[key] for key in ("name", "tags") if key in draft.payload}
    payload = {**version.payload, **kept, "note": f"As version {version.n} again."}
    return edit_draft(user, version.formula, draft.edit_no, payload)


def bin_formula(formula: Formula) -> None:
    """Put a formula into the bin. Makes of it keep their version."""
    formula.put_in_bin()


def restore_formula(formula: Formula) -> None:
    formula.put_back()
