"""A job's materials: quantities, prices and hours by the account's list, orders by supplier as
files, the list itself in and out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils.text import slugify
from django.utils.translation import get_language, gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.materials import GROUPS, MaterialLine, Takeoff
from voltaje.core.materials.pricing import PricedLine, PricedOrder, by_supplier, compared, priced
from voltaje.core.report import figure
from voltaje.web.background import asking
from voltaje.web.background.views import shown
from voltaje.web.http import table_files
from voltaje.web.http.requests import Request
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.views import own_job
from voltaje.web.materials import long_work, price_list
from voltaje.web.materials.models import PriceList

LISTED = 60  # no code figure: revisions, and jobs, to choose from
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class RatesForm(forms.ModelForm):  # type: ignore[type-arg]
    """Currency, the price of an hour, the mark-up."""

    currency = forms.RegexField(
        r"^[^\d\s]{1,8}$",
        label=gettext_lazy("Currency"),
        error_messages={"invalid": gettext_lazy("A sign or letters, like USD, £ or ZAR.")},
    )
    rate = forms.DecimalField(
        label=gettext_lazy("Price of an hour"), min_value=0, max_value=100_000, decimal_places=2
    )
    mark_up = forms.DecimalField(
        label=gettext_lazy("Mark-up on materials, %"), min_value=0, max_value=1000, decimal_places=2
    )

    class Meta:
        model = PriceList
        fields = ("currency", "rate", "mark_up")


@login_required
@require_http_methods(["GET", "POST"])
def materials(request: Request, job_id: Any) -> HttpResponse:
    """The page; a file of prices, or other rates."""
    job, kept = own_job(request, job_id), price_list.list_of(request.user)
    form, problem = RatesForm(instance=kept), ""
    if request.method == "POST":
        do = request.POST.get("do", "")
        if do == "rates":
            form = RatesForm(request.POST, instance=kept)
            if form.is_valid():
                form.save()
                return redirect("jobs:materials", job.pk)
        elif do == "forget":
            PriceList.objects.filter(owner=request.user).update(rows={})
            return redirect("jobs:materials", job.pk)
        else:
            problem = _import(request, kept)
            if not problem:
                return redirect("jobs:materials", job.pk)
    kept = price_list.list_of(request.user)  # as it is kept, whatever was typed
    context: dict[str, Any] = {"job": job, "form": form, "problem": problem, "prices": kept}
    try:
        task = asking.ask(long_work.MATERIALS, job, _question())
    except asking.BusyError as error:
        return render(request, "materials/page.html", {**context, "busy": str(error)}, status=429)
    context |= shown(task)
    if task.result:
        context |= _shown(job, kept, long_work.order_of(task.result))
        context |= _beside(request, job, kept, context["order"], task.result)
    failed = bool(problem or form.errors)
    return render(request, "materials/page.html", context, status=422 if failed else 200)


def _question() -> dict[str, Any]:
    return {"language": get_language() or "en"}


def _import(request: Request, kept: PriceList) -> str:
    """What is wrong with the file; ``""`` where its rows are kept."""
    upload = request.FILES.get("file")
    if upload is None:
        return gettext("Choose a CSV or XLSX file.")
    try:
        rows = price_list.read_file(upload)
    except table_files.UnreadableFileError as error:
        return str(error)
    kept.rows = {**kept.rows, **rows}
    if len(kept.rows) > price_list.MOST_ROWS:
        return gettext("A price list has at most {most} rows.").format(most=price_list.MOST_ROWS)
    kept.save()
    return ""


def priced_order(job: Job, kept: PriceList, order: Takeoff) -> PricedOrder:
    """An order at the prices of a list."""
    rate, mark_up = Decimal(kept.rate), Decimal(kept.mark_up)
    return priced(order, price_list.catalogue(kept), job.units == "us", rate, mark_up)


def _shown(job: Job, kept: PriceList, order: Takeoff) -> dict[str, Any]:
    """What the page shows of an order."""
    found = priced_order(job, kept, order)
    names = {str(part.pk): part.name for part in job.loaded()}
    groups = []
    for group, title in GROUPS.items():
        lines = [one for one in found.lines if one.line.group == group]
        if lines:
            groups.append((title, [(one, _quantity(one, job)) for one in lines]))
    return {
        "order": found,
        "groups": groups,
        "left": [(names.get(one.item, "–"), one.why) for one in order.left_out],
    }


@dataclass(frozen=True, slots=True)
class Other:
    """What an order is compared with: an earlier ``revision`` of the job, or another job of the
    account in the same units; in words."""

    key: str
    words: str
    job: Job
    revision: int | None = None


def _others(request: Request, job: Job) -> list[Other]:
    """What this job can be compared with: its revisions, the newest first, then other jobs."""
    found = [
        Other(
            str(one.number),
            gettext("revision {number}").format(number=one.number),
            job,
            one.number,
        )
        for one in job.revisions.filter(number__lt=job.revision)[:LISTED]
    ]
    jobs = Job.objects.of(request.user).filter(units=job.units, archived_at=None)
    jobs = jobs.exclude(pk=job.pk).order_by("name")[:LISTED]
    return [*found, *(Other(f"job:{one.pk}", one.name, one) for one in jobs)]


def _beside(
    request: Request, job: Job, kept: PriceList, now: PricedOrder, result: Mapping[str, Any]
) -> dict[str, Any]:
    """Another order beside this one, at the same prices, with what only one of the two leaves out:
    that is no saving."""
    others = _others(request, job)
    found: dict[str, Any] = {"others": others}
    chosen = next((one for one in others if one.key == request.GET.get("with", "")), None)
    if chosen is None:
        return found
    question = _question() if chosen.revision is None else {**_question(), "at": chosen.revision}
    try:
        task = asking.ask(long_work.MATERIALS, chosen.job, question)
    except asking.BusyError as error:
        return {**found, "busy": str(error), "chosen": chosen}
    if not task.result:
        return {**found, **shown(task), "chosen": chosen}
    then = priced_order(job, kept, long_work.order_of(task.result))
    changed = [
        (one, _length(one.before, one.line, job), _length(one.after, one.line, job))
        for one in compared(then, now)
    ]
    return {
        **found,
        "apart": list(_apart(chosen, task.result["left"], result["left"])),
        "chosen": chosen,
        "then": then,
        "changed": changed,
        "sizes": list(_sizes(chosen, task.result["sizes"], result["sizes"])),
        "more": now.total - then.total,
    }


def _apart(
    chosen: Other, then: Sequence[Sequence[str]], now: Sequence[Sequence[str]]
) -> Iterator[tuple[str, str, str]]:
    """Items that only one of two orders leaves out: name, which of them, why."""
    # items of another job are others; what is called the same is taken for the same
    at = 0 if chosen.revision is not None else 2
    before, after = ({(one[at], one[1]): one[2] for one in side} for side in (then, now))
    for key, name in before.items():
        if key not in after:
            yield name, chosen.words, key[1]
    for key, name in after.items():
        if key not in before:
            yield name, gettext("now"), key[1]


def _sizes(
    chosen: Other, then: Sequence[Sequence[str]], now: Sequence[Sequence[str]]
) -> Iterator[tuple[str, str, str]]:
    """Items with another device or other conductors: name, there, here."""
    at = 0 if chosen.revision is not None else 1
    before, after = ({one[at]: one for one in side} for side in (then, now))
    for key in dict.fromkeys((*before, *after)):
        one, other = before.get(key), after.get(key)
        name = (other or one or ("", ""))[1]
        sizes = (one[2] if one else "–", other[2] if other else "–")
        if sizes[0] != sizes[1]:
            yield name, *sizes


def _quantity(one: PricedLine, job: Job) -> str:
    return _length(one.ordered, one.line, job)


def _length(ordered: float, line: MaterialLine, job: Job) -> str:
    unit = ("ft" if job.units == "us" else "m") if line.unit == "m" else ""
    return f"{figure(ordered, 0)} {unit}".strip()


@login_required
@require_GET
def materials_file(request: Request, job_id: Any, name: str, ending: str) -> HttpResponse:
    """The ``order`` by supplier, or the ``prices`` to be filled in, as CSV or XLSX."""
    job = own_job(request, job_id)
    if name not in ("order", "prices") or ending not in ("csv", "xlsx"):
        raise Http404
    try:
        task = asking.ask(long_work.MATERIALS, job, _question())
    except asking.BusyError:
        return redirect("jobs:materials", job.pk)
    if not task.result:  # not yet: the page says how far it is
        return redirect("jobs:materials", job.pk)
    kept = price_list.list_of(request.user)
    found = priced_order(job, kept, long_work.order_of(task.result))
    total: tuple[str, tuple[int, ...]] = ("", ())
    if name == "order":
        table, numbers = _order_rows(found, kept, job), 3
        words = gettext("Total, at least") if found.unpriced else gettext("Total")
        total, formats = (words, (6,)), {4: "#,##0", 6: "#,##0.00"}
    else:
        table, numbers = price_list.as_rows(found.lines, job.units == "us"), 1
        formats = {2: "#,##0.00", 3: "0.00"}
    if ending == "xlsx":
        content: str | bytes = table_files.write_xlsx(
            table, gettext("Materials"), numbers, formats, total
        )
        kind = XLSX
    else:
        content, kind = table_files.write_csv(table), "text/csv; charset=utf-8"
    response = HttpResponse(content, kind)
    file = f"{slugify(job.name) or 'job'}-{name}-r{job.revision}.{ending}"
    response["Content-Disposition"] = f'attachment; filename="{file}"'
    return response


def _order_rows(found: PricedOrder, kept: PriceList, job: Job) -> list[list[str]]:
    """An order by supplier: nothing of circuits, as a wholesaler wants it."""
    unit = "ft" if job.units == "us" else "m"
    head = [gettext("Supplier"), gettext("Group"), gettext("Material"), gettext("Quantity")]
    head += [gettext("Unit"), gettext("Amount, {currency}").format(currency=kept.currency)]
    table = [head]
    for supplier, lines in by_supplier(found.lines):
        table += [_order_row(supplier, one, unit) for one in lines]
    return table


def _order_row(supplier: str, one: PricedLine, unit: str) -> list[str]:
    line, amount = one.line, "" if one.amount is None else f"{one.amount:f}"
    measure: Sequence[str] = (f"{one.ordered:.0f}", unit if line.unit == "m" else "")
    return [supplier, str(GROUPS[line.group]), str(line.label), *measure, amount]
