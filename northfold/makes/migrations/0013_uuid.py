"""Each make gets a name of its own in the whole world, by which another kitchen knows it again."""

import uuid

from django.db import migrations, models


def name_each(apps, schema_editor):
    rows = apps.get_model("makes", "Make").objects
    for number in rows.values_list("pk", flat=True):
        rows.filter(pk=number).update(uuid=uuid.uuid4())


class Migration(migrations.Migration):
    dependencies = [("makes", "0012_formats")]

    operations = [
        migrations.AddField("make", "uuid", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        migrations.AlterField(
            "make", "uuid", models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
        ),
    ]
