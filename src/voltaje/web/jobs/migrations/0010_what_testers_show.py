from django.db import migrations, models

UNITS = ("V", "A", "Ω", "MΩ", "ms")


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0009_kinds_known_by_the_program"),
    ]

    operations = [
        migrations.RemoveConstraint(model_name="reading", name="reading_unit"),
        migrations.AlterField(
            model_name="reading",
            name="unit",
            field=models.CharField(
                choices=[(unit, unit) for unit in UNITS], max_length=2
            ),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.CheckConstraint(
                condition=models.Q(unit__in=UNITS), name="reading_unit"
            ),
        ),
    ]
