"""The brake counts in the record of sign-ins; the tables of the library that counted before go."""

from django.db import migrations

TABLES = ("axes_accessattemptexpiration", "axes_accessattempt", "axes_accesslog", "axes_accessfailurelog")


def drop(apps, schema_editor):
    there = set(schema_editor.connection.introspection.table_names())
    for name in TABLES:
        if name in there:
            schema_editor.execute(schema_editor.sql_delete_table % {"table": schema_editor.quote_name(name)})


class Migration(migrations.Migration):
    dependencies = [("web", "0002_accounts_and_audit")]
    operations = [migrations.RunPython(drop, migrations.RunPython.noop)]
