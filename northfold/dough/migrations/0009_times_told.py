"""When a formula and its versions were made can be told when they are written, and is now unless it is."""

from django.db import migrations, models
from django.utils import timezone


class Migration(migrations.Migration):
    dependencies = [("dough", "0008_mixtures")]

    operations = [
        migrations.AlterField("formula", "created_at", models.DateTimeField(default=timezone.now)),
        migrations.AlterField("formulaversion", "at", models.DateTimeField(default=timezone.now)),
    ]
