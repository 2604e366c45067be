"""How a dough is mixed is asked in two: the tool, and how warm the fat is. Soft and creamed were tools before."""

from django.db import migrations

WAS = {"soft": ("fingers", "soft"), "creamed": ("paddle", "creamed")}


def split(apps, schema_editor):
    for edit in apps.get_model("makes", "StepEdit").objects.filter(step_key="mix", field="method", value__in=WAS):
        tool, fat = WAS[edit.value]
        edit.value = tool
        edit.save()
        edit.pk, edit.field, edit.value = None, "fat", fat
        edit.save()
    for kitchen in apps.get_model("kitchen", "Kitchen").objects.all():
        if kitchen.schools.get("mixing") in WAS:
            tool, fat = WAS[kitchen.schools["mixing"]]
            kitchen.schools = {**kitchen.schools, "mixing": tool, "fat_temperature": fat}
            kitchen.save()


class Migration(migrations.Migration):
    dependencies = [("makes", "0003_steps"), ("kitchen", "0004_prices_and_liquid")]
    operations = [migrations.RunPython(split, migrations.RunPython.noop)]
