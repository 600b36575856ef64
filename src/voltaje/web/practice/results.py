"""Results of practice: kept, looked at by kind and by slip, out and in with an account's backup."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated, Any, Literal

from django.utils import timezone
from fsrs import Card, Rating, Scheduler
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from voltaje.core.codes import editions
from voltaje.core.kinds import kinds
from voltaje.core.practice import Marked, PracticeProblem
from voltaje.core.practice.slips import in_general
from voltaje.web.practice.models import PracticeResult

MOST_KEPT = 5000  # no code figures: what an account keeps, and how far back a kind is looked at
RECENT = 60
# no code figures: percent of the points that are taken for easily, well and hardly remembered
EASY, WELL, HARDLY = 95.0, 75.0, 50.0
# days alone: nobody is asked again within the hour, and the same results give the same day
MEMORY = Scheduler(learning_steps=(), relearning_steps=(), enable_fuzzing=False)


@dataclass(frozen=True, slots=True)
class Progress:
    """One kind: how often it was ``tried``, percent of the points, the ``usual`` slips with their
    number, how likely it is remembered now, 0 to 1, and when it is ``due`` again."""

    kind: str
    tried: int
    percent: float
    usual: tuple[tuple[str, int], ...]
    remembered: float
    due: datetime

    @property
    def days(self) -> int:
        """Whole days until it is due; 0: now."""
        return max(0, (self.due.date() - timezone.now().date()).days)


def keep(
    owner: Any, problem: PracticeProblem, marked: Sequence[Marked], points: float, hard: bool
) -> None:
    """Keeps the first marking of a problem; what comes after it has seen the answer."""
    if PracticeResult.objects.filter(owner=owner).count() >= MOST_KEPT:
        return
    slips = [in_general(slip) for one in marked for slip in one.slips[:1]]
    PracticeResult.objects.get_or_create(
        owner=owner,
        kind=problem.kind.name,
        code=problem.context.edition.id,
        seed=problem.seed,
        level=problem.level,
        hard=hard,
        defaults={
            "points": min(points, len(marked)),
            "most": len(marked),
            "slips": slips[:50],
            "marked_at": timezone.now(),
        },
    )


def progress(owner: Any) -> tuple[Progress, ...]:
    """Each kind that was practised, the one that is due first before the others: each result is a
    review of the kind for the spaced repetition (FSRS, by the py-fsrs library)."""
    by_kind: dict[str, list[PracticeResult]] = {}
    for row in PracticeResult.objects.filter(owner=owner):  # the latest first
        by_kind.setdefault(row.kind, []).append(row)
    now, found = timezone.now(), []
    for name, rows in by_kind.items():
        most = sum(row.most for row in rows)
        slips = Counter(slip for row in rows for slip in row.slips)
        card = Card(card_id=1)
        for row in reversed(rows[:RECENT]):
            card, _ = MEMORY.review_card(card, rating(row.points, row.most), row.marked_at)
        found.append(
            Progress(
                name,
                len(rows),
                100 * sum(row.points for row in rows) / most if most else 0.0,
                tuple(slips.most_common(2)),
                MEMORY.get_card_retrievability(card, now),
                card.due,
            )
        )
    return tuple(sorted(found, key=lambda one: (one.due, one.kind)))


def rating(points: float, most: int) -> Rating:
    """How well a problem says that its kind is remembered."""
    percent = 100 * points / most if most else 100.0
    if percent >= EASY:
        return Rating.Easy
    if percent >= WELL:
        return Rating.Good
    return Rating.Hard if percent >= HARDLY else Rating.Again


def streak(owner: Any) -> int:
    """Days in a row with practice, up to today or yesterday."""
    days = set(PracticeResult.objects.filter(owner=owner).values_list("marked_at__date", flat=True))
    day = timezone.now().date()
    if day not in days:
        day -= timedelta(days=1)
    found = 0
    while day in days:
        found, day = found + 1, day - timedelta(days=1)
    return found


class ResultDoc(BaseModel):
    """A result as a backup holds it."""

    model_config = ConfigDict(extra="ignore")

    kind: Annotated[str, Field(max_length=20)]
    code: Annotated[str, Field(max_length=20)]
    seed: Annotated[str, Field(pattern="^[A-Za-z0-9]{1,16}$")]
    level: Literal["guided", "own", "answer"]
    hard: bool
    points: Annotated[float, Field(ge=0, le=10_000)]
    most: Annotated[int, Field(ge=0, le=10_000)]
    slips: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=50)]
    marked_at: datetime


DOCS = TypeAdapter(Annotated[list[ResultDoc], Field(max_length=MOST_KEPT)])


def out(owner: Any) -> list[dict[str, Any]]:
    """All results of an account, the oldest first."""
    rows = PracticeResult.objects.filter(owner=owner).order_by("marked_at")
    return [{name: getattr(row, name) for name in ResultDoc.model_fields} for row in rows]


def read(document: Any) -> list[ResultDoc]:
    """The results of a backup. Raises pydantic's ``ValidationError``."""
    return DOCS.validate_python(document)


def bring(owner: Any, found: Sequence[ResultDoc]) -> None:
    """Makes them rows of an account; what it has already stays as it is."""
    known = {one.name for one in kinds()}, {book.id for book in editions()}
    PracticeResult.objects.bulk_create(
        [
            PracticeResult(owner=owner, **{**one.model_dump(), "points": min(one.points, one.most)})
            for one in found
            if one.kind in known[0] and one.code in known[1] and timezone.is_aware(one.marked_at)
        ],
        ignore_conflicts=True,
    )
