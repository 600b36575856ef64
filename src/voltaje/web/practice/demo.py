"""What the demo's account has practised and set its apprentices: problems marked like anybody's, a
slip in some lines."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, points, problem
from voltaje.core.practice.slips import step_slips
from voltaje.web.practice import results, sittings
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.models import ClassPaper, PracticeResult, Sitting

# kind, seed, lines with a slip, days ago: invented
DONE = (
    ("motor", "m1", 2, 12),
    ("motor", "m2", 1, 5),
    ("transformer", "t1", 3, 9),
    ("circuit", "c1", 1, 6),
    ("circuit", "c2", 0, 1),
    ("feeder", "f1", 2, 3),
    ("amperes", "a1", 0, 2),
)
CODE = "nec-2020"
# title, kinds, problems, minutes, days ago, and of each apprentice the slips and the minutes
PAPERS = (
    ("Motors and their circuits", ("motor", "circuit"), 3, 40, 16,
     (("Ada", 0, 31), ("Bo", 2, 38), ("Cleo", 1, 29), ("Dov", 3, 40))),
    ("Transformers", ("transformer",), 2, 30, 9, (("Ada", 1, 22), ("Bo", 1, 27), ("Cleo", 0, 18))),
    ("Feeders and amperes", ("feeder", "amperes"), 2, None, 2, (("Ada", 0, 25), ("Dov", 2, 33))),
)  # fmt: skip


def practise(owner: Any) -> None:
    """Marks each of the problems and keeps it."""
    for name, seed, slipped, days in DONE:
        found = problem(kind(name), edition(CODE), bases_of(name, CODE), seed)
        if found is None:
            continue
        marker = Marker(found)
        marked = marker.mark(_with_slips(marker, slipped))
        results.keep(owner, found, marked, points(marked, {}), hard=False)
        PracticeResult.objects.filter(owner=owner, seed=seed, kind=name).update(
            marked_at=timezone.now() - timedelta(days=days)
        )


def _with_slips(marker: Marker, slipped: int) -> dict[str, str]:
    """The key with so many slips of those that learners make: 125 % or √3 left out."""
    given = {line.id: line.shown for line in marker.lines}
    left = slipped
    for line in marker.lines:
        slip = next((s for s in step_slips(line) if not s.words.given), None)
        if left and slip is not None:
            given[line.id] = f"{slip.value:.5g}"
            left -= 1
    return given


def set_papers(owner: Any) -> None:
    """The papers of the apprentices, joined, worked and handed in like anybody's."""
    for title, kinds, number, minutes, days, class_of in PAPERS:
        made = timezone.now() - timedelta(days=days)
        paper = ClassPaper.objects.create(
            owner=owner,
            title=title,
            code=CODE,
            kinds=list(kinds),
            number=number,
            level="guided",
            seed=f"d{days}",
            minutes=minutes,
            made_at=made,
            expires_at=made + timedelta(days=30),
        )
        for name, slipped, took in class_of:
            sitting = sittings.join(paper, name)
            for row in sitting.problems.all():
                found = sittings.problem_of(row)
                if found is not None:
                    marker = Marker(found)
                    sittings.save(row, marker, _with_slips(marker, slipped))
                    slipped = max(0, slipped - 1)
            ended = made + timedelta(minutes=took)
            Sitting.objects.filter(pk=sitting.pk).update(
                begun_at=made, until=ended, handed_in_at=ended
            )
