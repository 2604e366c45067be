"""New names for known ingredients, pieces of lemon, and rare sugars that are no starch, for kitchens that exist."""

from django.db import migrations

from northfold.core.matter import reference_ingredients

# What is weighed or made up otherwise from now on, where a kitchen has not written down its own figures.
REVISED = ("allulose", "erythritol", "lemon juice", "citrus zest")


def take_up(apps, schema_editor):
    Ingredient = apps.get_model("kitchen", "Ingredient")
    Revision = apps.get_model("kitchen", "IngredientRevision")
    taken = {alias for row in Ingredient.objects.all() for alias in (row.name, *row.aliases)}
    for name, item in reference_ingredients().items():
        row = Ingredient.objects.filter(name=name).first()
        if row is None:
            continue
        new = [alias for alias in item.aliases if alias not in taken]
        if new:
            row.aliases = [*row.aliases, *new]
            row.save(update_fields=["aliases"])
        newest = Revision.objects.filter(ingredient=row).order_by("-pk").first()
        if name in REVISED and newest is not None and newest.source == item.source:
            newest.pk = None
            newest._state.adding = True
            newest.composition = {key: getattr(item.composition, key) for key in item.composition.__dataclass_fields__}
            newest.unit_g, newest.unit = item.unit_g, item.unit
            newest.save()


class Migration(migrations.Migration):
    dependencies = [("kitchen", "0009_units_and_iced_water")]

    operations = [migrations.RunPython(take_up, migrations.RunPython.noop)]
