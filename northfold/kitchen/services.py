"""What changes the kitchen: one function for each thing a person does."""

from collections.abc import Sequence
from dataclasses import asdict, replace
from datetime import datetime
from decimal import Decimal
from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from northfold.core import matter
from northfold.core.heat.places import standard_places
from northfold.kitchen import learning
from northfold.kitchen.models import (
    Evidence,
    Ingredient,
    IngredientRevision,
    Kitchen,
    Machine,
    Oven,
    PackPrice,
    Person,
    Place,
    Tin,
)
from northfold.web import audit
from northfold.web.models import User
from northfold.web.permissions import Role


def kitchen() -> Kitchen:
    """The one kitchen of this installation, made when first asked for."""
    return Kitchen.objects.first() or Kitchen.objects.create()


@transaction.atomic
def start_kitchen(*, name: str, full_name: str, username: str, password: str) -> User:
    """
    Make the first account, head of pastry, and a kitchen without tins or formulas.

    It has the reference ingredients, a fridge, a freezer, a bench and an oven to begin with.
    """
    found = kitchen()
    found.name = name
    found.save()
    load_reference_ingredients()
    for place in standard_places():
        save_row(Place(), {"name": place.name, "kind": place.kind, "air_c": place.air_c})
    save_row(Oven(), {"name": "Oven"})
    head = add_person(name=full_name, role=Role.HEAD, username=username, password=password).user
    assert head is not None  # whoever has a password has an account
    return head


@transaction.atomic
def load_reference_ingredients() -> int:
    """Add every ingredient of the reference table that the kitchen lacks; says how many."""
    have = set(Ingredient.objects.values_list("name", flat=True))
    new = [item for item in matter.reference_ingredients().values() if item.name not in have]
    for item in new:
        revise_ingredient(Ingredient.objects.create(name=item.name, aliases=list(item.aliases)), item)
    return len(new)


def _rounded(item: matter.Ingredient) -> matter.Ingredient:
    """An ingredient with its fractions to a thousandth of a percent, as its form shows them."""
    parts = {name: round(value, 5) for name, value in asdict(item.composition).items()}
    return replace(item, composition=matter.Composition(**parts), salt_fraction=round(item.salt_fraction, 5))


def revise_ingredient(ingredient: Ingredient, item: matter.Ingredient) -> IngredientRevision:
    """Write down what an ingredient is made of from now on."""
    fields = asdict(item)
    for name in ("name", "aliases"):
        del fields[name]
    return IngredientRevision.objects.create(ingredient=ingredient, **fields)


@transaction.atomic
def save_ingredient(ingredient: Ingredient | None, item: matter.Ingredient) -> Ingredient:
    """Put a new ingredient on the shelf, or write down what a known one is from now on. Saved formulas do not move."""
    if ingredient is None:
        ingredient = Ingredient(name=item.name)
    ingredient.name, ingredient.aliases = item.name, list(item.aliases)
    ingredient.save()
    newest = ingredient.revisions.first()
    if newest is None or _rounded(replace(newest.matter, name=item.name, aliases=item.aliases)) != _rounded(item):
        revise_ingredient(ingredient, item)
    return ingredient


@transaction.atomic
def price_pack(ingredient: Ingredient, *, price: Decimal | None, pack_g: float | None, waste: float = 0.0) -> None:
    """Write down what a pack costs from now on; without both numbers, or with the same ones, nothing changes."""
    if price is None or pack_g is None:
        return
    known = ingredient.prices.first()
    if known is None or (known.price, known.pack_g, known.waste) != (price, pack_g, waste):
        PackPrice.objects.create(ingredient=ingredient, price=price, pack_g=pack_g, waste=waste)


def open_account(name: str, role: str, username: str, password: str, *, is_given: bool) -> User:
    """An account; without a password nobody signs in to it until the head gives one."""
    first, _, last = name.partition(" ")
    user = get_user_model().objects.create_user(
        username, password=password or None, first_name=first, last_name=last, role=role, must_change_password=is_given
    )
    audit.record(audit.Kind.OPENED, f"{user.called}, {user.role}")
    return user


@transaction.atomic
def add_person(*, name: str, role: str = "", username: str = "", password: str = "", is_given: bool = False) -> Person:
    """
    Add somebody, with an account where a sign-in name is given.

    `is_given`: the password was chosen by somebody else, so it is changed at the first sign-in.
    """
    user = open_account(name, role, username, password, is_given=is_given) if username else None
    return Person.objects.create(name=name, user=user)


@transaction.atomic
def change_person(
    person: Person, *, name: str, role: str = "", username: str = "", password: str = "", is_given: bool = False
) -> Person:
    """Change a person's name, role or password, or give them an account. A new password signs them out everywhere."""
    person.name = name
    user = person.user
    if user:
        user.first_name, _, user.last_name = name.partition(" ")
        if role != user.role:
            audit.record(audit.Kind.ROLE, f"{user.called}: {user.role} to {role}")
            user.role = role
        if password:
            user.set_password(password)
            user.must_change_password = is_given
            audit.record(audit.Kind.PASSWORD_GIVEN, f"to {user.called}")
        user.save()
    elif username:
        person.user = open_account(name, role, username, password, is_given=is_given)
    person.save()
    return person


@transaction.atomic
def set_hours(person: Person, *, from_min: int | None, to_min: int | None, does: Sequence[str]) -> None:
    """Say from when to when somebody is here [min of the day], None for the kitchen's hours, and which work they do."""
    person.from_min, person.to_min, person.does = from_min, to_min, list(does)
    person.save(update_fields=["from_min", "to_min", "does"])


@transaction.atomic
def bin_person(person: Person) -> None:
    """Put a person into the bin and close their account."""
    person.put_in_bin()
    if person.user:
        person.user.is_active = False
        person.user.save(update_fields=["is_active"])


@transaction.atomic
def set_at_work(person: Person, *, is_here: bool) -> None:
    """Say whether somebody works at the bench today: as many share the trips of a make."""
    person.at_work = is_here
    person.save(update_fields=["at_work"])


@transaction.atomic
def restore_person(person: Person) -> None:
    person.put_back()
    if person.user:
        person.user.is_active = True
        person.user.save(update_fields=["is_active"])


# What is written by its checked values alone.
Row = Tin | Place | Oven | Machine | Kitchen


@transaction.atomic
def save_row(row: Row, values: dict[str, Any]) -> Any:
    """Write the checked values of a tin, a place, an oven, a mixer or the kitchen itself."""
    for field, value in values.items():
        setattr(row, field, value)
    row.save()
    if isinstance(row, Place):
        learning.relearn_place(row)
    return row


@transaction.atomic
def note_room(room_c: float, at: datetime | None = None) -> None:
    """Today the room is as warm as a sensor has it: the plans of today go by it, until the day is over. [°C]"""
    found = kitchen()
    found.day_room_c, found.day_room_at = room_c, at or timezone.now()
    found.save(update_fields=["day_room_c", "day_room_at"])


def record_evidence(*, supersedes: Evidence | None = None, **values: Any) -> Evidence:
    """Keep what was measured, and what it teaches; a correction names the evidence it takes the place of."""
    evidence = Evidence.objects.create(supersedes=supersedes, **values)
    learning.take_in(evidence)
    return evidence
