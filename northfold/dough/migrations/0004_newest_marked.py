"""The newest version of each formula is marked, and so are drafts that hold changes."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F, Max


def mark(apps, schema_editor):
    facts = apps.get_model("dough", "VersionFacts").objects
    older = facts.annotate(top=Max("version__formula__versions__n")).exclude(version__n=F("top"))
    numbers = list(older.values_list("pk", flat=True))
    for begin in range(0, len(numbers), 500):
        facts.filter(pk__in=numbers[begin : begin + 500]).update(is_newest=False)
    # Facts of an older core are written anew when all is brought up to date, see `renew_facts`.
    facts.update(core_version="")


class Migration(migrations.Migration):
    dependencies = [("dough", "0003_schools_and_tags")]

    operations = [
        migrations.AddField(
            model_name="versionfacts",
            name="is_newest",
            field=models.BooleanField(default=True, help_text="Whether its formula has no later version"),
        ),
        migrations.AddField(
            model_name="versionfacts",
            name="formula",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="dough.formula"
            ),
        ),
        migrations.AddField(
            model_name="versionfacts",
            name="name",
            field=models.CharField(blank=True, help_text="The formula's, as the list orders them", max_length=120),
        ),
        migrations.AddField(
            model_name="versionfacts",
            name="rank",
            field=models.PositiveIntegerField(default=0, help_text="Of its family, in the order of the core's table"),
        ),
        migrations.AddField(
            model_name="draft",
            name="has_changes",
            field=models.BooleanField(default=True, help_text="As `is_changed` found when it was saved"),
        ),
        migrations.RunPython(mark, migrations.RunPython.noop),
        migrations.AddIndex(
            model_name="versionfacts",
            index=models.Index(condition=models.Q(("is_newest", True)), fields=["rank", "name"], name="newest_by_name"),
        ),
    ]
