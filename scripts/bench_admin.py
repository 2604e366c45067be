"""Django's admin lists over the rows that our own lists show, with as many columns and rows a page."""

from django.contrib import admin
from django.db.models import Sum
from django.urls import include, path

from northfold.dough.models import VersionFacts
from northfold.kitchen.models import Ingredient, Person
from northfold.makes.models import Make
from northfold.stock.models import Lot
from northfold.web.paging import PER_PAGE

site = admin.AdminSite()


class ListOnly(admin.ModelAdmin):
    list_per_page = PER_PAGE

    def has_view_permission(self, request, obj=None):
        return True

    def has_module_permission(self, request):
        return True


@admin.register(Make, site=site)
class Makes(ListOnly):
    list_display = ("dough", "version", "pieces", "dough_g", "due_at", "state")
    list_filter = ("state",)
    list_select_related = ("formula_version__formula", "facts")
    ordering = ("due_at",)
    search_fields = ("formula_version__formula__name",)

    def get_queryset(self, request):
        return super().get_queryset(request).filter(binned_at=None)

    def dough(self, make):
        return make.formula_version.formula.name

    def version(self, make):
        return make.formula_version.label

    def pieces(self, make):
        return make.facts.pieces

    def dough_g(self, make):
        return make.facts.dough_g


@admin.register(VersionFacts, site=site)
class Book(ListOnly):
    list_display = ("name", "family", "parts", "true_fat", "true_water", "allergens", "saved")
    list_filter = ("family_key",)
    list_select_related = ("version", "formula")
    ordering = ("rank", "name")
    search_fields = ("words",)

    def get_queryset(self, request):
        return super().get_queryset(request).filter(is_newest=True)

    def saved(self, facts):
        return facts.version.at


@admin.register(Lot, site=site)
class Store(ListOnly):
    list_display = ("what", "kind", "held", "made_at", "place", "source", "allergens")
    list_select_related = ("place",)

    def get_queryset(self, request):
        return super().get_queryset(request).filter(is_used_up=False).annotate(held=Sum("moves__amount"))

    def held(self, lot):
        return lot.held


@admin.register(Ingredient, site=site)
class Ingredients(ListOnly):
    list_per_page = 500
    list_display = ("name", "role", "fat", "water", "allergens")
    search_fields = ("name",)

    def get_queryset(self, request):
        return super().get_queryset(request).filter(binned_at=None).prefetch_related("revisions")

    def _newest(self, ingredient):
        return max(ingredient.revisions.all(), key=lambda revision: revision.pk)

    def role(self, ingredient):
        return self._newest(ingredient).role

    def fat(self, ingredient):
        return self._newest(ingredient).composition.get("fat")

    def water(self, ingredient):
        return self._newest(ingredient).composition.get("water")

    def allergens(self, ingredient):
        return self._newest(ingredient).allergens


@admin.register(Person, site=site)
class People(ListOnly):
    list_display = ("name", "role_name", "signs_in_as")
    list_select_related = ("user",)

    def signs_in_as(self, person):
        return person.user.username if person.user else ""


urlpatterns = [path("admin/", site.urls), path("", include("northfold.config.urls"))]

# Our list and the admin's over the same rows.
LISTS = {
    "Makes": ("/", "/admin/makes/make/"),
    "Makes, finished": ("/?state=finished", "/admin/makes/make/?state__exact=finished"),
    "Book": ("/book/", "/admin/dough/versionfacts/"),
    "Cold store": ("/cold-store/", "/admin/stock/lot/"),
    "Ingredients": ("/kitchen/ingredients/", "/admin/kitchen/ingredient/"),
    "People": ("/kitchen/people/", "/admin/kitchen/person/"),
}
