"""The kitchen as a file: the whole of it, or a make with all that it needs."""

from collections.abc import Iterable

from django.db.models import Count, Sum
from django.db.models.functions import Length
from django.utils import timezone

from northfold.bench.whole import taps_out
from northfold.day.whole import levels_out, made_for_out, orders_out
from northfold.dough.models import Formula, Line
from northfold.dough.whole import book_out, drafts_out
from northfold.exchange.models import Reading
from northfold.formats.kitchen import KitchenFile, MakeFile
from northfold.kitchen import whole as kitchen
from northfold.makes.models import Make
from northfold.makes.whole import keys_out, makes_out, methods_out
from northfold.records.models import Photo
from northfold.records.whole import notes_out, results_out
from northfold.stock.whole import lots_out
from northfold.web.whole import row_file


def whole(makes: Iterable[int] | None = None, *, with_photos: bool = False) -> KitchenFile:
    """Everything that the kitchen keeps; of its makes only those of these numbers, where they are told."""
    keys = keys_out()
    evidence = list(kitchen.evidence_out(keys))
    ids = {number: each.id for number, each in evidence}
    return KitchenFile(
        written_at=timezone.now(),
        settings=kitchen.settings_out(),
        accounts=tuple(kitchen.accounts_out()),
        people=tuple(kitchen.people_out()),
        ingredients=tuple(kitchen.shelf_out()),
        places=tuple(kitchen.plain_out("places")),
        ovens=tuple(kitchen.plain_out("ovens")),
        mixers=tuple(kitchen.plain_out("mixers")),
        tins=tuple(kitchen.plain_out("tins")),
        book=tuple(book_out()),
        drafts=tuple(drafts_out()),
        methods=tuple(methods_out(keys)),
        makes=tuple(
            row_file(
                MakeFile, make, (), taps=taps_out(make, keys), results=results_out(make, ids),
                notes=notes_out(make, with_photos=with_photos), made_for=made_for_out(make), **told,
            )
            for make, told in makes_out(keys, makes)
        ),
        lots=tuple(lots_out(keys)),
        orders=tuple(orders_out()),
        levels=tuple(levels_out()),
        evidence=tuple(each for _, each in evidence),
    )  # fmt: skip


def make_alone(make: Make) -> KitchenFile:
    """
    A make as it is meant, with what it needs and no more: its dough and mixtures, their ingredients, its tins.

    Without what happened to it: read in elsewhere, or here again without its id, it is planned anew.
    """
    keys = keys_out()
    formulas = _with_mixtures({make.formula_version.formula_id} | _laid(make))
    lines = Line.objects.filter(version__formula__in=formulas, ingredient_revision__isnull=False)
    shelf = set(lines.values_list("ingredient_revision__ingredient", flat=True))
    (_, told), *_ = makes_out(keys, [make.pk])
    planned = {**told, "state": Make.State.PLANNED, "plans": (), "on_hand_g": 0.0}
    planned["items"] = [
        item.model_copy(
            update={"layers": tuple(each.model_copy(update={"on_hand_g": 0.0}) for each in item.layers)}
        )
        for item in told["items"]
    ]  # fmt: skip
    return KitchenFile(
        ingredients=tuple(kitchen.shelf_out(shelf)),
        places=tuple(kitchen.plain_out("places")),
        ovens=tuple(kitchen.plain_out("ovens")),
        tins=tuple(kitchen.plain_out("tins", make.items.values_list("tin", flat=True))),
        book=tuple(book_out(formulas)),
        makes=(MakeFile(id=str(make.uuid), **planned),),
    )


def _laid(make: Make) -> set[int]:
    return set(make.items.filter(layers__isnull=False).values_list("layers__version__formula", flat=True))


def _with_mixtures(formulas: set[int]) -> set[int]:
    """Formulas with those that their lines are made of, and whose recipe they were in."""
    found, new = set[int](), formulas
    while new:
        found |= new
        inside = Line.objects.filter(version__formula__in=new, of_mixture__isnull=False)
        beside = Formula.objects.filter(pk__in=new, beside__isnull=False).values_list("beside", flat=True)
        new = (set(inside.values_list("of_mixture__formula", flat=True)) | set(beside)) - found
    return found


def readings() -> list[Reading]:
    """What was read in, the latest first."""
    return list(Reading.objects.filter(taken_at__isnull=False).select_related("by")[:20])


def photos() -> tuple[int, float]:
    """How many pictures are kept, and how much they take in a file. [MB]"""
    sizes = Photo.objects.aggregate(many=Count("pk"), whole=Sum(Length("jpeg")))
    return sizes["many"], (sizes["whole"] or 0) * 4 / 3 / 1e6
