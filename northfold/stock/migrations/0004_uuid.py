"""Each lot gets a name of its own in the whole world, by which another kitchen knows it again."""

import uuid

from django.db import migrations, models


def name_each(apps, schema_editor):
    rows = apps.get_model("stock", "Lot").objects
    for number in rows.values_list("pk", flat=True):
        rows.filter(pk=number).update(uuid=uuid.uuid4())


class Migration(migrations.Migration):
    dependencies = [("stock", "0003_used_up")]

    operations = [
        migrations.AddField("lot", "uuid", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        migrations.AlterField(
            "lot", "uuid", models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
        ),
    ]
