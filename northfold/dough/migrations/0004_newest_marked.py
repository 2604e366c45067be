"""The newest version of each formula is marked, and so are drafts that hold changes."""

from django.db import migrations, models
from django.db.models import F, Max


def mark(apps, schema_editor):
    facts = apps.get_model("dough", "VersionFacts").objects
    older = facts.annotate(top=Max("version__formula__versions__n")).exclude(version__n=F("top"))
    numbers = list(older.values_list("pk", flat=True))
    for begin in range(0, len(numbers), 500):
        facts.filter(pk__in=numbers[begin : begin + 500]).update(is_newest=False)


class Migration(migrations.Migration):
    dependencies = [("dough", "0003_schools_and_tags")]

    operations = [
        migrations.AddField(
            model_name="versionfacts",
            name="is_newest",
            field=models.BooleanField(default=True, help_text="Whether its formula has no later version"),
        ),
        migrations.AddField(
            model_name="draft",
            name="has_changes",
            field=models.BooleanField(default=True, help_text="As `is_changed` found when it was saved"),
        ),
        migrations.RunPython(mark, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name="versionfacts",
            index=models.Index(
                condition=models.Q(("is_newest", True)), fields=["family_key"], name="newest_by_family"
            ),
        ),
    ]
