"""A page asks for long work: what is known already is given, what is short is done in place, the
rest waits for a worker."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from contextlib import suppress
from datetime import timedelta
from time import thread_time
from typing import Any

from django.db import IntegrityError, connection, transaction
from django.utils import timezone
from django.utils.translation import get_language, gettext
from procrastinate.contrib.django.models import ProcrastinateWorker

from voltaje.core.effort import Effort, StoppedError
from voltaje.web.accounts.models import User
from voltaje.web.background import queue
from voltaje.web.background.models import LIVE, Attachment, BackgroundTask
from voltaje.web.background.work import Answered, Asked, LongWork, Sent
from voltaje.web.http import logs
from voltaje.web.jobs import digest
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

# no code figures: s of effort and of processor time that a page may take for it by itself
HERE, HERE_PROCESSOR = 0.4, 0.7
ALONE, ALONE_PROCESSOR = 2.0, 3.0  # no code figures: the same where there is no worker
MOST_WAITING = 4  # no code figure: tasks of one account that wait or run
SMALL = 100_000  # no code figure: bytes of a file that a page reads by itself
HEARD_OF = timedelta(seconds=20)  # no code figure: since when a worker has to have been heard of


class BusyError(Exception):
    """No further task can begin now; ``str()`` says why and what to do."""


def workers() -> int:
    """How many workers are there."""
    since = timezone.now() - HEARD_OF
    return int(ProcrastinateWorker.objects.filter(last_heartbeat__gte=since).count())


def key_of(work: LongWork, job: Job, question: Mapping[str, Any]) -> str:
    """The same for the same question about the same revision under the same rules."""
    asked = [work.name, str(job.pk), job.revision, digest.program(), question]
    return hashlib.sha256(json.dumps(asked, sort_keys=True).encode()).hexdigest()


def done(work: LongWork, job: Job, question: Mapping[str, Any]) -> Any:
    """What a question has come to; ``None`` where nobody has asked it, or it is not done."""
    found = BackgroundTask.objects.filter(key=key_of(work, job, question), job=job, state="done")
    return found.values_list("result", flat=True).first()


def ask(
    work: LongWork, job: Job, question: Mapping[str, Any], so_far: Any = None
) -> BackgroundTask:
    """The task of that question, the one that there is or a new one; its state tells how far it
    is. Without a worker it has what could be found in place. Where a result is known already that
    is to be bettered (``so_far``), nothing is tried in place. Raises :class:`BusyError`."""
    key = key_of(work, job, question)
    found = BackgroundTask.objects.filter(key=key, job=job).order_by("-created_at").first()
    if found is not None:
        return found
    task = BackgroundTask(
        account_id=job.owner_id,
        job=job,
        revision=job.revision,
        work=work.name,
        question=dict(question),
        key=key,
        language=get_language() or "en",
        request=logs.current.get(),
    )
    work_job(job)  # kept for the page itself, so not counted here
    began, here = thread_time(), None
    whole = work.effort(question)
    served = workers() > 0
    most, processor = (HERE, HERE_PROCESSOR) if served else (ALONE, ALONE_PROCESSOR)
    effort = Effort(min(most, whole), stopped=lambda: thread_time() - began > processor)
    with suppress(StoppedError):
        if so_far is not None and served:
            raise StoppedError
        here = work.run(Asked(job, question, effort, lambda *_: None))
    task.result = so_far if here is None else here.result
    task.processor_seconds = thread_time() - began
    if here is not None and (here.whole or whole <= most):
        _end(task, here)
    elif served:
        _begin(task)
    else:
        task.state = "stopped"  # not kept: once there is a worker it is asked again
    return task


def send(
    work: LongWork, account: User, question: Mapping[str, Any], content: bytes
) -> BackgroundTask:
    """A task about an account and a file; what is small, or where there is no worker, is done in
    place. The same file sent twice is one task while it lasts. Raises :class:`BusyError`."""
    marks = [work.name, str(account.pk), hashlib.sha256(content).hexdigest()]
    task = BackgroundTask(
        account=account,
        work=work.name,
        question=dict(question),
        key=hashlib.sha256(json.dumps(marks).encode()).hexdigest(),
        language=get_language() or "en",
        request=logs.current.get(),
    )
    same = BackgroundTask.objects.filter(key=task.key, state__in=LIVE).first()
    if same is not None:
        return same
    if len(content) <= SMALL or not workers():
        began = thread_time()
        answered = work.run(Sent(account, question, Effort(), lambda *_: None, content))
        task.result, task.processor_seconds = answered.result, thread_time() - began
        _end(task, answered)
    else:
        _begin(task, content)
    return task


def _end(task: BackgroundTask, here: Answered) -> None:
    task.state, task.ended_at = "done", timezone.now()
    task.save(force_insert=True)


def _begin(task: BackgroundTask, content: bytes | None = None) -> None:
    """Puts it into the queue. What the same account has asked before of the same item by the same
    work is stopped: nobody waits for it any more."""
    with transaction.atomic():
        with connection.cursor() as cursor:  # one at a time of an account counts and begins
            cursor.execute("select pg_advisory_xact_lock(28, %s)", [task.account_id])
        live = BackgroundTask.objects.filter(account_id=task.account_id, state__in=LIVE)
        same = [
            one
            for one in live.filter(work=task.work, job=task.job, job__isnull=False)
            if one.question.get("part") == task.question.get("part")
        ]
        for one in same:
            forget(one)
        if live.count() >= MOST_WAITING:
            raise BusyError(
                gettext(
                    "{count} long calculations of this account are waiting or running: stop one of"
                    " them, or wait until it ends."
                ).format(count=MOST_WAITING)
            )
        try:
            with transaction.atomic():
                task.save(force_insert=True)
                if content is not None:
                    Attachment.objects.create(task=task, content=content)
        except IntegrityError:  # somebody has asked the same at the same time
            raise BusyError(gettext("This is being calculated already: reload the page.")) from None
        queue.put(task)


def forget(task: BackgroundTask) -> None:
    """Ends it, and whoever asks the same again gets a new one."""
    stop(task)
    BackgroundTask.objects.filter(pk=task.pk).update(key=f"over {task.pk}")


def stop(task: BackgroundTask) -> None:
    """Ends it: at once where it waits, else as soon as its worker asks, with what it has found."""
    now = timezone.now()
    mine = BackgroundTask.objects.filter(pk=task.pk)
    if not mine.filter(state="waiting").update(state="stopped", ended_at=now, stop_asked=True):
        mine.filter(state="running").update(stop_asked=True)
    task.refresh_from_db()
