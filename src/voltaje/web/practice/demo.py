"""What the demo's account has practised: problems marked like anybody's, a slip in some lines."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, points, problem
from voltaje.core.practice.slips import step_slips
from voltaje.web.practice import results
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.models import PracticeResult

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


def practise(owner: Any) -> None:
    """Marks each of the problems and keeps it."""
    for name, seed, slipped, days in DONE:
        found = problem(kind(name), edition(CODE), bases_of(name, CODE), seed)
        if found is None:
            continue
        marker = Marker(found)
        given = {line.id: line.shown for line in marker.lines}
        left = slipped
        for line in marker.lines:
            # those that learners make: 125 % or √3 left out
            slip = next((s for s in step_slips(line) if not s.words.given), None)
            if left and slip is not None:
                given[line.id] = f"{slip.value:.5g}"
                left -= 1
        marked = marker.mark(given)
        results.keep(owner, found, marked, points(marked, {}), hard=False)
        PracticeResult.objects.filter(owner=owner, seed=seed, kind=name).update(
            marked_at=timezone.now() - timedelta(days=days)
        )
