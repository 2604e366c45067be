"""Frozen plans as compressed bytes, and what lists show of a make kept beside it."""

import json
import zlib

import django.db.models.deletion
from django.db import migrations, models


def pack(apps, schema_editor):
    frozen = apps.get_model("makes", "FrozenPlan")
    for number in list(frozen.objects.order_by("pk").values_list("pk", flat=True)):
        plan = frozen.objects.values_list("plan", flat=True).get(pk=number)
        packed = zlib.compress(json.dumps(plan, separators=(",", ":")).encode())
        frozen.objects.filter(pk=number).update(packed=packed)


class Migration(migrations.Migration):
    dependencies = [("makes", "0009_abandoned")]

    operations = [
        migrations.AddField(
            model_name="make",
            name="changes",
            field=models.PositiveIntegerField(default=0, editable=False),
        ),
        migrations.AddIndex(
            model_name="make",
            index=models.Index(fields=["binned_at", "due_at", "id"], name="makes_by_due"),
        ),
        migrations.AddIndex(
            model_name="make",
            index=models.Index(fields=["binned_at", "state", "due_at", "id"], name="makes_by_state"),
        ),
        migrations.CreateModel(
            name="MakeFacts",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "of",
                    models.CharField(
                        help_text="The changes of kitchen and make that it was reckoned at", max_length=60
                    ),
                ),
                ("asked", models.JSONField(default=list, help_text="The learned values that it used")),
                ("dough_g", models.FloatField(null=True)),
                ("pieces", models.CharField(blank=True, max_length=20)),
                (
                    "whole_min",
                    models.FloatField(
                        help_text="Of a planned make, from its first step until it is ready [min]", null=True
                    ),
                ),
                ("steps", models.JSONField(default=list, help_text="Of a planned make, in short")),
                (
                    "make",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="facts", to="makes.make"
                    ),
                ),
            ],
        ),
        migrations.AddField(
            model_name="frozenplan",
            name="packed",
            field=models.BinaryField(default=b"", help_text="The plan, see `freezing.py`"),
            preserve_default=False,
        ),
        migrations.RunPython(pack),
        migrations.RemoveField(model_name="frozenplan", name="plan"),
    ]
