"""The field by which a maker chooses how pieces are worked is called as what it chooses: the route."""

from django.db import migrations


def rename(old, new):
    def change(apps, schema_editor):
        for model in ("StepEdit", "MethodEdit"):
            apps.get_model("makes", model).objects.filter(field=old).update(field=new)

    return change


class Migration(migrations.Migration):
    dependencies = [("makes", "0010_packed_plans_and_facts")]

    operations = [migrations.RunPython(rename("course", "route"), rename("route", "course"))]
