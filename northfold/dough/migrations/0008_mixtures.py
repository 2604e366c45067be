"""Mixtures beside the dough: formulas of another kind, whose lines may be mixtures themselves."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('dough', '0007_uuid'),
        ('kitchen', '0018_fillings'),
    ]

    operations = [
        migrations.AddField(
            model_name='formula',
            name='beside',
            field=models.ForeignKey(blank=True, help_text='Whose recipe it was in', null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='mixtures', to='dough.formula'),
        ),
        migrations.AddField(
            model_name='formula',
            name='kind',
            field=models.CharField(default='dough', help_text='A dough, or a kind of mixture beside one', max_length=20),
        ),
        migrations.AddField(
            model_name='line',
            name='of_mixture',
            field=models.ForeignKey(help_text='Where it is a mixture itself', null=True, on_delete=django.db.models.deletion.PROTECT, related_name='+', to='dough.formulaversion'),
        ),
        migrations.AlterField(
            model_name='line',
            name='ingredient_revision',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, to='kitchen.ingredientrevision'),
        ),
        migrations.AddConstraint(
            model_name='line',
            constraint=models.CheckConstraint(condition=models.Q(('ingredient_revision', None), ('of_mixture', None), _connector='XOR'), name='a_line_is_of_one_thing'),
        ),
    ]
