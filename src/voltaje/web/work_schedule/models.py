"""What is kept of a work schedule: between which revisions, in which order, when."""

from __future__ import annotations

import uuid
from datetime import datetime, time
from zoneinfo import ZoneInfo

from django.db import models
from django.utils import timezone
from django.utils.translation import gettext

from voltaje.core.work_schedule import WorkingHours
from voltaje.web.jobs.models import Job


class WorkSchedule(models.Model):
    """The work from revision ``before`` (0: nothing is there yet) to revision ``after``. ``order``
    are keys of steps as they were put, ``taking`` minutes and people by key where they are not the
    usual ones, ``done`` the keys of what is done."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="work_schedules")
    before = models.PositiveIntegerField()
    after = models.PositiveIntegerField()
    few = models.BooleanField(default=False)
    starts_at = models.DateTimeField()
    zone = models.CharField(max_length=64, default="UTC")
    opens = models.TimeField(default=time(8))
    closes = models.TimeField(default=time(16, 30))
    weekends = models.BooleanField(default=False)
    order = models.JSONField(default=list, blank=True)
    taking = models.JSONField(default=dict, blank=True)
    done = models.JSONField(default=list, blank=True)
    changes = models.PositiveIntegerField(default=0)
    changed_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("-after", "-before")
        constraints = [
            models.UniqueConstraint(
                fields=["job", "before", "after"], name="one_schedule_a_pair_of_revisions"
            ),
        ]

    def __str__(self) -> str:
        return f"revision {self.before} to {self.after}"

    @property
    def hours(self) -> WorkingHours:
        """When work is done."""
        zone = ZoneInfo(self.zone)
        start = self.starts_at.astimezone(zone)
        return WorkingHours(start, self.opens, self.closes, zone, self.weekends)

    @property
    def local_start(self) -> datetime:
        """When it begins, by the clock of its zone."""
        return self.hours.start.replace(tzinfo=None)

    @property
    def begin_in_words(self) -> str:
        """From where on it leads."""
        if not self.before:
            return gettext("new installation")
        return gettext("revision {number}").format(number=self.before)

    def keep(self, *names: str) -> None:
        """Saves these fields as changed now; somebody else may change others meanwhile."""
        self.changes += 1
        self.changed_at = timezone.now()
        self.save(update_fields=[*names, "changes", "changed_at"])
