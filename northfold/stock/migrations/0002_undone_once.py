"""What was taken out is put back once, held by the database; of older puttings back the first one counts."""

import re

import django.db.models.deletion
from django.db import migrations, models


def tie(apps, schema_editor):
    moves = apps.get_model("stock", "Move").objects
    tied = set()
    for move in moves.filter(why__startswith="put back, was ").order_by("pk"):
        found = re.fullmatch(r"put back, was (\d+)", move.why)
        taken = int(found[1]) if found else None
        if taken and taken not in tied and moves.filter(pk=taken).exists():
            moves.filter(pk=move.pk).update(undoes=taken)
            tied.add(taken)


class Migration(migrations.Migration):

    dependencies = [
        ('stock', '0001_first'),
    ]

    operations = [
        migrations.AddField(
            model_name='move',
            name='undoes',
            field=models.OneToOneField(blank=True, help_text='The taking that it puts back, once', null=True, on_delete=django.db.models.deletion.PROTECT, to='stock.move'),
        ),
        migrations.RunPython(tie, migrations.RunPython.noop),
    ]
