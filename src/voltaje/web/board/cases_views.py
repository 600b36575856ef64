"""Operating cases of the circuits below a part, as a table: circuits down, cases across. Written to
files and read back into the table, where it is looked at before it is kept."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.text import slugify
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.entries import NAME_LENGTH, fields
from voltaje.core.quantities import read_number
from voltaje.core.report import figure
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.table_files import UnreadableFileError, uploaded, write_csv, write_xlsx
from voltaje.web.jobs.models import Job, Part
from voltaje.web.planning.balance_views import part_of, spread_of

MOST_CASES = 12
MOST_ROWS = 300


@dataclass
class CaseLine:
    """A circuit in the table: its part, the board it stands on, its share by case as kept."""

    part: Part
    board: str
    kept: Mapping[str, str]
    texts: list[str] = field(default_factory=list)
    errors: list[str] = field(default_factory=list)

    @property
    def cells(self) -> list[tuple[int, str, str, str]]:
        """Number of the case, text, text as kept, error."""
        was = [*self.kept.values()]
        was += [""] * (len(self.texts) - len(was))
        errors = self.errors or [""] * len(self.texts)
        return list(zip(range(len(self.texts)), self.texts, was, errors, strict=False))


def _lines(job: Job, part: Part) -> tuple[list[str], list[CaseLine]]:
    """The cases below a part, and its circuits with their shares in them."""
    spread = spread_of(job, part)
    if spread is None:
        return [], []
    by_id = {str(one.pk): one for one in job.loaded()}
    names = [case.name for case in spread.cases[1:]]
    home = {s.device.key: k for k, one in spread.boards.items() for s in one.seats}
    found = []
    here = {piece.part for piece in spread.pieces}
    for key, one in by_id.items():
        if key not in here or not _has_cases(job, one):
            continue
        shares = {str(r.get("name", "")): str(r.get("share", "")) for r in _rows(one)}
        kept = {name: shares.get(name, "") for name in names}
        line = CaseLine(one, spread.names.get(home.get(key, ""), ""), kept)
        line.texts = [*kept.values()]
        found.append(line)
    return names, found


def _has_cases(job: Job, part: Part) -> bool:
    return any(spec.name == "cases" for spec in fields(job.entries_of(part.kind)))


def _rows(part: Part) -> list[dict[str, Any]]:
    rows = part.entries.get("cases", [])
    return rows if isinstance(rows, list) else []


@login_required
@require_http_methods(["GET", "POST"])
def cases(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The table, a file put into it, and keeping it as one revision."""
    job, part = part_of(request, job_id, part_id)
    names, lines = _lines(job, part)
    titles, errors, error = [*names, ""], [""] * (len(names) + 1), ""
    for line in lines:
        line.texts = [*line.texts, ""]
    status = 200
    if request.method == "POST" and "file" in request.FILES:
        try:
            titles = _from_file(request.FILES["file"], names, lines)
        except UnreadableFileError as found:
            error, status = str(found), 422
        errors = [""] * len(titles)
    elif request.method == "POST":
        with revisions.changing(job) as held:
            names, lines = _lines(held, part)
            titles, errors = _typed(request.POST, names, lines)
            bad = any(errors) or any(any(line.errors) for line in lines)
            if not bad:
                revisions.write(held, request.user, _states(titles, names, lines))
                messages.success(request, gettext("The operating cases were kept."))
                return redirect("jobs:balance", job.pk, part.pk)
        status = 422
    context = {
        "job": job,
        "part": part,
        "titles": list(zip(range(len(titles)), titles, [*names, "", ""], errors, strict=False)),
        "lines": lines,
        "error": error,
        "more": len(titles) <= MOST_CASES,
    }
    return render(request, "sheets/cases.html", context, status=status)


def _typed(posted: Any, names: list[str], lines: list[CaseLine]) -> tuple[list[str], list[str]]:
    """Titles and their errors, and the lines with their texts and errors, as they were typed. What
    another tab has kept meanwhile, and this one has changed too, is asked."""
    many = 0
    while many < MOST_CASES + 1 and f"case-{many}" in posted:
        many += 1
    titles = [intake.one_line(posted.get(f"case-{i}", ""), NAME_LENGTH) for i in range(many)]
    errors = [""] * many
    for index, title in enumerate(titles):
        if title and title in titles[:index]:
            errors[index] = gettext("The same name stands before.")
    for line in lines:
        key = str(line.part.pk)
        line.texts, line.errors = [], []
        for index, title in enumerate(titles):
            text = intake.one_line(posted.get(f"share-{key}-{index}", ""), 20)
            was = posted.get(f"was-{key}-{index}", "")
            now = line.kept.get(posted.get(f"named-{index}", ""), "")
            text = now if text == was else text
            line.texts.append(text)
            line.errors.append(_wrong(text, title, was, now))
    return titles, errors


def _wrong(text: str, title: str, was: str, now: str) -> str:
    if was != now and text != now:
        return gettext("Another tab has kept “{theirs}” here since.").format(theirs=now)
    if not text:
        return ""
    if not title:
        return gettext("Give the case a name first.")
    try:
        value = read_number(text.removesuffix("%").strip())
    except (ValueError, OverflowError):
        value = -1.0
    if 0 <= value <= 100:
        return ""
    return gettext("Give 0 to 100, percent of the circuit’s load.")


def _states(
    titles: list[str], names: list[str], lines: list[CaseLine]
) -> dict[str, revisions.State]:
    """The parts whose shares differ from what is kept."""
    wanted: dict[str, revisions.State] = {}
    for line in lines:
        ids = {str(row.get("name", "")): str(row.get("id", "")) for row in _rows(line.part)}
        others = [row for row in _rows(line.part) if str(row.get("name", "")) not in names]
        rows = [
            {
                "id": ids.get(title) or uuid.uuid4().hex[:12],
                "name": title,
                "share": figure(read_number(text.removesuffix("%").strip()), 2),
            }
            for title, text in zip(titles, line.texts, strict=False)
            if title and text
        ]
        if [(r["name"], r["share"]) for r in rows] != [
            (name, text) for name, text in line.kept.items() if text
        ]:
            state = revisions.part_state(line.part)
            entries = {**line.part.entries, "cases": [*others, *rows]}
            wanted[str(line.part.pk)] = {**(state or {}), "entries": entries}
    return wanted


# files -------------------------------------------------------------------------------------------


def _table(job: Job, part: Part) -> list[list[str]]:
    names, lines = _lines(job, part)
    head = [gettext("Circuit"), gettext("Board"), *names]
    return [head, *([line.part.name, line.board, *line.kept.values()] for line in lines)]


@login_required
@require_GET
def as_file(request: HttpRequest, job_id: Any, part_id: Any, ending: str) -> HttpResponse:
    """The table as CSV or XLSX; an empty share is all of the load."""
    job, part = part_of(request, job_id, part_id)
    if ending not in ("csv", "xlsx"):
        raise Http404
    table, title = _table(job, part), gettext("Operating cases")
    if ending == "csv":
        response = HttpResponse(write_csv(table), "text/csv; charset=utf-8")
    else:
        kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        response = HttpResponse(write_xlsx(table, title, 2), kind)
    name = slugify(f"{part.name} cases") or "cases"
    response["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response


def _from_file(upload: Any, names: list[str], lines: list[CaseLine]) -> list[str]:
    """A file's shares put into the lines by the circuits' names (and boards, where it tells them);
    the titles with the cases that it adds. Raises :class:`UnreadableFileError`."""
    table = uploaded(upload, MOST_ROWS)
    heads = table[0]
    circuit = gettext("Circuit").lower()
    at = next((i for i, head in enumerate(heads) if head.lower() in (circuit, "name")), None)
    if at is None or len(heads) < 2:
        raise UnreadableFileError(
            gettext("The first row must name the columns: Circuit, Board, and a case for each.")
        )
    title = gettext("Board").lower()
    board = next((i for i, head in enumerate(heads) if head.lower() == title), None)
    found = [(i, h[:NAME_LENGTH]) for i, h in enumerate(heads) if h and i not in (at, board)]
    titles = [*names, *(name for _, name in found if name not in names)]
    if len(titles) > MOST_CASES:
        raise UnreadableFileError(
            gettext("At most {most} operating cases are taken.").format(most=MOST_CASES)
        )
    titles.append("")
    for line in lines:
        line.texts = [*line.kept.values(), *([""] * (len(titles) - len(names)))]
    for row in table[1:]:
        cells = [*row, *([""] * (len(heads) - len(row)))]
        for line in lines:
            same = line.part.name.lower() == cells[at].lower()
            if same and (board is None or not cells[board] or line.board == cells[board]):
                for index, name in found:
                    line.texts[titles.index(name)] = cells[index]
    return titles
