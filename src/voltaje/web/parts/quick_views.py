"""Quick sheets: a part without a job, for anyone; filed into a job once signed in."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any
from urllib.parse import parse_qsl, urlencode

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import get_language, gettext, gettext_noop
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import Document, Entries, Problem, name_units
from voltaje.core.job.code_comparison import compare, counterpart, merged
from voltaje.core.kinds import Context, Evaluated, Kind, evaluate, kind
from voltaje.core.kinds.usual_below import GROUP
from voltaje.core.report import Text
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of
from voltaje.web.history.patch import read_form
from voltaje.web.jobs.actions import add_part, beginning, create_job, first_supply
from voltaje.web.jobs.models import SECOND, Job
from voltaje.web.kinds import presentation
from voltaje.web.parts import form
from voltaje.web.parts.respond import answer_state, result_context, result_response

PENDING = "quick_sheet"
USUAL_CODE = "nec-2020"
SUPPLY_OPEN = gettext_noop(
    "Supply: not chosen. Choose the system that feeds the load, like 208Y/120 V."
)


def _kind(name: str) -> Kind:
    try:
        of, shown = kind(name), presentation(name)
    except KeyError:
        raise Http404 from None
    if not shown.quick:
        raise Http404
    return of


def systems_of(name: str, code: str) -> list[str]:
    """The systems on which a kind of part may stand under a code edition."""
    of = code_of(edition(code).family)
    stands = kind(name).stands_on
    known = of.systems if stands is None else stands(of)
    return [system for system in presentation(name).systems if system in known]


def codes_of(name: str) -> list[str]:
    """The editions under which a kind of part is worked."""
    families = kind(name).families
    return [code.id for code in editions() if families is None or code.family in families]


def code_for(name: str, asked: str) -> str:
    """The edition asked for where the kind knows it; else the usual one."""
    known = codes_of(name)
    if asked in known:
        return asked
    return USUAL_CODE if USUAL_CODE in known else known[-1]


def quick_settings(name: str, given: Any) -> dict[str, str]:
    """Edition, system and units of a quick sheet; the usual ones where they are not known. A system
    that is given empty is open: no result until one is chosen."""
    known = codes_of(name)
    found = {"code": code_for(name, given.get("code", USUAL_CODE))}
    code, systems = code_of(edition(found["code"]).family), systems_of(name, found["code"])
    usual = presentation(name).usual_system
    # under another family's code its usual one with as many phases
    alike = [one for one in code.systems if SYSTEMS[one].phases == SYSTEMS[usual].phases]
    wanted = (given.get("system", ""), usual, *alike, *code.systems)
    still_open = given.get("system") == "" and presentation(name).on_supply
    found["system"] = "" if still_open else next(one for one in wanted if one in systems)
    second = given.get("second", "")
    found["second"] = second if second in known and second != found["code"] else ""
    units = given.get("units", "")
    found["units"] = units if units in ("us", "metric") else code.units
    return found


def quick_context(chosen: dict[str, str]) -> Context:
    units: Any = chosen["units"]
    code = edition(chosen["code"])
    return Context(code, units, supplied(SYSTEMS[chosen["system"]], code))


def quick_model(of: Kind, chosen: dict[str, str]) -> type[Entries]:
    """The entries under the code, and what only the second one asks."""
    own = of.entries_in(code_of(edition(chosen["code"]).family))
    if not chosen["second"]:
        return own
    other = of.entries_in(code_of(edition(chosen["second"]).family))
    return own if other is own else merged(own, other, SECOND)


def _beside(of: Kind, chosen: dict[str, str], document: Document, mine: Evaluated) -> Any:
    """The same sheet under the second code, on the same supply."""
    if not chosen["second"]:
        return {}
    context, book = quick_context(chosen), edition(chosen["second"])
    asked, _ = counterpart(of, document, context.code, code_of(book.family))
    other = evaluate(of, asked, replace(context, edition=book))
    found = compare(of, document, mine, other, (context.edition, book))
    return {"beside": found, "second": book}


def _asked(groups: list[form.FormGroup]) -> list[form.FormGroup]:
    """The groups of a sheet that stands by itself: nothing hangs below it."""
    return [group for group in groups if group.name != GROUP]


def _more(chosen: dict[str, str]) -> dict[str, str]:
    """The group of what only the second code asks."""
    if not chosen["second"]:
        return {}
    title = edition(chosen["second"]).title
    return {SECOND: gettext("Asked by {code} alone").format(code=title)}


@dataclass(frozen=True, slots=True)
class WorkedExample:
    """An example as the gallery of an empty sheet shows it: its title, the query that fills the
    sheet, its answer in a line, its drawing."""

    title: Text
    asks: str
    answer: str
    drawing: SafeString


@lru_cache(maxsize=128)
def _worked(name: str, asks: str, language: str | None) -> tuple[str, SafeString]:
    """An example's answer and its drawing, by the query that fills its sheet."""
    of, given = kind(name), dict(parse_qsl(asks))
    chosen = quick_settings(name, given)
    document = read_form(given, quick_model(of, chosen), of.former_entries)
    found = evaluate(of, document, quick_context(chosen)).report
    drawing = result_context(found)["drawing"]
    if found is None or drawing is None:
        return "", SafeString("")
    views = getattr(drawing, "views", ())
    shown = views[0][2] if views else drawing
    html = render_to_string(shown.template, {"drawing": shown})
    # a picture alone: nothing in it is pressed, named or found by its id
    picture = html[html.index("<svg") : html.index("</svg>") + len("</svg>")]
    return str(found.headline), mark_safe(_LIVE.sub("", picture))


_LIVE = re.compile(r'\s(?:id|role|tabindex|aria-\w+|data-[\w-]+)="[^"]*"')


def gallery(name: str) -> list[WorkedExample]:
    """The examples of a kind, worked and drawn; the first six."""
    return [
        WorkedExample(one.title, one.asks(), *_worked(name, one.asks(), get_language()))
        for one in presentation(name).examples[:6]
    ]


@require_GET
def quick(request: HttpRequest, name: str) -> HttpResponse:
    """An empty sheet. What is typed stays in the browser until it is filed."""
    of = _kind(name)
    if of.name != name:  # an address of an earlier version
        query = request.GET.urlencode()
        address = reverse("sheets:quick", args=[of.name])
        return redirect(f"{address}?{query}" if query else address, permanent=True)
    chosen = quick_settings(name, request.GET)
    model, book = quick_model(of, chosen), edition(chosen["code"])
    document = read_form(request.GET.dict(), model, of.former_entries)
    context = {
        "kind": of,
        "chosen": chosen,
        "editions": [e for e in editions() if of.families is None or e.family in of.families],
        "in_lengths": not of.quick_only
        and (presentation(name).on_supply or presentation(name).runs),
        "gallery": gallery(name),
        "on_supply": presentation(name).on_supply and not of.quick_only,
        "systems": [SYSTEMS[key] for key in systems_of(name, chosen["code"])],
        "edition": book,
        "groups": _asked(form.build(of, model, document, (), _more(chosen), book)),
        "asked": bool(request.GET),
        "unread": request.GET.get("unread", "")[:80],
        **result_context(None),
    }
    return render(request, "sheets/quick.html", context)


@require_POST
def quick_work(request: HttpRequest, name: str) -> HttpResponse:
    """Recalculates what is being typed; keeps nothing."""
    of = _kind(name)
    chosen = quick_settings(of.name, request.POST)
    if not chosen["system"]:
        found = Evaluated(None, None, (Problem("system", gettext(SUPPLY_OPEN)),))
        return result_response(request, found, answer_state(request, found))
    document = read_form(request.POST.dict(), quick_model(of, chosen), of.former_entries)
    context = quick_context(chosen)
    found = evaluate(of, document, context)
    more = _beside(of, chosen, document, found)
    state = answer_state(request, found)
    return result_response(request, found, state, units=context.units, more=more)


@require_POST
def quick_file(request: HttpRequest, name: str) -> HttpResponse:
    """Takes what was typed along to the choice of a job, through sign-in if need be."""
    of = _kind(name)
    if of.quick_only:
        raise Http404
    chosen = quick_settings(of.name, request.POST)
    if not chosen["system"]:  # back to the sheet, which says at its supply what is asked for
        asked = [(key, text) for key, text in request.POST.items() if key != "csrfmiddlewaretoken"]
        return redirect(f"{reverse('sheets:quick', args=[name])}?{urlencode(asked)}")
    model = quick_model(of, chosen)
    typed = read_form(request.POST.dict(), model, of.former_entries)
    document = name_units(model, typed, quick_context(chosen).units)
    request.session[PENDING] = {"kind": of.name, "document": document, **chosen}
    return redirect("sheets:file")


@login_required
@require_http_methods(["GET", "POST"])
def file_into_job(request: HttpRequest) -> HttpResponse:
    """Which job? A new one, or one there is."""
    pending = request.session.get(PENDING)
    if pending is None:
        return redirect("jobs:list")
    jobs = Job.objects.of(request.user).filter(archived_at=None).order_by("-updated_at")
    error = ""
    if request.method == "POST":
        name = request.POST.get("name", "").strip()
        chosen_id = request.POST.get("job", "")
        job = next((item for item in jobs if str(item.pk) == chosen_id), None)
        if job is not None:
            supply = first_supply(job) or add_part(
                job, request.user, "supply", None, "", {"system": pending["system"]}
            )
            part = add_part(
                job, request.user, pending["kind"], str(supply.pk), "", pending["document"]
            )
            del request.session[PENDING]
            return redirect("jobs:part", job.pk, part.pk)
        if 0 < len(name) <= 80 and not chosen_id:
            job = create_job(
                request.user,
                name,
                pending["code"],
                pending["units"],
                pending["document"],
                pending["system"],
                begins=pending["kind"],
            )
            del request.session[PENDING]
            return redirect("jobs:part", job.pk, beginning(job).pk)
        error = gettext("Give the new job a name of 1 to 80 characters, or choose one of yours.")
    context = {
        "jobs": jobs,
        "error": error,
        "back": reverse("sheets:quick", args=[pending["kind"]]),
    }
    return render(request, "sheets/file.html", context, status=422 if error else 200)
