"""Results of practice: kept, looked at by kind and by slip, out and in with an account's backup."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, Literal

from django.utils import timezone
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from voltaje.core.codes import editions
from voltaje.core.kinds import kinds
from voltaje.core.practice import Marked, PracticeProblem
from voltaje.core.practice.slips import in_general
from voltaje.web.practice.models import PracticeResult

MOST_KEPT = 5000  # no code figures: what an account keeps, and what is weighed of it
RECENT = 5
AGE = 14.0  # no code figure: days after which half of what was right counts as forgotten
DAY = 86_400.0


@dataclass(frozen=True, slots=True)
class Progress:
    """One kind: how often it was ``tried``, percent of the points, the ``usual`` slips with their
    number, and the ``share`` that is thought to be remembered, 0 to 1."""

    kind: str
    tried: int
    percent: float
    usual: tuple[tuple[str, int], ...]
    share: float


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
    """Each kind that was practised, the least remembered first."""
    by_kind: dict[str, list[PracticeResult]] = {}
    for row in PracticeResult.objects.filter(owner=owner):  # the latest first
        by_kind.setdefault(row.kind, []).append(row)
    now, found = timezone.now(), []
    for name, rows in by_kind.items():
        most = sum(row.most for row in rows)
        slips = Counter(slip for row in rows for slip in row.slips)
        recent = rows[:RECENT]
        right = sum(row.points for row in recent) / max(1, sum(row.most for row in recent))
        days = (now - rows[0].marked_at).total_seconds() / DAY
        found.append(
            Progress(
                name,
                len(rows),
                100 * sum(row.points for row in rows) / most if most else 0.0,
                tuple(slips.most_common(2)),
                right * 0.5 ** (max(0.0, days) / AGE),
            )
        )
    return tuple(sorted(found, key=lambda one: one.share))


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
