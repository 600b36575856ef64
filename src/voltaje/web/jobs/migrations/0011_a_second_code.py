"""A job may name a second code, under which every sheet stands beside itself."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0010_what_testers_show"),
    ]

    operations = [
        migrations.AddField(
            model_name="job",
            name="second",
            field=models.CharField(
                blank=True, default="", max_length=20, verbose_name="second code"
            ),
        ),
    ]
