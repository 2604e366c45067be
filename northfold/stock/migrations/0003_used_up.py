"""Lots that are used up are marked, so that the store need not add up five years of moves."""

from django.db import migrations, models
from django.db.models import Sum


def mark(apps, schema_editor):
    lots = apps.get_model("stock", "Lot").objects
    for number, left in lots.annotate(left=Sum("moves__amount")).values_list("pk", "left"):
        if (left or 0.0) <= 0.5:
            lots.filter(pk=number).update(is_used_up=True)


class Migration(migrations.Migration):
    dependencies = [("stock", "0002_undone_once")]

    operations = [
        migrations.AddField(
            model_name="lot",
            name="is_used_up",
            field=models.BooleanField(default=False, help_text="Whether its moves leave nothing; kept with each move"),
        ),
        migrations.RunPython(mark, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name="lot",
            index=models.Index(condition=models.Q(("is_used_up", False)), fields=["since"], name="lots_in_store"),
        ),
        migrations.AddIndex(
            model_name="lot",
            index=models.Index(fields=["source"], name="lots_by_source"),
        ),
        migrations.AddIndex(
            model_name="move",
            index=models.Index(fields=["why"], name="moves_by_reason"),
        ),
    ]
