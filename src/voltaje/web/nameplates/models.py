"""A nameplate, and the items of jobs that were filled in by it."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from voltaje.web.jobs.models import Job


class Nameplate(models.Model):
    """Equipment by its nameplate: the kind of item, under the entries of which code, what is typed
    in them, a photo (JPEG; empty: none). ``version`` rises with each correction."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="nameplates")
    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=40)
    edition = models.CharField(max_length=40)
    entries = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    photo = models.BinaryField(default=b"", blank=True)
    changed_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("name", "changed_at")

    def __str__(self) -> str:
        return self.name


class NameplateUse(models.Model):
    """An item that was filled in by a nameplate: by its id, because an item that is deleted comes
    back by undo; with the ``entries`` and the ``version`` that it was filled in with."""

    nameplate = models.ForeignKey(Nameplate, models.CASCADE, related_name="uses")
    job = models.ForeignKey(Job, models.CASCADE, related_name="nameplate_uses")
    part_id = models.UUIDField()
    version = models.PositiveIntegerField()
    entries = models.JSONField(default=dict)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["job", "part_id"], name="one_nameplate_an_item"),
        ]

    def __str__(self) -> str:
        return f"{self.part_id}, version {self.version}"
