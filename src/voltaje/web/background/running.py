"""A task at work, in the worker: what it may take, its progress, its end."""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping
from datetime import timedelta
from time import monotonic, thread_time
from typing import Any

from django.db import Error, transaction
from django.db.models import QuerySet
from django.utils import timezone, translation

from voltaje.core.effort import Effort, StoppedError
from voltaje.core.faults import note
from voltaje.web.background.models import Attachment, BackgroundTask
from voltaje.web.background.work import Answered, Asked, LongWork, Sent, work_of
from voltaje.web.http import logs
from voltaje.web.jobs.models import Job
from voltaje.web.operations import metrics

log = logging.getLogger("voltaje.background")
LOOK_EVERY = 0.3  # no code figure: s between two looks whether it is to stop
MOST_ATTEMPTS = 3  # no code figure: how often a task is begun whose worker has ended
MOST_PROCESSOR = 300.0  # no code figure: s of processor time that any task may take
KEPT = timedelta(days=7)  # no code figure: how long an answer is kept
KEPT_UNSEEN = timedelta(hours=1)  # no code figure: and one that was stopped or has failed


class Running:
    """A task between its beginning and its end: writes its progress and hears whether it is to
    stop, both at most every :data:`LOOK_EVERY`. ``ending`` says whether the worker is to end."""

    def __init__(self, task: BackgroundTask, ending: Callable[[], bool]) -> None:
        self.task, self.ending = task, ending
        self.began, self.looked = thread_time(), 0.0
        self.stopped = False
        # within a transaction it only looks: what it wrote there would keep others from the row
        self.only_looks = False
        self._progress: Mapping[str, Any] | None = None
        self._best: Any = None

    def progress(self, told: Mapping[str, Any], best: Any = None) -> None:
        """Takes the progress; it is written at the next look."""
        self._progress, self._best = told, best
        self.is_stopped()

    def is_stopped(self) -> bool:
        """Whether it is to stop: somebody has asked, or it takes too long."""
        if self.stopped or monotonic() - self.looked < LOOK_EVERY:
            return self.stopped
        self.looked = monotonic()
        mine = _held(self.task)
        changed: dict[str, Any] = {"processor_seconds": self.processor_seconds()}
        if self._progress is not None:
            changed["progress"] = dict(self._progress)
        if self._best is not None:
            changed["result"] = self._best
        self._progress = self._best = None
        try:
            held = mine.count() if self.only_looks else mine.update(**changed)
            asked = mine.filter(stop_asked=True).exists()
        except Error:
            log.warning("a task loses its database", exc_info=True)
            held, asked = 0, True
        # nobody holds it any more: its job was deleted, or another worker has taken it
        long = self.processor_seconds() > MOST_PROCESSOR
        self.stopped = asked or not held or long or self.ending()
        return self.stopped

    def processor_seconds(self) -> float:
        """s of processor time so far."""
        return thread_time() - self.began


def _held(task: BackgroundTask) -> QuerySet[BackgroundTask]:
    """Its row, as long as this is the last that began it: one that was slow to be heard of may have
    been begun again by another worker."""
    return BackgroundTask.objects.filter(pk=task.pk, state="running", attempts=task.attempts)


class EndingError(Exception):
    """The worker ends before its task does: another is to begin it again."""


def perform(key: str, ending: Callable[[], bool] = lambda: False) -> None:
    """Does the task of that id, unless it is over. Whatever befalls it is kept with it. Raises
    :class:`EndingError`."""
    task = BackgroundTask.objects.filter(pk=key).first()
    if task is None or not task.live:
        return
    if task.stop_asked or task.attempts >= MOST_ATTEMPTS:
        _end(task, "stopped" if task.stop_asked else "failed")
        return
    job = None
    if task.job_id is not None:
        job = Job.objects.filter(pk=task.job_id, revision=task.revision).first()
        if job is None:
            _end(task, "stopped")  # changed since: who looks at it asks anew
            return
    if not _begin(task):
        return
    token = logs.current.set(task.request)
    try:
        with translation.override(task.language):
            _run(task, job, Running(task, ending))
    finally:
        logs.current.reset(token)


def _run(task: BackgroundTask, job: Job | None, running: Running) -> None:
    answered: Answered | None = None
    state, fault = "done", ""
    try:
        work = work_of(task.work)
        effort = Effort(work.effort(task.question), running.is_stopped)
        if job is not None:
            answered = work.run(Asked(job, task.question, effort, running.progress))
        else:
            answered = _take(task, work, effort, running)
    except StoppedError:
        state = "stopped"
    except Exception as error:
        state, fault = "failed", note(error, f"long work: {task.work}")
    if running.ending() and (job is not None or answered is None):
        _held(task).update(state="waiting")
        raise EndingError
    if running.stopped and state == "done" and job is not None:
        state = "stopped"
    task.processor_seconds = running.processor_seconds()
    _end(task, state, answered, fault)


def _take(task: BackgroundTask, work: LongWork, effort: Effort, running: Running) -> Answered:
    """What is about an account: what it writes and that it is done are one, so that a task which is
    begun again after a killed worker writes nothing twice."""
    content = bytes(Attachment.objects.get(task=task).content)
    running.only_looks = True
    with transaction.atomic():
        answered = work.run(Sent(task.account, task.question, effort, running.progress, content))
        if running.stopped or running.ending():
            raise StoppedError
        if not _held(task).update(state="done", result=answered.result):
            raise StoppedError
        Attachment.objects.filter(task=task).delete()
    return answered


def _begin(task: BackgroundTask) -> bool:
    """Whether it is this worker's, which its number of attempts tells from then on."""
    before = BackgroundTask.objects.filter(pk=task.pk, state=task.state, attempts=task.attempts)
    task.state, task.started_at, task.attempts = "running", timezone.now(), task.attempts + 1
    return bool(before.update(state="running", started_at=task.started_at, attempts=task.attempts))


def _end(
    task: BackgroundTask, state: str, answered: Answered | None = None, fault: str = ""
) -> None:
    task.state, task.fault, task.ended_at = state, fault, timezone.now()
    changed = {name: getattr(task, name) for name in ("state", "fault", "ended_at")}
    changed["processor_seconds"] = task.processor_seconds
    if answered is not None:
        changed["result"] = answered.result
    mine = BackgroundTask.objects.filter(pk=task.pk, attempts=task.attempts)
    if not mine.update(**changed):
        return  # another worker has begun it again: its end is the one that counts
    seconds = (task.ended_at - (task.started_at or task.created_at)).total_seconds()
    metrics.tasks.labels(task.work, state).observe(seconds)
    metrics.task_processor.labels(task.work).inc(task.processor_seconds)
    extra = {"work": task.work, "state": state, "ms": round(1000 * seconds, 1)}
    level = logging.ERROR if state == "failed" else logging.INFO
    log.log(level, "long work: %s", task.work, extra=extra)


def clear() -> int:
    """Takes out what is over and old; how many."""
    now = timezone.now()
    over = BackgroundTask.objects.filter(ended_at__lt=now - KEPT)
    unseen = BackgroundTask.objects.filter(
        ended_at__lt=now - KEPT_UNSEEN, state__in=("stopped", "failed")
    )
    return int(over.delete()[0] + unseen.delete()[0])
