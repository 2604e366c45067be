"""What fillings are made of: fruit, vegetables, meat and fish on the shelves of kitchens that exist."""

from dataclasses import asdict

from django.db import migrations, models

from northfold.core.matter import reference_ingredients

# What came with fillings.
ROLES = ("fruit", "vegetable", "meat", "fish", "grain", "preserve")
BESIDE = ("walnuts", "pecans", "flaked almonds", "chestnut purée", "dark chocolate", "semolina", "feta", "gelatine",
          "fresh herbs", "ground spice", "mustard")  # fmt: skip


def take_up(apps, schema_editor):
    Ingredient = apps.get_model("kitchen", "Ingredient")
    Revision = apps.get_model("kitchen", "IngredientRevision")
    rows = list(Ingredient.objects.all())
    if not rows:
        return  # a kitchen that begins is given all of them
    taken = {word.casefold() for row in rows for word in (row.name, *row.aliases)}
    for name, item in reference_ingredients().items():
        if (item.role not in ROLES and name not in BESIDE) or name.casefold() in taken:
            continue
        new = [alias for alias in item.aliases if alias.casefold() not in taken]
        fields = {key: value for key, value in asdict(item).items() if key not in ("name", "aliases")}
        Revision.objects.create(ingredient=Ingredient.objects.create(name=name, aliases=new), **fields)


class Migration(migrations.Migration):

    dependencies = [
        ('kitchen', '0017_ovens'),
    ]

    operations = [
        migrations.AlterField(
            model_name='ingredientrevision',
            name='role',
            field=models.CharField(choices=[('flour', 'flour'), ('starch', 'starch'), ('nut', 'nut'), ('fat', 'fat'), ('liquid', 'liquid'), ('egg', 'egg'), ('dairy', 'dairy'), ('acid', 'acid'), ('sugar', 'sugar'), ('sweetener', 'sweetener'), ('salt', 'salt'), ('raising', 'raising'), ('flavour', 'flavour'), ('binder', 'binder'), ('fruit', 'fruit'), ('vegetable', 'vegetable'), ('meat', 'meat'), ('fish', 'fish'), ('grain', 'grain'), ('preserve', 'preserve')], max_length=12),
        ),
        migrations.RunPython(take_up, migrations.RunPython.noop),
    ]
