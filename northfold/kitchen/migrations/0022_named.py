"""Tins, places, ovens, mixers and people get a name of their own in the whole world; times can be told when written."""

import uuid

from django.db import migrations, models
from django.utils import timezone

NAMED = ("Tin", "Place", "Oven", "Machine", "Person")


def name_each(apps, schema_editor):
    for model in NAMED:
        rows = apps.get_model("kitchen", model).objects
        for number in rows.values_list("pk", flat=True):
            rows.filter(pk=number).update(uuid=uuid.uuid4())


class Migration(migrations.Migration):
    dependencies = [("kitchen", "0021_backups")]

    operations = [
        *(migrations.AddField(model, "uuid", models.UUIDField(null=True, editable=False)) for model in NAMED),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        *(
            migrations.AlterField(
                model, "uuid", models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
            )
            for model in NAMED
        ),
        migrations.AlterField(
            "ingredientrevision", "created_at", models.DateTimeField(default=timezone.now)
        ),
        migrations.AlterField("packprice", "at", models.DateTimeField(default=timezone.now)),
    ]
