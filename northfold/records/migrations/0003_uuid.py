"""Each result gets a name of its own in the whole world, by which another kitchen knows it again."""

import uuid

from django.db import migrations, models


def name_each(apps, schema_editor):
    rows = apps.get_model("records", "Result").objects
    for number in rows.values_list("pk", flat=True):
        rows.filter(pk=number).update(uuid=uuid.uuid4())


class Migration(migrations.Migration):
    dependencies = [("records", "0002_room_and_thickness")]

    operations = [
        migrations.AddField("result", "uuid", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        migrations.AlterField(
            "result", "uuid", models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
        ),
    ]
