"""A task that a worker does, what it came to, and the file that it is about."""

from __future__ import annotations

import uuid
from typing import ClassVar

from django.conf import settings
from django.db import models
from django.db.models import Q

from voltaje.web.jobs.models import Job

LIVE = ("waiting", "running")
STATES = (*LIVE, "done", "stopped", "failed")


class BackgroundTask(models.Model):
    """A question about a revision of a job, and its answer once there is one. ``key`` is the same
    for the same question about the same revision under the same rules."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    account = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    # none: it is about the account
    job = models.ForeignKey(Job, models.CASCADE, null=True, blank=True, related_name="+")
    revision = models.PositiveIntegerField(default=0)
    work = models.CharField(max_length=40)
    question = models.JSONField()
    key = models.CharField(max_length=64)
    # the request that asked, for the log
    request = models.CharField(max_length=20, default="", blank=True)
    language = models.CharField(max_length=10)
    state = models.CharField(max_length=8, choices=[(s, s) for s in STATES], default="waiting")
    stop_asked = models.BooleanField(default=False)
    progress = models.JSONField(default=dict, blank=True)
    # what there is of the answer; of a task that is not done the best so far, null without one
    result = models.JSONField(null=True, blank=True)
    fault = models.CharField(max_length=20, default="", blank=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    processor_seconds = models.FloatField(default=0.0)
    created_at = models.DateTimeField(auto_now_add=True)
    started_at = models.DateTimeField(null=True, blank=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    LIVE: ClassVar[tuple[str, ...]] = LIVE

    class Meta:
        indexes = [
            models.Index(fields=["account", "state"]),
            models.Index(fields=["key", "-created_at"]),
            models.Index(fields=["ended_at"]),
        ]
        constraints = [
            models.UniqueConstraint(
                fields=["key"], condition=Q(state__in=LIVE), name="one_task_for_a_question"
            ),
            models.CheckConstraint(
                condition=Q(state__in=STATES), name="background_task_state_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.work} {self.state}"

    @property
    def live(self) -> bool:
        """Whether it waits or runs."""
        return self.state in LIVE


class Attachment(models.Model):
    """The file that a task is about, as it was sent; kept until the task has ended."""

    task = models.OneToOneField(
        BackgroundTask, models.CASCADE, primary_key=True, related_name="attachment"
    )
    content = models.BinaryField()

    def __str__(self) -> str:
        return f"{len(self.content)} bytes"
