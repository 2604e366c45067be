"""Pages of the kitchen."""

import re
from typing import Any, cast

from django.contrib import messages
from django.contrib.auth import get_user_model
from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from northfold.core.matter.fats import fat_curve
from northfold.core.shape import outlines, tins
from northfold.kitchen import queries, reckoning, services
from northfold.kitchen.forms import MachineForm, OvenForm, PersonForm, PlaceForm, SettingsForm, TinForm
from northfold.kitchen.ingredient_form import IngredientForm
from northfold.kitchen.models import Evidence, Ingredient, Machine, Oven, Person, Place, Tin
from northfold.web.accounts import first_code, sessions
from northfold.web.accounts.entering import enter
from northfold.web.forms import FirstCodeForm, StartForm
from northfold.web.links import way_back
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo


@login_not_required
def start(request: SignedIn) -> HttpResponse:
    """The first visitor makes an account and an empty kitchen; afterwards this page does not exist."""
    if get_user_model().objects.exists():
        raise Http404
    form = StartForm(request.POST or None, is_code_asked=first_code.is_asked(request))
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        user = services.start_kitchen(
            name=data["kitchen"], full_name=data["full_name"], username=data["username"], password=data["password"]
        )
        first_code.forget()
        enter(request, user)
        return redirect("makes:list")
    return start_page(request, form=form, status=422 if form.errors else 200)


def start_page(request: SignedIn, *, form: StartForm | None = None, demo: Any = None, status: int) -> HttpResponse:
    """The first page, with its two ways to begin."""
    is_asked = first_code.is_asked(request)
    if is_asked:
        first_code.code()  # printed at the latest now
    context = {
        "form": form or StartForm(is_code_asked=is_asked),
        "demo": demo or FirstCodeForm(is_code_asked=is_asked, prefix="demo"),
    }
    return render(request, "kitchen/start.html", context, status=status)


@needs("edit_kitchen", to_change=True)
def home(request: SignedIn) -> HttpResponse:
    kitchen = services.kitchen()
    form = SettingsForm(request.POST or None, instance=kitchen)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect("kitchen:home")
    context = {"kitchen": kitchen, "form": form, "tins": queries.tins(), "binned": queries.binned_tins(), "tab": "tins"}
    context["kinds"] = tins.kinds().values()
    return render(request, "kitchen/tins.html", context, status=422 if form.errors else 200)


def ingredients(request: SignedIn) -> HttpResponse:
    search = request.GET.get("q", "").strip()[:80]
    role = request.GET.get("role", "")
    found = queries.current_revisions().values()
    shown = [
        item
        for item in found
        if (not role or item.role == role)
        and (not search or any(search.lower() in n.lower() for n in (item.ingredient.name, *item.ingredient.aliases)))
    ]
    context = {
        "fats": [item for item in shown if item.fat],
        "others": [item for item in shown if not item.fat],
        "roles": sorted({item.role for item in found}),
        "role": role,
        "search": search,
        "tab": "ingredients",
    }
    return render(request, "kitchen/ingredients.html", context)


def without_amount(text: str) -> str:
    """What is left of a recipe's line for a name, once numbers and units in front are gone."""
    return re.sub(r"^[\d\s.,/½¼¾⅓⅔-]*(?:(?:k?g|ml|cl|l|oz|lb|cups?|tbsp|tsp)\b)?\s*(?:of\s+)?", "", text)


@needs("edit_kitchen")
def ingredient(request: SignedIn, pk: int | None = None) -> HttpResponse:
    """Add an ingredient, or change what is known of one; formulas that are moved by it are shown next."""
    found = get_object_or_404(Ingredient.objects.kept(), pk=pk) if pk else None
    back = way_back(request, reverse("kitchen:ingredients"))
    if request.method == "POST":
        form = IngredientForm(request.POST, ingredient=found)
        if form.is_valid():
            known = found.revisions.first() if found else None
            saved = services.save_ingredient(found, form.matter())
            services.price_pack(saved, **form.pack())
            moves = known is not None and saved.revisions.first() != known
            return redirect("dough:using", saved.pk) if moves else redirect(back)
    else:
        named = request.GET.get("name", "")[:80].strip()
        form = IngredientForm.of(found) if found else IngredientForm(initial={"name": without_amount(named)})
    known = found.revisions.first().matter if found else None
    context = {"form": form, "ingredient": found, "known": known, "back": back, "tab": "ingredients"}
    if known:
        records = queries.newest_evidence(Evidence.Kind.LIQUID, known.name)
        context |= {"records": records, "thirst": queries.thirsts().get(known.name)}
    context["curve"] = fat_curve(known.fat) if known and known.fat else None
    return render(request, "kitchen/ingredient.html", context, status=422 if form.errors else 200)


@needs("edit_kitchen")
def tin(request: SignedIn, pk: int | None = None) -> HttpResponse:
    found = get_object_or_404(Tin.objects.kept(), pk=pk) if pk else None
    kind = found.kind if found else request.GET.get("kind", outlines.ROUND)
    if kind not in tins.kinds():
        raise Http404
    if request.method == "POST":
        form = TinForm(request.POST, kind=kind)
        if form.is_valid():
            services.save_row(found or Tin(), form.measures())
            return redirect(way_back(request, reverse("kitchen:home")))
        status = 422
    else:
        form, status = (TinForm.of(found) if found else TinForm(kind=kind)), 200
        form.initial = {**form.initial, **{name: request.GET[name][:12] for name in form.fields if name in request.GET}}
    past = found.history.all()[1:6] if found else []
    context = {"form": form, "tin": found, "kind": tins.kinds()[kind], "past": past, "tab": "tins"}
    context["back"] = way_back(request, "")
    return render(request, "kitchen/tin.html", context, status=status)


@require_POST
@needs("edit_kitchen")
def bin_tin(request: SignedIn, pk: int) -> HttpResponse:
    found = get_object_or_404(Tin.objects.kept(), pk=pk)
    found.put_in_bin()
    offer_undo(request, f"{found.name} is in the bin.", reverse("kitchen:restore_tin", args=[pk]))
    return redirect("kitchen:home")


@require_POST
@needs("edit_kitchen")
def restore_tin(request: SignedIn, pk: int) -> HttpResponse:
    get_object_or_404(Tin, pk=pk).put_back()
    return redirect("kitchen:home")


def places(request: SignedIn) -> HttpResponse:
    context = {
        "places": queries.places_with_learning(),
        "ovens": queries.ovens_with_learning(),
        "machines": queries.machines(),
        "binned": queries.binned_places(),
        "room_c": services.kitchen().room_c,
        "day_room_c": queries.day_room_c(),
        "tab": "places",
    }
    return render(request, "kitchen/places.html", context)


# What one page of a place, an oven or a mixer needs: model, form, what it is called.
SPOTS = {
    "place": (Place, PlaceForm, "place"),
    "oven": (Oven, OvenForm, "oven"),
    "machine": (Machine, MachineForm, "mixer"),
}


def how_we_reckon(request: SignedIn) -> HttpResponse:
    """Models, sources, assumptions, limits, and what this kitchen has learned."""
    context = {"found": reckoning.learned_values(), "start": reckoning.start_values(), "tab": "reckoning"}
    return render(request, "kitchen/reckoning.html", context)


@needs("edit_kitchen")
def spot(request: SignedIn, kind: str, pk: int | None = None) -> HttpResponse:
    """Add or change a place, an oven or a mixer."""
    model, form_class, name = SPOTS[kind]
    found = get_object_or_404(model.objects.kept(), pk=pk) if pk else None
    form = form_class(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        services.save_row(cast(services.Row, found or model()), form.cleaned_data)
        return redirect("kitchen:places")
    seen = queries.newest_evidence(Evidence.Kind.OVEN, found.core.key)[::-1] if isinstance(found, Oven) else []
    context = {"form": form, "spot": found, "name": name, "tab": "places", "seen": seen}
    return render(request, "kitchen/spot.html", context, status=422 if form.errors else 200)


@require_POST
@needs("edit_kitchen")
def bin_spot(request: SignedIn, kind: str, pk: int) -> HttpResponse:
    found = get_object_or_404(SPOTS[kind][0].objects.kept(), pk=pk)
    found.put_in_bin()
    offer_undo(request, f"{found.name} is in the bin.", reverse(f"kitchen:restore_{kind}", args=[pk]))
    return redirect("kitchen:places")


@require_POST
@needs("edit_kitchen")
def restore_spot(request: SignedIn, kind: str, pk: int) -> HttpResponse:
    get_object_or_404(SPOTS[kind][0], pk=pk).put_back()
    return redirect("kitchen:places")


@needs("manage_people")
def people(request: SignedIn) -> HttpResponse:
    context = {"people": queries.people(), "binned": queries.binned_people(), "tab": "people"}
    return render(request, "kitchen/people.html", {**context, "hands": queries.hands_at_work()})


# What the form of a person says of the day's hours.
HOURS_OF = ("from_min", "to_min", "does")


@needs("manage_people")
def person(request: SignedIn, pk: int | None = None) -> HttpResponse:
    found = get_object_or_404(Person.objects.kept().select_related("user"), pk=pk) if pk else None
    initial: dict[str, Any] | None = None
    if found:
        hours = {name: getattr(found, name) for name in HOURS_OF}
        initial = {"name": found.name, "role": found.user.role if found.user else "", **hours}
    form = PersonForm(request.POST or None, person=found, initial=initial)
    if request.method == "POST" and form.is_valid():
        if found and found.user == request.user and form.cleaned_data["role"] != request.user.role:
            form.add_error(
                "role", "You cannot change your own role: somebody has to stay head. Let another head do it."
            )
        else:
            change = {key: value for key, value in form.cleaned_data.items() if value and key not in HOURS_OF}
            change["is_given"] = not found or found.user != request.user
            saved = services.change_person(found, **change) if found else services.add_person(**change)
            services.set_hours(saved, **{key: form.cleaned_data[key] for key in HOURS_OF})
            return redirect("kitchen:people")
    context = {"form": form, "person": found, "tab": "people"}
    return render(request, "kitchen/person.html", context, status=422 if form.errors else 200)


@require_POST
@needs("manage_people")
def at_work(request: SignedIn, pk: int) -> HttpResponse:
    """Say whether somebody works at the bench today."""
    found = get_object_or_404(Person.objects.kept(), pk=pk)
    services.set_at_work(found, is_here=request.POST.get("here") == "yes")
    return redirect("kitchen:people")


@require_POST
@needs("manage_people")
def sign_out_person(request: SignedIn, pk: int) -> HttpResponse:
    """End somebody's sessions on every device, after one was lost, say."""
    found = get_object_or_404(Person.objects.kept().select_related("user"), pk=pk, user__isnull=False)
    sessions.sign_out_everywhere(found.user)
    messages.success(request, f"{found.name} is signed out on every device.")
    return redirect("kitchen:people")


@require_POST
@needs("manage_people")
def bin_person(request: SignedIn, pk: int) -> HttpResponse:
    found = get_object_or_404(Person.objects.kept(), pk=pk)
    if found.user == request.user:
        raise PermissionDenied
    services.bin_person(found)
    said = f"{found.name} is in the bin and can no longer sign in."
    offer_undo(request, said, reverse("kitchen:restore_person", args=[pk]))
    return redirect("kitchen:people")


@require_POST
@needs("manage_people")
def restore_person(request: SignedIn, pk: int) -> HttpResponse:
    services.restore_person(get_object_or_404(Person, pk=pk))
    return redirect("kitchen:people")
