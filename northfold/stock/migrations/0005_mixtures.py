"""Fillings and creams lie in the cold too."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('stock', '0004_uuid'),
    ]

    operations = [
        migrations.AlterField(
            model_name='lot',
            name='kind',
            field=models.CharField(choices=[('dough', 'dough'), ('offcuts', 'offcuts'), ('pieces', 'shaped pieces'), ('whites', 'egg white'), ('yolks', 'egg yolk'), ('egg', 'beaten egg'), ('mixture', 'filling or cream')], max_length=10),
        ),
    ]
