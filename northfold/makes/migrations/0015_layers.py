"""Layers of a make, and what lists know of what it takes."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('dough', '0008_mixtures'),
        ('makes', '0014_lattice'),
    ]

    operations = [
        migrations.AddField(
            model_name='makefacts',
            name='eggs',
            field=models.JSONField(default=list, help_text='Of a planned make, its uses of egg: where, whole, yolk, white [g]'),
        ),
        migrations.AddField(
            model_name='makefacts',
            name='needs',
            field=models.JSONField(default=dict, help_text='Of a planned make, what it takes of each ingredient [g]'),
        ),
        migrations.AddField(
            model_name='makefacts',
            name='prepares',
            field=models.JSONField(default=list, help_text='Of a planned make, its mixtures with their lines [g]'),
        ),
        migrations.CreateModel(
            name='MakeLayer',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('when', models.CharField(choices=[('raw', 'raw'), ('between', 'between bakes'), ('cooled', 'into the cold case'), ('top', 'on top, cold')], max_length=10)),
                ('position', models.CharField(choices=[('under', 'under'), ('in', 'in the middle'), ('over', 'over')], default='in', max_length=10)),
                ('rule', models.CharField(choices=[('rim', 'to the rim'), ('mark', 'to a mark'), ('grams', 'in grams'), ('area', 'by area'), ('heap', 'in a heap'), ('share', 'as a share')], max_length=10)),
                ('amount', models.FloatField(default=0.0, help_text='As the rule counts: mm, g, g/cm², %')),
                ('way', models.CharField(choices=[('raw', 'raw'), ('drawn', 'juice drawn'), ('cooked', 'cooked'), ('thawed', 'frozen, thawed')], default='raw', max_length=10)),
                ('drawn_min', models.FloatField(default=45.0, help_text='How long its juice is drawn [min]')),
                ('mark', models.FloatField(default=0.65, help_text='To what the juice is boiled down [share of solids]')),
                ('goes', models.CharField(choices=[('into', 'back in'), ('glaze', 'for a glaze'), ('behind', 'left behind')], default='into', max_length=10)),
                ('on_hand_g', models.FloatField(default=0.0, help_text='Taken from the cold store for all of its pieces [g]')),
                ('item', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='layers', to='makes.makeitem')),
                ('version', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='layers', to='dough.formulaversion')),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
    ]
