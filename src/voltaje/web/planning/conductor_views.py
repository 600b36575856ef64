"""The conductors of a whole tree chosen together for the least metal or money, beside part by part;
applied as one revision, asked of the network before."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import get_language, gettext
from django.views.decorators.http import require_http_methods

from voltaje.core.report import figure
from voltaje.web.background import asking
from voltaje.web.background.models import BackgroundTask
from voltaje.web.background.views import shown
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.jobs.models import Job, Part
from voltaje.web.planning import long_work
from voltaje.web.planning.balance_views import part_of


@dataclass(frozen=True)
class ConductorRow:
    """A part on the page: its conductor now, part by part and together, with the percent lost, and
    whether it changes."""

    name: str
    key: str
    now: str
    alone: str
    together: str
    lost: str
    changes: bool


@dataclass(frozen=True)
class Total:
    """A column's foot: what it costs, and by the solved job the most that is lost to any load."""

    title: str
    amount: str
    lost: str
    unmet: tuple[str, ...]


@login_required
@require_http_methods(["GET", "POST"])
def metal(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The page, and applying what it shows."""
    job, part = part_of(request, job_id, part_id)
    if request.method == "POST":
        return _apply(request, job, part)
    aim = "money" if request.GET.get("aim") == "money" else "metal"
    question = {"part": str(part.pk), "aim": aim, "language": get_language()}
    context: dict[str, Any] = {"job": job, "part": part, "aim": aim}
    try:
        background = asking.ask(long_work.CONDUCTORS, job, question)
    except asking.BusyError as error:
        return render(request, "sheets/metal.html", {**context, "busy": str(error)}, status=429)
    context |= shown(background)
    if background.result is not None:
        context |= _found(job, background.result)
    return render(request, "sheets/metal.html", context)


def _found(job: Job, result: Mapping[str, Any]) -> dict[str, Any]:
    """What the page shows of a result."""
    context = {"tree": {name: result[name] for name in ("missing", "without", "priced")}}
    if not result["members"]:
        return context
    names = {str(one.pk): one.name for one in job.loaded()}
    unit = "kg" if result["aim"] == "metal" else ""
    titles = {
        "now": gettext("Existing"),
        "alone": gettext("Part by part"),
        "together": gettext("Chosen together"),
    }
    totals = [
        Total(
            title,
            "" if one["cost"] is None else _amount(one["cost"], unit),
            "" if one["lost"] is None else f"{figure(one['lost'], 1)} %",
            tuple(names[key] for key in one["unmet"]),
        )
        for name, title in titles.items()
        for one in (result["totals"][name],)
    ]
    alone, best = (result["totals"][name]["cost"] for name in ("alone", "together"))
    unmet = totals[-1].unmet
    return {
        **context,
        "aim": result["aim"],
        "rows": [
            ConductorRow(
                one["name"],
                one["key"],
                one["now"] or gettext("another"),
                one["alone"],
                one["together"],
                figure(one["lost"], 1),
                one["changes"],
            )
            for one in result["members"]
        ],
        "totals": totals,
        "saved": _amount(alone - best, unit),
        "percent": figure(100 * (alone - best) / alone if alone else 0.0, 0),
        "better": alone > best and not unmet,
        "proven": result["proven"],
        "unmet": unmet,
        "changed": sum(one["changes"] for one in result["members"]),
    }


def _amount(value: float, unit: str) -> str:
    return f"{figure(value, 1)} {unit}".strip()


def _apply(request: HttpRequest, job: Job, part: Part) -> HttpResponse:
    """Saves the conductors that were calculated as one revision."""
    done = BackgroundTask.objects.filter(job=job, work=long_work.CONDUCTORS.name, state="done")
    key = intake.key(request.POST.get("task"))
    task = done.filter(pk=key).first() if key else None
    with revisions.changing(job) as held:
        try:
            revisions.check_since(held, str(task.revision) if task else "")
        except revisions.LaterError as error:
            messages.error(request, str(error))
            return redirect("jobs:metal", job.pk, part.pk)
        wanted = {}
        if task is not None and task.result:
            wanted = {one["key"]: one for one in task.result["members"] if one["changes"]}
        if not wanted:
            messages.error(
                request,
                gettext("The job has changed since. Check it again: nothing was changed."),
            )
            return redirect("jobs:metal", job.pk, part.pk)
        by_id = {str(one.pk): one for one in held.loaded()}
        states: dict[str, revisions.State] = {}
        for key, one in wanted.items():
            state = revisions.part_state(by_id[key])
            entries = {**by_id[key].entries, one["entry"]: one["value"]}
            states[key] = {**(state or {}), "entries": entries}
        revisions.write(held, request.user, states)
    messages.success(request, gettext("The conductors were fixed; undo takes them back."))
    return redirect("jobs:part", job.pk, part.pk)
