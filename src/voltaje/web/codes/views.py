"""A rule or a table of an edition, with the cell marked, its source and how it was checked."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from voltaje.core.codes import Edition, NotCoveredError, RuleText, Table, editions
from voltaje.core.codes import edition as find_edition
from voltaje.core.rules.interface import code_of, families
from voltaje.web.http.requests import Request

BESIDE = 9


def _edition(edition_id: str) -> Edition:
    try:
        return find_edition(edition_id)
    except NotCoveredError as error:
        raise Http404 from error


@require_GET
def rule(request: Request, edition_id: str, topic: str) -> HttpResponse:
    """One rule: a page, or what a dialog shows of it."""
    code = _edition(edition_id)
    try:
        text = code.text(topic)
    except NotCoveredError as error:
        raise Http404 from error
    table = _table(code, topic)
    row, column = request.GET.get("row", ""), request.GET.get("column", "")
    context = {
        "edition": code,
        "text": text,
        "table": table,
        "row": row,
        "column": column,
        "strip": _strip(code, table, row, column) if table else None,
        # what stands in no code has no editions beside it
        "others": [
            (other, _text(other, topic))
            for other in editions(code.family)
            if other.id not in (edition_id, code.id)
        ],
    }
    template = "codes/_rule.html" if request.htmx else "codes/rule.html"
    return render(request, template, context)


AROUND = 2  # rows before and after a cell that its strip shows


@dataclass(frozen=True, slots=True)
class Strip:
    """A table around the cell that was read: the columns beside it, the rows before and after it
    (``None`` where the table goes on), and what the cell is in the other editions: the same,
    another figure, or not there (``None``)."""

    columns: tuple[str, ...]
    rows: tuple[tuple[str, tuple[str, ...]] | None, ...]
    elsewhere: tuple[tuple[Edition, str | None, bool], ...]


def _strip(code: Edition, table: Table, row: str, column: str) -> Strip | None:
    """The strip around a cell; ``None`` where no cell of the table was asked for."""
    if row not in table.rows or column not in table.columns:
        return None
    keys, columns = list(table.rows), list(table.columns)
    at, across = keys.index(row), columns.index(column)
    near = tuple(columns[max(0, across - 1) : across + 2])
    first, last = max(0, at - AROUND), min(len(keys), at + AROUND + 1)
    rows: list[tuple[str, tuple[str, ...]] | None] = [
        (key, tuple(table.rows[key].get(name, "") for name in near)) for key in keys[first:last]
    ]
    if first:
        rows.insert(0, None)
    if last < len(keys):
        rows.append(None)
    mine, elsewhere = table.rows[row][column], []
    for other in editions(code.family):
        if other.id == code.id:
            continue
        there = _table(other, table.topic)
        value = there.rows.get(row, {}).get(column) if there else None
        elsewhere.append((other, value or None, value == mine))
    return Strip(near, tuple(rows), tuple(elsewhere))


def _text(code: Edition, topic: str) -> RuleText | None:
    try:
        return code.text(topic)
    except NotCoveredError:
        return None


def _table(code: Edition, topic: str) -> Table | None:
    try:
        return code.table(topic)
    except NotCoveredError:
        return None


@require_GET
def rules(request: Request, edition_id: str) -> HttpResponse:
    """All rules and tables that the edition answers."""
    code = _edition(edition_id)
    texts = [code.text(topic) for topic in code.topics()]
    context = {"edition": code, "texts": texts, "editions": editions(code.family) or editions()}
    return render(request, "codes/rules.html", context)


@dataclass(frozen=True, slots=True)
class Listed:
    """A table as the browser lists it: its numbers by edition, whether the editions differ."""

    topic: str
    table: Table
    title: str
    numbers: tuple[tuple[Edition, str], ...]
    source: str
    checked: str
    checked_as: str
    differs: bool
    size: str


@require_GET
def tables(request: Request) -> HttpResponse:
    """All code tables, to be searched by number, by words or by what stands in them."""
    words = request.GET.get("q", "").strip()[:80]
    found = []
    for family in families():
        listed = [item for item in _listed(family.family) if _matches(item, words)]
        if listed:
            found.append((family, editions(family.family), listed))
    context = {"families": found, "q": words, "editions": editions()}
    template = "codes/_tables.html" if request.htmx else "codes/tables.html"
    return render(request, template, context)


@cache
def _listed(family: str) -> tuple[Listed, ...]:
    """The tables of a family's editions."""
    found = []
    codes = editions(family)
    for topic in codes[-1].topics() if codes else ():
        holders = [code for code in codes if _table(code, topic) is not None]
        if not holders:
            continue
        table = holders[-1].table(topic)
        numbers = tuple((code, code.text(topic).number) for code in holders)
        differs = len(holders) < len(codes) or any(
            code.table(topic).rows != table.rows for code in holders
        )
        checked = table.meta["checked"]
        found.append(
            Listed(
                topic,
                table,
                table.meta["title"],
                numbers,
                table.meta["source"],
                checked,
                table.meta.get("check", ""),
                differs,
                f"{len(table.rows)} × {len(table.columns)}",
            )
        )
    return tuple(sorted(found, key=lambda item: item.numbers[-1][1]))


def _matches(item: Listed, words: str) -> bool:
    table = item.table
    text = " ".join(
        [
            item.title,
            item.source,
            item.checked,
            item.topic,
            *(n for _, n in item.numbers),
            *table.rows,
            *table.columns,
        ]
    ).lower()
    return all(word in text for word in words.lower().split())


@require_GET
def side_by_side(request: Request, topic: str) -> HttpResponse:
    """One table in all editions of a family, what differs marked. Topics of several families have
    the same name where they ask the same: the address says which is meant."""
    asked = request.GET.get("family", "")
    every = [(code, table) for code in editions() if (table := _table(code, topic)) is not None]
    if not every:
        raise Http404
    known = {code.family for code, _ in every}
    family = asked if asked in known else every[0][0].family
    holders = [(code, table) for code, table in every if code.family == family]
    rows = list(dict.fromkeys(row for _, table in holders for row in table.rows))
    columns = list(dict.fromkeys(c for _, table in holders for c in table.columns))
    body = []
    differing = 0
    for row in rows:
        cells = []
        for column in columns:
            values = [table.rows.get(row, {}).get(column, "") for _, table in holders]
            differs = len(set(values)) > 1
            differing += differs
            cells.append((values, differs))
        body.append((row, cells))
    same = len(holders) == 1 or differing == 0
    context = {
        "topic": topic,
        "title": holders[-1][1].meta["title"],
        "key": holders[-1][1].key,
        "columns": columns,
        "body": body,
        "holders": [(code, code.text(topic), table) for code, table in holders],
        "missing": [code for code in editions(family) if code.id not in {c.id for c, _ in holders}],
        "elsewhere": [code_of(name) for name in sorted(known - {family})],
        "same": same,
        # few columns stand beside one another by edition; many share a cell
        "beside": not same and len(columns) * len(holders) <= BESIDE,
        "differing": differing,
        "unit": holders[-1][1].meta.get("unit", ""),
    }
    return render(request, "codes/side_by_side.html", context)
