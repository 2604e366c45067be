"""A method gets a name of its own in the whole world; times can be told when written."""

import uuid

from django.db import migrations, models
from django.utils import timezone


def name_each(apps, schema_editor):
    rows = apps.get_model("makes", "Method").objects
    for number in rows.values_list("pk", flat=True):
        rows.filter(pk=number).update(uuid=uuid.uuid4())


class Migration(migrations.Migration):
    dependencies = [("makes", "0019_calendar_feed")]

    operations = [
        migrations.AddField("method", "uuid", models.UUIDField(null=True, editable=False)),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        migrations.AlterField("method", "uuid", models.UUIDField(default=uuid.uuid4, unique=True, editable=False)),
        migrations.AlterField("method", "at", models.DateTimeField(default=timezone.now)),
        migrations.AlterField("make", "created_at", models.DateTimeField(default=timezone.now)),
    ]
