"""Papers of a class out and in with an account's backup, and into a visitor's copy of the demo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from django.db import transaction
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, TypeAdapter

from voltaje.core.codes import editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import kinds
from voltaje.web.practice.models import ClassPaper, Sitting, SittingProblem
from voltaje.web.practice.sittings import MOST_PAPERS, MOST_SITTINGS

Words = Annotated[str, Field(max_length=300)]


class _Doc(BaseModel):
    model_config = ConfigDict(extra="ignore")


class ProblemDoc(_Doc):
    """A learner's problem as a backup holds it."""

    number: Annotated[int, Field(ge=1, le=100)]
    kind: Annotated[str, Field(max_length=20)]
    system: Annotated[str, Field(max_length=20)]
    document: dict[str, Any]
    typed: dict[str, Words]
    points: Annotated[float, Field(ge=0, le=10_000)]
    most: Annotated[int, Field(ge=0, le=10_000)]
    slips: Annotated[list[Words], Field(max_length=200)]
    saved_at: AwareDatetime | None


class SittingDoc(_Doc):
    """A learner's paper as a backup holds it."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    place: Annotated[int, Field(ge=1, le=10_000)]
    begun_at: AwareDatetime
    until: AwareDatetime
    handed_in_at: AwareDatetime | None
    problems: Annotated[list[ProblemDoc], Field(max_length=100)]


class ClassPaperDoc(_Doc):
    """A paper of a class as a backup holds it; code and addresses are made anew."""

    title: Annotated[str, Field(max_length=80)]
    code: Annotated[str, Field(max_length=20)]
    kinds: Annotated[list[Annotated[str, Field(max_length=20)]], Field(max_length=100)]
    number: Annotated[int, Field(ge=1, le=100)]
    level: Literal["guided", "own", "answer"]
    hard: bool
    seed: Annotated[str, Field(pattern="^[A-Za-z0-9]{1,12}$")]
    minutes: Annotated[int, Field(ge=1, le=10_000)] | None
    made_at: AwareDatetime
    expires_at: AwareDatetime
    sittings: Annotated[list[SittingDoc], Field(max_length=MOST_SITTINGS)]


DOCS = TypeAdapter(Annotated[list[ClassPaperDoc], Field(max_length=MOST_PAPERS)])


def out(owner: Any) -> list[dict[str, Any]]:
    """All papers of an account with what their learners gave, the oldest first."""
    papers = ClassPaper.objects.filter(owner=owner).order_by("made_at")
    return [
        {
            **_fields(paper, ClassPaperDoc),
            "sittings": [
                {
                    **_fields(sitting, SittingDoc),
                    "problems": [_fields(row, ProblemDoc) for row in sitting.problems.all()],
                }
                for sitting in paper.sittings.all()
            ],
        }
        for paper in papers.prefetch_related("sittings__problems")
    ]


def _fields(row: Any, doc: type[BaseModel]) -> dict[str, Any]:
    return {
        name: getattr(row, name)
        for name in doc.model_fields
        if name not in ("sittings", "problems")
    }


def read(document: Any) -> list[ClassPaperDoc]:
    """The papers of a backup. Raises pydantic's ``ValidationError``."""
    return DOCS.validate_python(document)


def bring(owner: Any, found: Sequence[ClassPaperDoc]) -> None:
    """Makes them papers of an account; what it has already stays as it is."""
    known = {one.name for one in kinds()}, {book.id for book in editions()}
    there = set(ClassPaper.objects.filter(owner=owner).values_list("title", "made_at"))
    room = MOST_PAPERS - len(there)
    with transaction.atomic():
        for one in found:
            if room <= 0 or not set(one.kinds) <= known[0] or one.code not in known[1]:
                continue
            if not one.kinds or (one.title, one.made_at) in there:
                continue
            _paper_in(owner, one, known[0])
            room -= 1


def _paper_in(owner: Any, one: ClassPaperDoc, known: set[str]) -> None:
    paper = ClassPaper.objects.create(owner=owner, **one.model_dump(exclude={"sittings"}))
    places: set[int | str] = set()
    for learner in one.sittings:
        if {learner.place, learner.name.lower()} & places:
            continue
        places |= {learner.place, learner.name.lower()}
        sitting = Sitting.objects.create(paper=paper, **learner.model_dump(exclude={"problems"}))
        rows = {row.number: row for row in learner.problems}
        SittingProblem.objects.bulk_create(
            SittingProblem(
                sitting=sitting, **{**row.model_dump(), "points": min(row.points, row.most)}
            )
            for row in rows.values()
            if row.kind in known and row.system in SYSTEMS
        )
