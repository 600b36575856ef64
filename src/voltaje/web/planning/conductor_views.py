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
from django.utils.translation import gettext
from django.views.decorators.http import require_http_methods

from voltaje.core.job.conductor_plan import (
    Aim,
    Member,
    Plan,
    PlanTree,
    gather,
    part_by_part,
    settled,
)
from voltaje.core.kinds import Evaluated
from voltaje.core.report import figure
from voltaje.web.history import revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.worked import work_job
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
    tree = gather(job.inputs(), work_job(job), str(part.pk))
    aim: Aim = "money" if request.GET.get("aim") == "money" and tree.priced else "metal"
    context: dict[str, Any] = {"job": job, "part": part, "tree": tree, "aim": aim}
    if tree.members:
        context |= _found(job, part, tree, aim)
    return render(request, "sheets/metal.html", context)


def _found(job: Job, part: Part, tree: PlanTree, aim: Aim) -> dict[str, Any]:
    alone = part_by_part(tree, aim)
    seen: dict[str, float] = {}  # what the network says of the last plan

    def judge(plan: Plan) -> Mapping[str, float]:
        seen.clear()
        seen.update(_lost_by(_worked_with(job, tree, plan), tree))
        return seen

    best = settled(tree, aim, judge)
    names = {str(one.pk): one.name for one in job.loaded()}
    rows = [_row(member, alone, best) for member in tree.members]
    unit = "kg" if aim == "metal" else ""
    standing = [m.now.costs(aim) for m in tree.members if m.now is not None]
    known = len(standing) == len(tree.members)
    totals = [
        Total(
            gettext("Existing"),
            _amount(sum(standing), unit) if known else "",
            _most(_lost_by(work_job(job), tree)),
            (),
        ),
        Total(
            gettext("Part by part"),
            _amount(alone.costs(aim), unit),
            _most(_lost_by(_worked_with(job, tree, alone), tree)),
            tuple(names[key] for key in alone.unmet),
        ),
        Total(
            gettext("Chosen together"),
            _amount(best.costs(aim), unit),
            _most(seen),
            tuple(names[key] for key in best.unmet),
        ),
    ]
    saved = alone.costs(aim) - best.costs(aim)
    percent = 100 * saved / alone.costs(aim) if alone.costs(aim) else 0.0
    return {
        "rows": rows,
        "totals": totals,
        "saved": _amount(saved, unit),
        "percent": figure(percent, 0),
        "better": saved > 0 and not best.unmet,
        "proven": best.proven,
        "unmet": [names[key] for key in best.unmet],
        "changed": sum(row.changes for row in rows),
        "wanted": [
            (member.key, best.chosen[member.key].value)
            for member in tree.members
            if best.chosen[member.key] != member.now
        ],
    }


def _row(member: Member, alone: Plan, best: Plan) -> ConductorRow:
    chosen = best.chosen[member.key]
    return ConductorRow(
        member.name,
        member.key,
        member.now.conductor if member.now else gettext("another"),
        alone.chosen[member.key].conductor,
        chosen.conductor,
        figure(chosen.lost, 1),
        chosen != member.now,
    )


def _amount(value: float, unit: str) -> str:
    return f"{figure(value, 1)} {unit}".strip()


def _worked_with(job: Job, tree: PlanTree, plan: Plan) -> Mapping[str, Evaluated]:
    by_id = {str(one.pk): one for one in job.loaded()}
    changed = {
        member.key: {**by_id[member.key].entries, member.entry: plan.chosen[member.key].value}
        for member in tree.members
        if plan.chosen[member.key] != member.now
    }
    return work_job(job, changed)


def _most(lost: Mapping[str, float]) -> str:
    """The most that any load loses from the supply on."""
    return f"{figure(max(lost.values()), 1)} %" if lost else ""


def _lost_by(found: Mapping[str, Evaluated], tree: PlanTree) -> dict[str, float]:
    """Percent lost to each load, by the job's network."""
    return {
        way.load: volts.drop_total
        for way in tree.ways
        if (volts := found[way.load].volts) is not None and volts.drop_total is not None
    }


def _apply(request: HttpRequest, job: Job, part: Part) -> HttpResponse:
    """Keeps the conductors as one revision. What is no option any more is refused."""
    wanted = dict(item.split("=", 1) for item in request.POST.getlist("to") if "=" in item)
    with revisions.changing(job) as held:
        try:
            revisions.check_since(held, request.POST.get("revision", ""))
        except revisions.LaterError as error:
            messages.error(request, str(error))
            return redirect("jobs:metal", job.pk, part.pk)
        tree = gather(held.inputs(), work_job(held), str(part.pk))
        members = {member.key: member for member in tree.members}
        good = all(
            key in members and value in {option.value for option in members[key].options}
            for key, value in wanted.items()
        )
        if not wanted or not good:
            messages.error(
                request,
                gettext("The job has changed since. Check it again: nothing was changed."),
            )
            return redirect("jobs:metal", job.pk, part.pk)
        by_id = {str(one.pk): one for one in held.loaded()}
        states: dict[str, revisions.State] = {}
        for key, value in wanted.items():
            state = revisions.part_state(by_id[key])
            entries = {**by_id[key].entries, members[key].entry: value}
            states[key] = {**(state or {}), "entries": entries}
        revisions.write(held, request.user, states)
    messages.success(request, gettext("The conductors were fixed; undo takes them back."))
    return redirect("jobs:part", job.pk, part.pk)
