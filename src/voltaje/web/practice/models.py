"""What was practised: of each problem the first time that it was marked."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class PracticeResult(models.Model):
    """A problem as an account first had it marked: ``points`` of ``most``, and the slips that were
    named, in the program's own English."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="practised")
    kind = models.CharField(max_length=20)
    code = models.CharField(max_length=20)
    seed = models.CharField(max_length=16)
    level = models.CharField(max_length=8)
    hard = models.BooleanField(default=False)
    points = models.FloatField()
    most = models.PositiveIntegerField()
    slips = models.JSONField(default=list)
    marked_at = models.DateTimeField()

    class Meta:
        ordering = ("-marked_at",)
        constraints = [
            models.UniqueConstraint(
                fields=["owner", "kind", "code", "seed", "level", "hard"],
                name="one_result_per_problem",
            ),
            models.CheckConstraint(
                condition=models.Q(points__gte=0) & models.Q(points__lte=models.F("most")),
                name="practice_points_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.points:g}/{self.most}"
