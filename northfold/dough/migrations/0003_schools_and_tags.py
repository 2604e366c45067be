"""Formulas have tags and schools of their own; drafts and versions kept before have none of either."""

from django.db import migrations, models


def fill(apps, schema_editor):
    for name in ("FormulaVersion", "Draft"):
        rows = apps.get_model("dough", name).objects
        for row in rows.all():
            rows.filter(pk=row.pk).update(payload={"tags": "", "schools": {}, **row.payload})


class Migration(migrations.Migration):
    dependencies = [("dough", "0002_links")]
    operations = [
        migrations.AddField("formula", "tags", models.JSONField(default=list, help_text="Words to find it by")),
        migrations.AddField(
            "formulaversion",
            "schools",
            models.JSONField(default=dict, help_text="Its own answers where makers differ, over the kitchen's"),
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
