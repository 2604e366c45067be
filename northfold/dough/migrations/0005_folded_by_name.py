"""
Formulas that were folded because of the name of a fat say so themselves.

Until now a fat with “laminating” in its name made a dough a laminated one; from now on its lines, its method or its maker
say so. A kitchen's saved puff goes on being folded.
"""

from django.db import migrations

WORDS = ("rolling in", "roll in", "roll-in", "laminating", "lamination")


def say_so(apps, schema_editor):
    version = apps.get_model("dough", "FormulaVersion")
    line = apps.get_model("dough", "Line")
    found = set()
    rows = line.objects.select_related("ingredient_revision__ingredient").filter(
        ingredient_revision__ingredient__name__icontains="laminat"
    )
    for row in rows.iterator():
        if row.usual_g and row.ingredient_revision.fat:
            found.add(row.version_id)
    for each in version.objects.filter(pk__in=found).iterator():
        if not each.schools.get("folds"):
            each.schools = {**each.schools, "folds": "usual"}
            each.save(update_fields=["schools"])


class Migration(migrations.Migration):
    dependencies = [("dough", "0004_newest_marked"), ("kitchen", "0012_active_dry_yeast")]
    operations = [migrations.RunPython(say_so, migrations.RunPython.noop)]
