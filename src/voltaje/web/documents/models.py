"""The choices of a job's document sets, and the sets that were made."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone

from voltaje.web.jobs.models import Job


class DocumentPreset(models.Model):
    """A choice of sections under a name, kept with the job."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="document_presets")
    name = models.CharField(max_length=40)
    sections = models.JSONField(default=list)

    class Meta:
        ordering = ("name",)
        constraints = [
            models.UniqueConstraint(fields=["job", "name"], name="one_preset_a_name"),
        ]

    def __str__(self) -> str:
        return self.name


class DocumentSet(models.Model):
    """A set as it was made of a revision: its file, how many pages it has."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="document_sets")
    revision = models.PositiveIntegerField()
    mark = models.CharField(max_length=16)
    sections = models.JSONField(default=list)
    pages = models.PositiveIntegerField()
    content = models.BinaryField()
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("-made_at",)

    def __str__(self) -> str:
        return f"{self.pages} pages of revision {self.revision}"
