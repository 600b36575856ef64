"""What was practised: of each problem the first time that it was marked; papers of a class with
what each learner gave."""

from __future__ import annotations

import secrets
import uuid

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from django.utils import timezone

CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"  # none that is read for another
CODE_LENGTH = 6


def new_code() -> str:
    """A paper's code, as a teacher writes it on the board."""
    return "".join(secrets.choice(CODE_LETTERS) for _ in range(CODE_LENGTH))


def new_key() -> str:
    """What a learner's own address ends in; who has it goes on with the paper."""
    return secrets.token_urlsafe(18)


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


class ClassPaper(models.Model):
    """A paper that a class works in the browser, joined by its ``join_code`` until it
    ``expires_at``; ``minutes`` from the first look on, ``None``: no limit."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="papers")
    title = models.CharField(max_length=80)
    code = models.CharField(max_length=20)
    kinds = models.JSONField(default=list)
    number = models.PositiveSmallIntegerField()
    level = models.CharField(max_length=8)
    hard = models.BooleanField(default=False)
    seed = models.CharField(max_length=12)
    minutes = models.PositiveSmallIntegerField(null=True)
    join_code = models.CharField(max_length=CODE_LENGTH, unique=True, default=new_code)
    made_at = models.DateTimeField(default=timezone.now)
    expires_at = models.DateTimeField()

    class Meta:
        ordering = ("-made_at",)

    def __str__(self) -> str:
        return self.title

    @property
    def open(self) -> bool:
        """Whether it can still be joined and worked."""
        return timezone.now() < self.expires_at


class Sitting(models.Model):
    """A learner's paper: the ``name`` of one's choice, the ``place`` among the learners that the
    figures go by, the ``key`` of the address; worked ``until`` its time is over."""

    paper = models.ForeignKey(ClassPaper, models.CASCADE, related_name="sittings")
    name = models.CharField(max_length=40)
    place = models.PositiveSmallIntegerField()
    key = models.CharField(max_length=32, unique=True, default=new_key)
    begun_at = models.DateTimeField(default=timezone.now)
    until = models.DateTimeField()
    handed_in_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("place",)
        constraints = [
            models.UniqueConstraint("paper", Lower("name"), name="one_sitting_a_name"),
            models.UniqueConstraint(fields=["paper", "place"], name="one_sitting_a_place"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def over(self) -> bool:
        """Whether nothing more is taken: handed in, or its time is over."""
        return self.handed_in_at is not None or timezone.now() >= self.until


class SittingProblem(models.Model):
    """A problem of a sitting with its entries, so that it stays the same problem: what was
    ``typed`` for each line, ``points`` of ``most``, the slips in the program's own English."""

    sitting = models.ForeignKey(Sitting, models.CASCADE, related_name="problems")
    number = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=20)
    system = models.CharField(max_length=20)
    document = models.JSONField()
    typed = models.JSONField(default=dict)
    points = models.FloatField(default=0.0)
    most = models.PositiveSmallIntegerField()
    slips = models.JSONField(default=list)
    saved_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("number",)
        constraints = [
            models.UniqueConstraint(fields=["sitting", "number"], name="one_problem_a_number"),
            models.CheckConstraint(
                condition=models.Q(points__gte=0) & models.Q(points__lte=models.F("most")),
                name="sitting_points_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.number}. {self.kind} {self.points:g}/{self.most}"
