"""What a program may read of the account's own jobs."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from django.utils.translation import get_language, gettext
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from pydantic import BaseModel
from rest_framework.permissions import IsAuthenticated
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from voltaje.web.api import job_answers as answers
from voltaje.web.background import asking
from voltaje.web.background.models import BackgroundTask
from voltaje.web.documents import long_work as document_work
from voltaje.web.documents import sections
from voltaje.web.documents.labels import labels_of
from voltaje.web.documents.presets import SECTIONS, USUAL, known
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job
from voltaje.web.materials import long_work as material_work
from voltaje.web.materials import price_list
from voltaje.web.materials.views import priced_order
from voltaje.web.work_schedule import long_work as schedule_work
from voltaje.web.work_schedule.arranged import arranged
from voltaje.web.work_schedule.models import WorkSchedule
from voltaje.web.work_schedule.views import question_of

AGAIN = 2  # no code figure: s after which it is worth asking again
MOST_ITEMS = 25  # no code figure: of a job whose every worksheet is told within a second
NOT_YET = OpenApiResponse(answers.WaitingAnswer, "Not done yet.")
BUSY = OpenApiResponse(answers.WaitingAnswer, "Too much waits already.")
SECTION = OpenApiParameter(
    "section", str, many=True, enum=list(SECTIONS), description="Sections; without: of a permit."
)


def _own(request: Request, job_id: Any) -> Job:
    job: Job = get_object_or_404(Job.objects.of(request.user), pk=job_id)
    return job


def _response(found: BaseModel, status: int = 200) -> Response:
    return Response(found.model_dump(mode="json"), status=status)


def _waiting(task: BackgroundTask | None, words: str) -> Response:
    """Not yet (202), or too much waits (429)."""
    state = task.state if task is not None else "busy"
    answer = _response(answers.WaitingAnswer(state=state, words=words), 202 if task else 429)
    answer["Retry-After"] = str(AGAIN)
    return answer


class OwnJobs(APIView):
    """What belongs to an account."""

    permission_classes = (IsAuthenticated,)


class JobList(OwnJobs):
    """The account's jobs."""

    @extend_schema(operation_id="jobs", summary="Own jobs", responses={200: answers.JobsAnswer})
    def get(self, request: Request) -> Response:
        """The newest first."""
        found = [
            answers.JobAnswer(
                id=job.pk,
                name=job.name,
                code=job.edition,
                units="us" if job.units == "us" else "metric",
                revision=job.revision,
                archived=job.archived_at is not None,
            )
            for job in Job.objects.of(request.user).order_by("-created_at")
        ]
        return _response(answers.JobsAnswer(jobs=found))


class Materials(OwnJobs):
    """A job's materials with prices by the account's list."""

    @extend_schema(
        operation_id="materials",
        summary="Materials of a job",
        responses={200: answers.MaterialsAnswer, 202: NOT_YET, 429: BUSY},
    )
    def get(self, request: Request, job_id: Any) -> Response:
        """The order at the job's revision."""
        job = _own(request, job_id)
        question = {"language": get_language() or "en"}
        try:
            task = asking.ask(material_work.MATERIALS, job, question)
        except asking.BusyError as error:
            return _waiting(None, str(error))
        if not task.result:
            return _waiting(task, gettext("Adding up the materials."))
        kept = price_list.list_of(request.user)
        order = material_work.order_of(task.result)
        return _response(answers.materials(job, kept, order, priced_order(job, kept, order)))


class Labels(OwnJobs):
    """What the labels of a job say."""

    @extend_schema(
        operation_id="labels",
        summary="Labels of a job",
        responses={200: answers.LabelsAnswer},
    )
    def get(self, request: Request, job_id: Any) -> Response:
        """The labels of boards, transformers and circuits."""
        job = _own(request, job_id)
        found = [
            answers.LabelAnswer(
                item=one.item, of=one.of, title=one.title, lines=[str(line) for line in one.lines]
            )
            for one in labels_of(job, timezone.localdate().isoformat())
        ]
        return _response(answers.LabelsAnswer(job=job.pk, revision=job.revision, labels=found))


class Documents(OwnJobs):
    """A set of documents as blocks."""

    @extend_schema(
        operation_id="documents",
        summary="Documents of a job",
        parameters=[SECTION],
        responses={200: answers.DocumentAnswer},
    )
    def get(self, request: Request, job_id: Any) -> Response:
        """The sections that are asked for; worksheets of all items only of a small job."""
        job = _own(request, job_id)
        names = known(request.query_params.getlist("section") or USUAL["permit"])
        if len(job.loaded()) > MOST_ITEMS:
            names = [name for name in names if name not in ("sheets", "main_sheets")]
        work = sections.Worked(job, work_job(job), request.user.email)
        blocks = document_work.blocks_of(work, names)
        return _response(answers.document(job, sections.mark_of(job), names, blocks))


class Schedules(OwnJobs):
    """The work schedules of a job."""

    @extend_schema(
        operation_id="work_schedules",
        summary="Work schedules of a job",
        responses={200: {"type": "array", "items": {"type": "string", "format": "uuid"}}},
    )
    def get(self, request: Request, job_id: Any) -> Response:
        """Their ids."""
        job = _own(request, job_id)
        return Response([str(one.pk) for one in job.work_schedules.all()])


class Schedule(OwnJobs):
    """One work schedule."""

    @extend_schema(
        operation_id="work_schedule",
        summary="A work schedule: steps, outages, times",
        responses={200: answers.ScheduleAnswer, 202: NOT_YET, 429: BUSY},
    )
    def get(self, request: Request, job_id: Any, schedule_id: Any) -> Response:
        """The schedule as it is put now."""
        job = _own(request, job_id)
        kept = get_object_or_404(WorkSchedule, pk=schedule_id, job=job)
        try:
            task = asking.ask(schedule_work.WORK_SCHEDULE, job, question_of(kept))
        except asking.BusyError as error:
            return _waiting(None, str(error))
        if not task.result:
            return _waiting(task, gettext("Comparing two revisions, item by item."))
        found = arranged(schedule_work.plan_of(task.result), kept)
        return _response(answers.schedule(kept, found))
