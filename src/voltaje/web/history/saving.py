"""What a part's page has changed, kept as one revision: entries, and on a board the cells of its
table, in one request and one answer.

The page numbers its requests. One that comes late, because a later one overtook it, is answered
but not done; one that comes again, because its answer was lost, is done again, which changes
nothing: what it makes has its id from the page, and its own texts are texts it may start from.
"""

from __future__ import annotations

from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBadRequest, JsonResponse
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.entries import name_units
from voltaje.core.kinds import kind
from voltaje.web.board import cells as board_patch
from voltaje.web.board import many as board_many
from voltaje.web.history import patch, revisions
from voltaje.web.history.revisions import GoneError, NothingToDoError, RefusedError, State
from voltaje.web.http import intake
from voltaje.web.jobs import actions, summary
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.kinds import presentation
from voltaje.web.parts.part_views import kept_response


def refused(error: RefusedError) -> JsonResponse:
    """A refusal in words that the page shows: nothing was changed."""
    gone = isinstance(error, GoneError)
    return JsonResponse({"words": str(error), "gone": gone}, status=409 if gone else 422)


@login_required
@require_POST
def save(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Keeps what changed; answers with the result of what is kept. 409 where the part is gone,
    422 with the reason where it is refused: then nothing of it is kept."""
    job = own_job(request, job_id)
    tab, number = intake.turn(request.POST)
    conflicts: list[patch.Conflict] = []
    made = None
    try:
        with revisions.changing(job) as held:
            part = actions.part_of(held, str(part_id))
            if number >= revisions.in_turn(held, tab, number):
                wanted = _wanted(held, part, request.POST, conflicts)
                made = revisions.write(held, request.user, wanted)
    except patch.BadPathError as error:
        return HttpResponseBadRequest(gettext("There is no entry {error}.").format(error=error))
    except RefusedError as error:
        return refused(error)
    # the page has the tree of the revision before, and answers and statuses come by themselves
    known = made is not None and request.POST.get("rev") == str(made.number - 1)
    part = actions.part_of(held, str(part_id))
    return kept_response(request, held, part, conflicts, tree_too=not known or _moves_parts(made))


def _moves_parts(revision: Any) -> bool:
    """Whether a revision changed what the tree shows besides answers: parts, names, places."""
    return any(
        item["before"] is None or item["after"] is None or item["before"]
        for item in revision.changes
    )


def _wanted(job: Job, part: Part, posted: Any, conflicts: list[patch.Conflict]) -> dict[str, State]:
    model = job.entries_of(part.kind)
    found = patch.read_patch(posted, model, kind(part.kind).former_entries)
    wanted: dict[str, State] = {}
    if found.texts or found.deleted:
        document, clashing = patch.apply(
            part.entries, found, model, job.units, job.usual_texts(part)
        )
        conflicts += clashing
        document = name_units(model, document, job.units)
        wanted[str(part.pk)] = {**revisions.part_state(part), "entries": document}
    if presentation(part.kind).table:
        wanted |= board_patch.wanted(job, part, board_patch.read(posted), conflicts)
    return wanted


@login_required
@require_POST
def many(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Sets one entry on several rows of a board, or puts them onto another board, as one revision;
    answers like :func:`save`. Asked twice by one request it is done once."""
    job = own_job(request, job_id)
    tab, number = intake.turn(request.POST)
    words = ""
    keys = [str(key) for value in request.POST.getlist("row") if (key := intake.key(value))]
    try:
        with revisions.changing(job) as held:
            part = actions.part_of(held, str(part_id))
            if not presentation(part.kind).table:
                raise Http404
            if not tab or number > revisions.in_turn(held, tab, number):
                if to := intake.key(request.POST.get("to")):
                    wanted, words = board_many.moving(held, part, keys, str(to))
                else:
                    entry, text = request.POST.get("entry", ""), request.POST.get("text", "")
                    wanted, words = board_many.setting(held, part, keys, entry, text)
                revisions.write(held, request.user, wanted)
    except RefusedError as error:
        return refused(error)
    return kept_response(request, held, actions.part_of(held, str(part_id)), words=words)


@login_required
@require_POST
def step(request: HttpRequest, job_id: Any, part_id: Any, action: str) -> HttpResponse:
    """Undo or redo asked by an open page: answers like :func:`save`, with the words for it.
    Asked twice by one request it is done once."""
    job = own_job(request, job_id)
    tab, number = intake.turn(request.POST)
    words = ""
    try:
        with revisions.changing(job) as held:
            if not tab or number > revisions.in_turn(held, tab, number):
                made = revisions.step_held(held, request.user, action)
                words = summary.of_step(action, made.summary)
    except NothingToDoError:
        words = summary.of_nothing(action)
        held = own_job(request, job_id)
    except RefusedError as error:
        return refused(error)
    try:
        part = actions.part_of(held, str(part_id))
    except GoneError as error:
        return refused(error)
    return kept_response(request, held, part, (), words)


@login_required
@require_GET
def done(request: HttpRequest, job_id: Any) -> HttpResponse:
    """The number of the last request of a tab that the job has done: a page that was left before
    its answer came asks what of its draft is kept already."""
    job = own_job(request, job_id)
    turn = job.turns.filter(tab=request.GET.get("tab", "")).first()
    return JsonResponse({"done": turn.number if turn else 0})
