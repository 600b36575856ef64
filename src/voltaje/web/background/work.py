"""What there is of long work: each kind of it says how it is done and how its progress is told."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from voltaje.core.effort import Effort
from voltaje.web.accounts.models import User
from voltaje.web.jobs.models import Job

Progress = Callable[[Mapping[str, Any], Any], None]


@dataclass(frozen=True, slots=True)
class Asked:
    """A question about a job at work: the job as it is, what is asked, the effort that it may take,
    and where progress goes: a mapping (``share``, 0 to 1, and whatever its words need) and the best
    answer so far, ``None`` without one."""

    job: Job
    question: Mapping[str, Any]
    effort: Effort
    progress: Progress


@dataclass(frozen=True, slots=True)
class Sent:
    """The same about an account: who it is, what is asked, and the file that was sent along."""

    account: User
    question: Mapping[str, Any]
    effort: Effort
    progress: Progress
    content: bytes


@dataclass(frozen=True, slots=True)
class Answered:
    """What it came to, as JSON. ``whole``: there is nothing left to look for with the effort that
    was asked for."""

    result: Any
    whole: bool = True


@dataclass(frozen=True, slots=True)
class LongWork:
    """A kind of long work. ``run`` takes what is :class:`Asked` about a job, or what is
    :class:`Sent` about an account; where it was stopped without an answer it raises
    :class:`~voltaje.core.effort.StoppedError`. ``effort`` says how much a question may take, s of
    effort; ``words`` tell a progress in the reader's language."""

    name: str
    run: Callable[[Any], Answered]
    effort: Callable[[Mapping[str, Any]], float]
    words: Callable[[Mapping[str, Any]], str]


_works: dict[str, LongWork] = {}


def register(work: LongWork) -> LongWork:
    """Makes it known to pages and workers."""
    _works[work.name] = work
    return work


def work_of(name: str) -> LongWork:
    """The work of that name. Raises ``KeyError``."""
    return _works[name]
