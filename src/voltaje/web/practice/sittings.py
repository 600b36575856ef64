"""Papers of a class in the browser: begun, saved and handed in; results by learner and by slip."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Max
from django.utils import timezone

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import kind
from voltaje.core.practice import Marked, Marker, PracticeProblem, points
from voltaje.core.practice.problems import as_given
from voltaje.core.practice.slips import in_general
from voltaje.web.practice.models import ClassPaper, Sitting, SittingProblem
from voltaje.web.practice.paper import level_of, problems_of

# no code figures: what an account keeps, and how many may join one paper
MOST_PAPERS, MOST_SITTINGS = 100, 60
GRACE = timedelta(seconds=30)  # no code figure: what was sent as the time ended still counts


class NameTakenError(ValueError):
    """Somebody on this paper has that name already."""


class FullError(ValueError):
    """No more learners fit on this paper."""


def join(paper: ClassPaper, name: str) -> Sitting:
    """A learner's paper with its problems, begun now. Raises :class:`NameTakenError` and
    :class:`FullError`."""
    now = timezone.now()
    ends = now + timedelta(minutes=paper.minutes) if paper.minutes else paper.expires_at
    with transaction.atomic():
        ClassPaper.objects.select_for_update().get(pk=paper.pk)  # two at once have two places
        if paper.sittings.filter(name__iexact=name).exists():
            raise NameTakenError(name)
        if paper.sittings.count() >= MOST_SITTINGS:
            raise FullError(name)
        place = (paper.sittings.aggregate(last=Max("place"))["last"] or 0) + 1
        try:
            sitting = Sitting.objects.create(
                paper=paper, name=name, place=place, until=min(ends, paper.expires_at)
            )
        except IntegrityError as error:  # alike in letters that this program takes for others
            raise NameTakenError(name) from error
        made = problems_of(
            paper.kinds,
            edition(paper.code),
            paper.number,
            paper.seed,
            place,
            level_of(paper.level),
            paper.hard,
        )
        SittingProblem.objects.bulk_create(
            SittingProblem(
                sitting=sitting,
                number=number,
                kind=one.kind.name,
                system=one.context.supply.system.id,
                document=one.document,
                most=len(Marker(one).lines),
            )
            for number, one in made
        )
    return sitting


def problem_of(row: SittingProblem) -> PracticeProblem | None:
    """The problem that a row keeps; ``None`` where its entries hold no longer."""
    paper = row.sitting.paper
    return as_given(
        kind(row.kind),
        edition(paper.code),
        SYSTEMS[row.system],
        row.document,
        level_of(paper.level),
        f"{paper.seed}{row.sitting.place}x{row.number}",
    )


def takes(sitting: Sitting) -> bool:
    """Whether what is sent now still counts."""
    return sitting.handed_in_at is None and timezone.now() < sitting.until + GRACE


def save(row: SittingProblem, marker: Marker, typed: Mapping[str, str]) -> None:
    """Keeps what was typed for a problem, and marks it; nobody is told yet."""
    marked = marker.mark(typed)
    row.typed = {name: text for name, text in typed.items() if text}
    row.points = min(points(marked, {}), float(row.most))
    row.slips = [in_general(slip) for one in marked for slip in one.slips[:1]]
    row.saved_at = timezone.now()
    row.save(update_fields=["typed", "points", "slips", "saved_at"])


def remark(row: SittingProblem, marker: Marker) -> tuple[Marked, ...]:
    """How each line of a kept problem was marked."""
    return marker.mark(row.typed)


def hand_in(sitting: Sitting) -> None:
    """Ends a paper; what is kept of it counts."""
    Sitting.objects.filter(pk=sitting.pk, handed_in_at=None).update(handed_in_at=timezone.now())


def reopen(sitting: Sitting) -> None:
    """Gives a learner the whole time of the paper once more, with what is kept of it."""
    paper, now = sitting.paper, timezone.now()
    ends = now + timedelta(minutes=paper.minutes) if paper.minutes else paper.expires_at
    sitting.until, sitting.handed_in_at = min(ends, paper.expires_at), None
    sitting.save(update_fields=["until", "handed_in_at"])


@dataclass(frozen=True, slots=True)
class LearnerResult:
    """A learner on a paper: the ``sitting``, its problems, ``points`` of ``most``, minutes from
    the first look to the end (``None``: still at work)."""

    sitting: Sitting
    problems: tuple[SittingProblem, ...]
    points: float
    most: int
    minutes: float | None

    @property
    def percent(self) -> float:
        return 100 * self.points / self.most if self.most else 0.0


@dataclass(frozen=True, slots=True)
class SlipResult:
    """A slip on a paper: how often, and by how many learners."""

    words: str
    count: int
    learners: int


def learners(paper: ClassPaper) -> list[LearnerResult]:
    """The results of a paper by learner, in the order in which they joined."""
    found = []
    for sitting in paper.sittings.prefetch_related("problems"):
        rows = tuple(sitting.problems.all())
        ended = sitting.handed_in_at or (sitting.until if sitting.over else None)
        found.append(
            LearnerResult(
                sitting,
                rows,
                sum(row.points for row in rows),
                sum(row.most for row in rows),
                (ended - sitting.begun_at).total_seconds() / 60 if ended else None,
            )
        )
    return found


def slips(results: Sequence[LearnerResult]) -> list[SlipResult]:
    """The slips of a paper, the most frequent first."""
    count: Counter[str] = Counter()
    who: dict[str, set[int]] = {}
    for one in results:
        for row in one.problems:
            for words in row.slips:
                count[words] += 1
                who.setdefault(words, set()).add(one.sitting.place)
    return [SlipResult(words, times, len(who[words])) for words, times in count.most_common()]


COLUMNS = ("Name", "Begun", "Handed in", "Minutes", "Problem", "Kind", "Points", "Of", "Slips")


def rows(results: Sequence[LearnerResult]) -> Iterator[list[Any]]:
    """The results as a table, a row for each learner and problem."""
    for one in results:
        ended = one.sitting.handed_in_at
        for row in one.problems:
            yield [
                one.sitting.name,
                one.sitting.begun_at.isoformat(timespec="seconds"),
                ended.isoformat(timespec="seconds") if ended else "",
                "" if one.minutes is None else round(one.minutes, 1),
                row.number,
                kind(row.kind).label,
                row.points,
                row.most,
                "; ".join(row.slips),
            ]
