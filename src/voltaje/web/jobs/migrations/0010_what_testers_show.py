from django.db import migrations, models

UNITS = ("V", "A", "Ω", "MΩ", "ms")


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0009_kinds_known_by_the_program"),
    ]

    operations = [
        migrations.AlterField(
            model_name="job",
            name="drop_scheme",
            field=models.CharField(
                choices=[
                    ("code", "what the code says (NEC notes: 3 % of a branch, 5 % in all)"),
                    ("supply", "5 % from the supply point (AS/NZS 3000, 3.6.2)"),
                    (
                        "tolerance",
                        "the supply’s tolerance at the equipment (+10 % to −6 % where the code has"
                        " none)",
                    ),
                    ("own", "figures of our own"),
                ],
                default="code",
                max_length=10,
                verbose_name="volts may fall",
            ),
        ),
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
