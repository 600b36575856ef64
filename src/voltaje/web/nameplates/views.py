"""The pages of nameplates: an account's list, one of them, the one of an item."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.translation import gettext, ngettext
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.codes import edition, editions
from voltaje.core.kinds import Kind, kind
from voltaje.web.history.patch import as_text
from voltaje.web.history.revisions import RefusedError
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs.forms import NameField
from voltaje.web.jobs.views import own_part
from voltaje.web.nameplates import library
from voltaje.web.nameplates.models import Nameplate, NameplateUse
from voltaje.web.parts.form import FormField


@login_required
@require_GET
def nameplates(request: Request) -> HttpResponse:
    """The account's nameplates, and a new one by its kind."""
    book = request.GET.get("code", "")
    book = book if book in {one.id for one in editions()} else editions()[0].id
    plates = [
        (one, kind(one.kind).label, library.in_words(kind(one.kind), one.edition, one.entries),
         len({use.job_id for use in one.uses.all()}))
        for one in request.user.nameplates.defer("photo").prefetch_related("uses")
    ]  # fmt: skip
    context = {
        "plates": plates,
        "books": editions(),
        "book": book,
        "kinds": library.kinds_with_nameplates(book),
    }
    return render(request, "nameplates/list.html", context)


@login_required
@require_http_methods(["GET", "POST"])
def new(request: Request) -> HttpResponse:
    """A new nameplate of a kind under a code."""
    book, name = request.GET.get("code", ""), request.GET.get("kind", "")
    known = {one.id for one in editions()}
    found = library.kinds_with_nameplates(book) if book in known else []
    of = next((one for one in found if one.name == name), None)
    if of is None:
        raise Http404
    plate = Nameplate(owner=request.user, kind=of.name, edition=book)
    return _edited(request, plate, of)


@login_required
@require_http_methods(["GET", "POST"])
def nameplate(request: Request, plate_id: Any) -> HttpResponse:
    """One nameplate: corrected, with a photo, brought to the jobs that use it, deleted."""
    plate = get_object_or_404(Nameplate, pk=plate_id, owner=request.user)
    do = request.POST.get("do", "")
    if do == "delete":
        plate.delete()
        messages.success(request, gettext("The nameplate is deleted; no job was changed."))
        return redirect("nameplates:list")
    if do == "update":
        try:
            many = library.update(plate, request.user, request.POST.getlist("use"))
        except RefusedError as error:
            messages.error(request, str(error))
        else:
            words = ngettext("{n} item was updated.", "{n} items were updated.", many)
            messages.success(request, words.format(n=many))
        return redirect("nameplates:one", plate.pk)
    return _edited(request, plate, kind(plate.kind))


def _name(request: Request) -> tuple[str, str]:
    """The name that was given, and what is wrong with it."""
    words = gettext("A name of up to 80 characters, like Booster pump 2.")
    field = NameField(max_length=80, error_messages={"required": words, "max_length": words})
    raw = request.POST.get("name", "")
    try:
        return str(field.clean(raw)), ""
    except ValidationError as error:
        return raw, str(error.messages[0])


def _edited(request: Request, plate: Nameplate, of: Kind) -> HttpResponse:
    """The form; where it is sent and right, the nameplate is kept."""
    name, texts, wrong = plate.name, dict(plate.entries), {}
    if request.method == "POST":
        name, bad_name = _name(request)
        texts = library.typed(of, plate.edition, request.POST)
        wrong = library.problems(of, plate.edition, texts)
        if bad_name:
            wrong["name"] = bad_name
        photo = request.FILES.get("photo")
        picture = bytes(plate.photo)
        if request.POST.get("no_photo"):
            picture = b""
        if photo is not None:
            try:
                picture = library.photo_of(photo)
            except library.UnreadablePhotoError as error:
                wrong["photo"] = str(error)
        if not texts:
            wrong["entries"] = gettext("Give at least one entry of the nameplate.")
        full = plate._state.adding and request.user.nameplates.count() >= library.MOST
        if full:
            wrong["name"] = gettext("An account keeps at most {most} nameplates.").format(
                most=library.MOST
            )
        if not wrong:
            plate.photo = picture
            if plate._state.adding:
                plate.entries = texts
            library.correct(plate, name, texts)
            request.saved = True
            return redirect("nameplates:one", plate.pk)
    fields = [
        FormField(
            spec,
            spec.name,
            as_text(texts.get(spec.name, spec.default)),
            wrong.get(spec.name, ""),
        )
        for spec in library.specs_of(of, plate.edition)
    ]
    context = {
        "plate": plate,
        "kind": of,
        "book": edition(plate.edition),
        "name": name,
        "fields": fields,
        "wrong": wrong,
        "is_new": plate._state.adding,
        "uses": [] if plate._state.adding else library.uses_of(plate),
    }
    return render(request, "nameplates/one.html", context, status=422 if wrong else 200)


@login_required
@require_GET
def photo(request: Request, plate_id: Any) -> HttpResponse:
    """The photo of a nameplate."""
    plate = get_object_or_404(Nameplate, pk=plate_id, owner=request.user)
    if not plate.photo:
        raise Http404
    return HttpResponse(bytes(plate.photo), "image/jpeg")


@login_required
@require_http_methods(["GET", "POST"])
def of_item(request: Request, job_id: Any, part_id: Any) -> HttpResponse:
    """The nameplate of an item: one of the account's is used, or the item's entries are kept as
    one."""
    job, part = own_part(request, job_id, part_id)
    of = kind(part.kind)
    if not of.nameplate:
        raise Http404
    mine = library.typed(of, job.edition, part.entries)
    problem = ""
    if request.method == "POST":
        made = _of_item(request, job, part, mine)
        if isinstance(made, HttpResponse):
            return made
        problem = made
    used = NameplateUse.objects.filter(job=job, part_id=part.pk).select_related("nameplate").first()
    plates = request.user.nameplates.filter(kind=part.kind).defer("photo")
    context = {
        "job": job,
        "part": part,
        "kind": of,
        "mine": library.in_words(of, job.edition, mine),
        "used": used,
        "state": library.state_of(used.nameplate, used, part) if used else "",
        "plates": [(one, library.in_words(of, one.edition, one.entries)) for one in plates],
        "problem": problem,
        "name": request.POST.get("name", part.name),
    }
    return render(request, "nameplates/of_item.html", context, status=422 if problem else 200)


def _of_item(request: Request, job: Any, part: Any, mine: dict[str, str]) -> HttpResponse | str:
    """What was asked for is done, or what is wrong with it."""
    do = request.POST.get("do", "")
    if do == "forget":
        NameplateUse.objects.filter(job=job, part_id=part.pk).delete()
        return redirect("jobs:nameplate", job.pk, part.pk)
    if do == "keep":
        name, bad_name = _name(request)
        if bad_name:
            return bad_name
        if not mine:
            return gettext("The item has no entry of a nameplate yet.")
        if request.user.nameplates.count() >= library.MOST:
            return gettext("An account keeps at most {most} nameplates.").format(most=library.MOST)
        plate = request.user.nameplates.create(
            name=name, kind=part.kind, edition=job.edition, entries=mine
        )
        NameplateUse.objects.update_or_create(
            job=job,
            part_id=part.pk,
            defaults={"nameplate": plate, "version": plate.version, "entries": mine},
        )
        return redirect("nameplates:one", plate.pk)
    key = intake.key(request.POST.get("nameplate"))
    chosen = request.user.nameplates.filter(pk=key, kind=part.kind).first() if key else None
    if chosen is None:
        return gettext("Choose a nameplate of the list.")
    try:
        library.use(job, request.user, [part], chosen)
    except RefusedError as error:
        return str(error)
    return redirect("jobs:part", job.pk, part.pk)
