"""Active dry yeast gets a name of its own: it raises less than instant yeast, for which it was taken until now."""

from django.db import migrations

NAME, OF = "active dry yeast", "instant dry yeast"
ALIASES = ["dried active yeast", "active dried yeast", "active yeast"]


def apart(apps, schema_editor):
    ingredient = apps.get_model("kitchen", "Ingredient")
    revision = apps.get_model("kitchen", "IngredientRevision")
    instant = ingredient.objects.filter(name=OF).first()
    if instant is None:
        return
    instant.aliases = [alias for alias in instant.aliases if alias != NAME]
    instant.save(update_fields=["aliases"])
    newest = revision.objects.filter(ingredient=instant).order_by("-pk").first()
    if newest is None or ingredient.objects.filter(name=NAME).exists():
        return
    newest.pk = None
    newest.ingredient = ingredient.objects.create(name=NAME, aliases=ALIASES)
    newest._state.adding = True
    newest.save()


class Migration(migrations.Migration):
    dependencies = [("kitchen", "0011_learned_states")]
    operations = [migrations.RunPython(apart, migrations.RunPython.noop)]
