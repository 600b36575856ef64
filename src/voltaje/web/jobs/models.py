"""A job, its parts, its revisions. What may not be is refused by the database too."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any, ClassVar

from django.conf import settings
from django.contrib.postgres.indexes import GinIndex
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone
from django.utils.translation import gettext_lazy

from voltaje.core.codes import Amendment as CodeAmendment
from voltaje.core.codes import Edition, amended, edition, editions
from voltaje.core.entries import Document, Entries
from voltaje.core.job.code_comparison import merged
from voltaje.core.job.usual_values import inherited_values, missing_texts
from voltaje.core.kinds import PartInput, kind
from voltaje.core.kinds.usual_below import Inherited
from voltaje.core.quantities import METRES_PER_FOOT, UnitSystem
from voltaje.core.rules.interface import Code, code_of, families
from voltaje.core.rules.settings import (
    BASES,
    DROP_METHODS,
    JOB_SIZING,
    PREFERENCES,
    SCHEMES,
    Basis,
    DropMethod,
    Limits,
    Shop,
)
from voltaje.core.sizing import Preference
from voltaje.web.jobs import contents

# the group of entries that only a job's second code asks
SECOND = "second"
UNIT_CHOICES = (("us", "feet"), ("metric", "metres"))
OWN_DROP = gettext_lazy("Give a percentage from 0.5 to 20, like 3.")


def edition_choices() -> list[tuple[str, list[tuple[str, str]]]]:
    """Code editions for a form, by family."""
    return [
        (family.title, [(item.id, item.title) for item in editions(family.family)])
        for family in families()
        if editions(family.family)
    ]


class JobQuerySet(models.QuerySet["Job"]):
    """Jobs as one account may see them."""

    def of(self, user: Any) -> JobQuerySet:
        """The account's own."""
        return self.filter(owner=user)


MOST_RESERVE = 50.0  # no code figure: percent
RESERVE = gettext_lazy("Enter a reserve from 0 to 50 percent, like 5.")


class Job(models.Model):
    """A building, a boat yard, a workshop: what one account works on under one code edition."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="jobs")
    name = models.CharField(max_length=80)
    edition = models.CharField("code edition", max_length=20, default="nec-2020")
    second = models.CharField("second code", max_length=20, default="", blank=True)
    units: models.CharField[UnitSystem, UnitSystem] = models.CharField(
        max_length=6, choices=UNIT_CHOICES, default="us"
    )
    preference: models.CharField[Preference, Preference] = models.CharField(
        "devices", max_length=10, choices=list(PREFERENCES.items()), default="smallest"
    )
    prices = models.JSONField(default=dict, blank=True)
    drop_scheme = models.CharField(
        "volts may fall", max_length=10, choices=list(SCHEMES.items()), default="code"
    )
    drop_branch = models.FloatField(
        "own figure, one run",
        default=3.0,
        validators=[MinValueValidator(0.5, OWN_DROP), MaxValueValidator(20, OWN_DROP)],
    )
    drop_total = models.FloatField(
        "own figure, in all",
        default=5.0,
        validators=[MinValueValidator(0.5, OWN_DROP), MaxValueValidator(20, OWN_DROP)],
    )
    drop_sizing = models.CharField(
        "conductors sized for it", max_length=6, choices=list(JOB_SIZING.items()), default="told"
    )
    drop_method: models.CharField[DropMethod, DropMethod] = models.CharField(
        "voltage drop calculated",
        max_length=12,
        choices=list(DROP_METHODS.items()),
        default="impedance",
    )
    basis: models.CharField[Basis, Basis] = models.CharField(
        "transformers headlined", max_length=8, choices=list(BASES.items()), default="nominal"
    )
    stock = models.CharField("devices in stock", max_length=200, default="", blank=True)
    reserve = models.FloatField(
        "kept in reserve",
        default=0.0,
        validators=[MinValueValidator(0, RESERVE), MaxValueValidator(MOST_RESERVE, RESERVE)],
    )
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    updated_at = models.DateTimeField(auto_now=True)
    revision = models.PositiveIntegerField(default=0)
    undo_stack = models.JSONField(default=list)
    redo_stack = models.JSONField(default=list)

    objects: ClassVar[Any] = JobQuerySet.as_manager()
    _loaded: tuple[int, list[Part]] | None = None
    _usual: tuple[int, Mapping[str, Mapping[str, Inherited]]] | None = None

    class Meta:
        indexes = [models.Index(fields=["owner", "archived_at", "-updated_at"])]
        constraints = [
            models.CheckConstraint(condition=~models.Q(name=""), name="job_has_a_name"),
            models.CheckConstraint(
                condition=models.Q(units__in=[key for key, _ in UNIT_CHOICES]),
                name="job_units_known",
            ),
            models.CheckConstraint(
                condition=models.Q(preference__in=list(PREFERENCES)),
                name="job_preference_known",
            ),
            models.CheckConstraint(
                condition=models.Q(drop_scheme__in=list(SCHEMES)), name="job_drop_scheme_known"
            ),
            models.CheckConstraint(
                condition=models.Q(drop_sizing__in=list(JOB_SIZING)), name="job_drop_sizing_known"
            ),
            models.CheckConstraint(
                condition=models.Q(drop_method__in=list(DROP_METHODS)), name="job_drop_method_known"
            ),
            models.CheckConstraint(
                condition=models.Q(basis__in=list(BASES)), name="job_basis_known"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    def inputs(self) -> list[PartInput]:
        """The parts as the core takes them."""
        return [part.as_input() for part in self.loaded()]

    def loaded(self) -> list[Part]:
        """The parts, read once for each revision: a page asks for them many times, and the next
        page of the same process again. Nobody changes them."""
        if self._loaded is None or self._loaded[0] != self.revision:
            self._loaded = (self.revision, contents.parts(self))
        return self._loaded[1]

    def usual(self, part: Part) -> Mapping[str, Inherited]:
        """The usual values that an item takes from those above it, by entry."""
        if self._usual is None or self._usual[0] != self.revision:
            self._usual = (self.revision, inherited_values(self.inputs(), self.family))
        return self._usual[1].get(str(part.pk), {})

    def usual_texts(self, part: Part) -> Mapping[str, str]:
        """Their texts alone."""
        return {name: value.text for name, value in self.usual(part).items()}

    def shown(self, part: Part) -> Document:
        """The entries of an item with the usual values that it takes where it gives none."""
        return {**part.entries, **missing_texts(part.entries, self.usual(part))}

    def reload(self) -> None:
        """Forgets the parts that were read: they have changed."""
        self._loaded = self._usual = None

    def under(self, parent: Part | None) -> list[Part]:
        """The parts that stand under one, in their order."""
        key = parent.pk if parent else None
        return [part for part in self.loaded() if part.parent_id == key]

    def code(self) -> Edition:
        """The code edition with the job's local amendments."""
        return amended(self.edition, tuple(item.as_input() for item in contents.amendments(self)))

    @property
    def family(self) -> Code:
        """The family that its code belongs to."""
        return code_of(edition(self.edition).family)

    def entries_of(self, of: str) -> type[Entries]:
        """The entries of a kind under the job's code, and what only its second code asks."""
        own = kind(of).entries_in(self.family)
        other = self.second_family
        if other is None or other == self.family or not kind(of).covers(other):
            return own
        return merged(own, kind(of).entries_in(other), SECOND)

    @property
    def second_family(self) -> Code | None:
        """The family of its second code."""
        return code_of(edition(self.second).family) if self.second else None

    def beside(self, id: str) -> Edition:
        """Another edition for the same parts; the job's amendments go along within one family, for
        a cell of another one's is another figure."""
        if edition(id).family != edition(self.edition).family:
            return edition(id)
        return amended(id, tuple(item.as_input() for item in contents.amendments(self)))

    def limits(self) -> Limits:
        """How far the volts may fall."""
        return Limits(
            self.drop_scheme,  # type: ignore[arg-type]
            self.drop_branch,
            self.drop_total,
            self.drop_sizing,  # type: ignore[arg-type]
            self.drop_method,
        )

    def shop(self) -> Shop:
        """The job's habits and prices, prices for each metre."""
        per = 1.0 if self.units == "metric" else METRES_PER_FOOT
        prices = tuple(sorted((name, float(price) / per) for name, price in self.prices.items()))
        stock = tuple(float(text) for text in self.stock.split())
        return Shop(self.preference, prices, self.basis, stock, self.reserve / 100)


class Part(models.Model):
    """One part of a job's tree, with its entries as typed."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="parts")
    # what stands under a part is taken out with it by name, in one revision; the database refuses
    # to leave it without its parent, and to delete it unseen
    parent = models.ForeignKey(
        "self", models.DO_NOTHING, null=True, blank=True, related_name="children"
    )
    # with gaps, so that a part that moves leaves its neighbours as they are
    position = models.PositiveIntegerField(default=0)
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=80)
    entries = models.JSONField(default=dict)

    class Meta:
        ordering = ("position",)
        constraints = [
            models.UniqueConstraint(
                fields=["job", "parent", "position"],
                name="one_part_per_position",
                nulls_distinct=False,
                deferrable=models.Deferrable.DEFERRED,
            ),
        ]

    def __str__(self) -> str:
        return self.name

    def as_input(self) -> PartInput:
        """The part as the core takes it."""
        parent = str(self.parent_id) if self.parent_id else None
        return PartInput(str(self.id), self.kind, parent, self.entries, self.name)


class Amendment(models.Model):
    """A figure of the code that a jurisdiction has changed for this job, and why."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="amendments")
    topic = models.CharField(max_length=40)
    row = models.CharField(max_length=60)
    column = models.CharField(max_length=40)
    value = models.CharField(max_length=20)
    jurisdiction = models.CharField(max_length=80)
    reason = models.CharField(max_length=200)

    class Meta:
        ordering = ("topic", "row", "column")
        constraints = [
            models.UniqueConstraint(
                fields=["job", "topic", "row", "column"], name="one_amendment_per_cell"
            ),
            models.CheckConstraint(
                condition=~models.Q(jurisdiction="") & ~models.Q(reason=""),
                name="amendment_says_who_and_why",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.topic} {self.row} {self.column}"

    def as_input(self) -> CodeAmendment:
        """The amendment as the core takes it."""
        return CodeAmendment(
            self.topic, self.row, self.column, self.value, self.jurisdiction, self.reason
        )


class Recording(models.Model):
    """What a logger recorded at a part: amperes or kW by time, in columns. One that is not ``kept``
    was read from a file and only looked at so far. Like readings it outlives its part and is not
    undone with the design."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="recordings")
    part = models.ForeignKey(
        Part,
        models.DO_NOTHING,
        null=True,
        blank=True,
        related_name="recordings",
        db_constraint=False,
    )
    part_name = models.CharField(max_length=80)
    name = models.CharField(max_length=80)
    began = models.DateTimeField()
    # columns, unit, seconds and values, as packed JSON
    samples = models.BinaryField(max_length=2_000_000)
    kept = models.BooleanField(default=False)
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-began", "name")
        indexes = [models.Index(fields=["job", "-began"])]
        constraints = [
            models.CheckConstraint(condition=~models.Q(name=""), name="recording_has_a_name")
        ]

    def __str__(self) -> str:
        return f"{self.part_name}: {self.name}"


class KeptReadings(models.Manager["Reading"]):
    """Readings that are in the logbook: those taken out wait a while, to be put back."""

    def get_queryset(self) -> models.QuerySet[Reading]:
        """Without those taken out."""
        return super().get_queryset().filter(out_at__isnull=True)


# what instruments and testers show
READ_UNITS = ("V", "A", "Ω", "MΩ", "ms")


class Reading(models.Model):
    """What an instrument showed on site: where, when, who. The job's logbook; it outlives the part
    that it was taken at."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    job = models.ForeignKey(Job, models.CASCADE, related_name="readings")
    # a part that is deleted may come back by undo under the same id: the link waits for it
    part = models.ForeignKey(
        Part,
        models.DO_NOTHING,
        null=True,
        blank=True,
        related_name="readings",
        db_constraint=False,
    )
    part_name = models.CharField(max_length=80)
    point = models.CharField(max_length=80)
    unit = models.CharField(max_length=2, choices=tuple((unit, unit) for unit in READ_UNITS))
    value = models.FloatField()
    taken_at = models.DateTimeField(default=timezone.now)
    place = models.CharField(max_length=80, blank=True)
    who = models.CharField(max_length=80)
    note = models.CharField(max_length=200, blank=True)
    entered_at = models.DateTimeField(auto_now_add=True)
    out_at = models.DateTimeField(null=True, blank=True)

    objects: ClassVar[Any] = KeptReadings()
    every: ClassVar[Any] = models.Manager()

    class Meta:
        ordering = ("-taken_at", "part_name", "unit", "point")
        indexes = [models.Index(fields=["job", "-taken_at"])]
        constraints = [
            models.CheckConstraint(condition=models.Q(unit__in=READ_UNITS), name="reading_unit"),
            models.CheckConstraint(
                condition=models.Q(value__gte=0) & models.Q(value__lte=100_000),
                name="reading_in_range",
            ),
            models.CheckConstraint(
                condition=~models.Q(who="") & ~models.Q(point=""), name="reading_says_who_and_where"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.part_name} {self.point}: {self.value} {self.unit}"


class Revision(models.Model):
    """One change of a job: what it changed of each thing it touched, before and after."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    action = models.CharField(max_length=10)
    summary = models.TextField()
    changes = models.JSONField()

    class Meta:
        ordering = ("-number",)
        # which revisions touched a part is asked by target
        indexes = [GinIndex(fields=["changes"], opclasses=["jsonb_path_ops"], name="by_target")]
        constraints = [
            models.UniqueConstraint(fields=["job", "number"], name="one_revision_per_number")
        ]

    def __str__(self) -> str:
        return f"{self.job} {self.number}"


class Digest(models.Model):
    """What pages show of a whole job, worked once for each revision; see ``digest``."""

    job = models.OneToOneField(Job, models.CASCADE, primary_key=True)
    stamp = models.CharField(max_length=60)
    answer = models.CharField(max_length=200)
    content = models.JSONField()

    def __str__(self) -> str:
        return f"{self.job_id} {self.stamp}"


class Turn(models.Model):
    """The number of the last request of a browser tab that a job has done. What a tab sends again
    because the answer was lost, or what overtook it on the way, is known by its number."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="turns")
    tab = models.CharField(max_length=32)
    number = models.BigIntegerField()
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "tab"], name="one_turn_per_tab")]

    def __str__(self) -> str:
        return f"{self.tab} {self.number}"
