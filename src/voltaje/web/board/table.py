"""A board's circuits as a table: its columns, what each cell stands for, its rows as written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from django.utils.safestring import SafeString
from django.utils.translation import gettext, gettext_noop

from voltaje.core.entries import Document, FieldSpec, fields
from voltaje.core.kinds import Evaluated, kind
from voltaje.core.report import Report, figure, told
from voltaje.core.rules.interface import Code
from voltaje.web.history.patch import TEXT_LIMIT, as_text
from voltaje.web.http.markup import joined, tag
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import kinds_as_uses, plain_kind, rows_of
from voltaje.web.parts.templatetags.voltaje import shape

EDITED = {
    "name": gettext_noop("Name"),
    "use": gettext_noop("Use"),
    "load": gettext_noop("Load"),
    "connection": gettext_noop("Connection"),
    "line": gettext_noop("Line"),
    "length": gettext_noop("Length"),
    "position": gettext_noop("Place"),
    "shared_neutral": gettext_noop("Shares neutral"),
    "noncoincident_with": gettext_noop("Never runs with"),
}
# what people write above these columns; a unit may follow ("Load (kVA)", "Length, ft")
ALSO_CALLED = {
    "name": (
        "circuit", "description", "circuit description", "load served", "serves", "load name",
        "designation", "item",
    ),
    "use": ("type", "load type", "type of load"),
    "load": ("va", "kva", "kw", "w", "watts", "connected load", "rating", "power"),
    "connection": ("phases", "poles and neutral"),
    "line": ("phase", "ph"),
    "length": ("run", "distance", "one-way length", "length one way", "cable length"),
    "position": ("space", "way", "circuit no", "circuit no.", "ckt", "ckt no.", "no.", "position"),
}  # fmt: skip
WORKED = {
    "amperes": gettext_noop("Amperes"),
    "device": gettext_noop("Device A"),
    "conductor": gettext_noop("Conductors"),
    "drop_percent": gettext_noop("Drop %"),
    "drop_total": gettext_noop("From the supply %"),
    "volts_at_load": gettext_noop("Volts there"),
    "at": gettext_noop("On line"),
    "stands": gettext_noop("Stands in"),
}
# what a family has on the chart beside the door, after its own entries (``CHART``)
CHARTED = {
    "ground_conductor": gettext_noop("Protective conductor"),
    "loop_impedance": gettext_noop("Zs, Ω"),
    "maximum_loop_impedance": gettext_noop("Zs at most, Ω"),
}
NAME_LIMIT = 80


def load_entry(of: str, document: Mapping[str, Any]) -> str | None:
    """The entry that the load column stands for, ``None`` where there are several."""
    row = rows_of().get(of)
    return row.load(document) if row else None


def charted(code: Code) -> dict[str, str]:
    """The entries of a family that its circuit charts and files have too, with their titles."""
    names = code.wiring.CHART
    return {spec.name: spec.label for spec in fields(code.wiring) if spec.name in names}


def columns_of(code: Code) -> dict[str, str]:
    """All columns that a file may change."""
    return {**EDITED, **charted(code)}


def titles_of(code: Code) -> dict[str, str]:
    """The columns by their titles in small letters, as the program and as people write them."""
    own = {title.lower(): column for column, title in columns_of(code).items()}
    also = {title: column for column, titles in ALSO_CALLED.items() for title in titles}
    return {**also, **own}


def entry_of(of: str, document: Mapping[str, Any], column: str, code: Code) -> str | None:
    """The entry that a cell stands for, ``None`` where the kind has none."""
    if column == "load":
        return load_entry(of, document)
    if column == "use":
        return "use" if of == plain_kind() else None
    names = {spec.name for spec in fields(kind(of).entries_in(code))}
    return column if column in names else None


@dataclass(frozen=True, slots=True)
class TableCell:
    """One cell: its text as kept, the choices where there are any, its problem."""

    column: str
    text: str
    spec: FieldSpec | None
    problem: str = ""

    @property
    def shape(self) -> str:
        """What stands in the cell: the page builds it anew only where that has changed."""
        if self.column == "name":
            return "input"
        if self.spec is None:
            return "fixed"
        if self.spec.kind != "choice":
            return "input"
        return "choice " + " ".join(value for value, _ in self.spec.choices)


@dataclass(frozen=True, slots=True)
class CircuitRow:
    """One circuit of the board; ``more`` are the cells that only files and the chart have."""

    part: Part
    label: str
    cells: tuple[TableCell, ...]
    report: Report | None
    at: str
    stands: str
    problems: str
    more: tuple[TableCell, ...] = ()


def rows(job: Job, board: Part, found: Mapping[str, Evaluated]) -> list[CircuitRow]:
    """What stands on the board, in its order."""
    mine = found[str(board.pk)].outcome
    lines = mine.line_of if mine else {}
    stands = {s.device.key: s.name for s in mine.schedule.seats} if mine else {}
    all_of_them = gettext("all")
    made = []
    code, family = job.family, charted(job.family)
    for part in job.under(board):
        evaluated = found[str(part.pk)]
        words = {problem.path: problem.words for problem in evaluated.problems}
        specs = {spec.name: spec for spec in fields(job.entries_of(part.kind))}
        shown_entries = job.shown(part)
        cells = [TableCell("name", part.name, None)]
        shown: set[str] = set()
        for column in list(EDITED)[1:]:
            if column == "use" and part.kind in rows_of():
                cells.append(_use(part, words.get("use", ""), code))
                shown.add("use")
                continue
            entry = entry_of(part.kind, part.entries, column, code)
            if entry is None:
                text = _fixed(part, column)
                cells.append(TableCell(column, text, None))
                continue
            spec = specs[entry]
            text = as_text(shown_entries.get(entry, spec.default))
            shown.add(entry)
            cells.append(TableCell(column, text, spec, words.get(entry, "")))
        more = tuple(
            TableCell(name, as_text(shown_entries.get(name, specs[name].default)), specs[name])
            if name in specs
            else TableCell(name, "", None)
            for name in family
        )
        loose = " ".join(text for path, text in words.items() if path not in shown)
        made.append(
            CircuitRow(
                part,
                kind(part.kind).label,
                tuple(cells),
                evaluated.report,
                all_of_them if lines.get(key := str(part.pk)) == "all" else lines.get(key, ""),
                stands.get(key, ""),
                loose,
                more,
            )
        )
    return made


@cache
def uses(code: Code) -> FieldSpec:
    """What a row may be: the uses of a circuit, and the kinds that stand on a board as it does."""
    spec = next(s for s in fields(kind(plain_kind()).entries_in(code)) if s.name == "use")
    more = ((use, use) for use in kinds_as_uses(code))
    return replace(spec, choices=(*spec.choices, *more))


def _use(part: Part, problem: str, code: Code) -> TableCell:
    spec = uses(code)
    text = as_text(part.entries.get("use", spec.default))
    if part.kind != plain_kind():
        text = rows_of()[part.kind].use
    if text and text not in dict(spec.choices):  # of another family: kept, and shown as it is
        spec = replace(spec, choices=((text, text), *spec.choices))
    return TableCell("use", text, spec, problem)


def _fixed(part: Part, column: str) -> str:
    """What a cell says that cannot be typed into: the kind, or a load of several entries."""
    if column == "use":
        return told(kind(part.kind).label)
    if column == "load" and part.kind in rows_of():
        return gettext("see its sheet")
    return ""


def answers(found: list[CircuitRow]) -> dict[str, dict[str, str]]:
    """The worked columns of each row, as the page shows them."""
    return {str(row.part.pk): answer(row) for row in found}


def answer(row: CircuitRow) -> dict[str, str]:
    """The worked columns of one row."""
    worked = row.report
    if worked is None:
        return {
            "status": "incomplete",
            "amperes": "",
            "device": "",
            "conductor": "",
            "drop_percent": "",
            "drop_total": "",
            "volts_at_load": "",
            "at": row.at,
            "stands": row.stands,
            "words": row.problems,
        }
    texts = {
        name: _text(worked, name)
        for name in (
            "amperes",
            "device",
            "conductor",
            "drop_percent",
            "drop_total",
            "volts_at_load",
        )
    }
    bad = [str(f.words) for f in worked.findings if f.severity == worked.status != "pass"]
    return {
        "status": worked.status,
        **texts,
        "at": row.at,
        "stands": row.stands,
        "words": " ".join(bad),
    }


def _text(worked: Report, name: str) -> str:
    return result_text(worked, name, 1)


WHOLE_FROM = 100.0  # larger figures are told whole


def result_text(worked: Report | None, name: str, digits: int) -> str:
    """A result as it stands in a cell; empty where there is none."""
    result = worked.results.get(name) if worked else None
    if result is None:
        return ""
    if isinstance(result.value, str):
        return result.value
    return figure(result.value, digits if abs(result.value) < WHOLE_FROM else 0)


def state(found: list[CircuitRow], code: Code) -> dict[str, Any]:
    """The table for a page that is open: its rows in their order, each cell's text and problem;
    what stands in a cell where that is not what stands in an empty row."""
    usual = {column: cell.shape for column, cell in _blank_cells(code).items()}
    return {
        "order": [str(row.part.pk) for row in found],
        "answers": answers(found),
        "cells": {
            str(row.part.pk): {
                cell.column: {
                    "text": cell.text,
                    "problem": cell.problem,
                    "shape": cell.shape,
                    **(
                        {"inside": control(str(row.part.pk), cell, row.part.name)}
                        if cell.shape != usual[cell.column]
                        else {}
                    ),
                }
                for cell in row.cells
            }
            for row in found
        },
    }


def context(job: Job, board: Part, found: Mapping[str, Evaluated]) -> dict[str, Any]:
    """What the board's page shows besides its sheet."""
    made = rows(job, board, found)
    above = board.parent
    worked = found[str(above.pk)].brief if above else None
    return {
        "table_rows": joined(*(written(row, job) for row in made)),
        "table_columns": EDITED,
        "also_called": {column: "|".join(titles) for column, titles in ALSO_CALLED.items()},
        "blank_row": blank(job.family),
        "row_count": len(made),
        "above": above,
        "has_chart": bool(charted(job.family)),
        "above_head": worked.headline if worked else "",
    }


def written(row: CircuitRow, job: Job) -> SafeString:
    """A row as HTML. Written here and not in a template, for 84 of them come at once."""
    key, found = str(row.part.pk), answer(row)
    sheet = tag(
        "a",
        shape(found["status"]),
        href=f"/jobs/{job.pk}/parts/{key}/",
        aria_label=gettext("Sheet of {name}").format(name=row.part.name),
        data_status=found["status"],
    )
    cells = (_cell(key, cell, row.part.name) for cell in row.cells)
    first = (_pick(row.part.name), tag("td", sheet, class_="n"))
    return tag("tr", *first, *cells, *_answer_cells(found), data_part=key)


def _pick(name: str) -> SafeString:
    """The box by which a row is selected."""
    label = gettext("Select {name}").format(name=name)
    box = tag("input", type="checkbox", data_pick="row", aria_label=label)
    return tag("td", box, class_="pick")


NUMBERS = ("amperes", "device", "conductor", "drop_percent", "drop_total", "volts_at_load")


def _answer_cells(found: Mapping[str, str]) -> list[SafeString]:
    bad = found["words"]
    return [
        *(tag("td", found[name], class_="out", data_out=name) for name in ("at", "stands")),
        *(tag("td", found[name], class_="num out", data_out=name) for name in NUMBERS),
        tag("td", bad, class_="words", data_out="words", title=bad),
    ]


def _cell(key: str, cell: TableCell, row_name: str) -> SafeString:
    inside = control(key, cell, row_name)
    return tag("td", inside, data_col=cell.column, data_shape=cell.shape)


def control(key: str, cell: TableCell, row_name: str) -> SafeString:
    """What stands inside a cell."""
    label = told(EDITED[cell.column])
    if row_name:
        label = gettext("{column} of {row}").format(column=label, row=row_name)
    if cell.shape == "fixed":
        # in use and load the Tab key stops all the same, so that a hand that types across a row
        # finds each column where it was
        stop = None if cell.column in ("use", "load") else -1
        return tag(
            "input", class_="fixed", value=cell.text, readonly=True, tabindex=stop, aria_label=label
        )
    asked: dict[str, Any] = {
        "name": f"{key}:{cell.column}",
        "data_base": cell.text,
        "aria_label": label,
        "aria_invalid": "true" if cell.problem else None,
    }
    if cell.spec is not None and cell.spec.kind == "choice":
        choices = (
            tag("option", told(words), value=value, selected=value == cell.text)
            for value, words in cell.spec.choices
        )
        return tag("select", *choices, **asked)
    return tag(
        "input",
        value=cell.text,
        maxlength=NAME_LIMIT if cell.column == "name" else TEXT_LIMIT,
        autocomplete="off",
        spellcheck="false",
        class_="q" if cell.column in ("load", "length") else None,
        title=cell.problem or None,
        **asked,
    )


def _blank_cells(code: Code) -> dict[str, TableCell]:
    model = kind(plain_kind()).entries_in(code)
    specs = {spec.name: spec for spec in fields(model)} | {"use": uses(code)}
    cells = {"name": TableCell("name", "", None)}
    for column in list(EDITED)[1:]:
        cells[column] = TableCell(column, specs[column].default, specs[column])
    return cells


def blank(code: Code) -> SafeString:
    """The empty row at the foot, from which new circuits are made."""
    found = dict.fromkeys(("status", *WORKED, "words"), "")
    cells = (_cell("new", cell, "") for cell in _blank_cells(code).values())
    first = (_pick(gettext("the new circuit")), tag("td", "+", class_="n"))
    return tag("tr", *first, *cells, *_answer_cells(found), data_part="new", class_="new")


def text_of(of: str, document: Mapping[str, Any], entry: str | None, code: Code) -> str:
    """An entry of a document as the table shows it."""
    spec = next((s for s in fields(kind(of).entries_in(code)) if s.name == entry), None)
    return as_text(document.get(entry or "", spec.default if spec else ""))


def read_texts(texts: Mapping[str, str], part: Part | None, code: Code) -> dict[str, str]:
    """The cells that a row of a file names, choices as their values: ``space heating`` may be
    written as the page shows it or as it is kept. Empty cells say nothing."""
    known = columns_of(code)
    found = {column: text for column, text in texts.items() if text and column in known}
    if part is not None and part.kind not in rows_of():
        found.pop("use", None)
    if "use" in found:
        found["use"] = as_use(found["use"], code)
    of = part.kind if part and "use" not in found else ""
    of = kinds_as_uses(code).get(found.get("use", ""), of)
    for column in ("connection", "line", *charted(code)):
        if column in found:
            choices = _choices(column, of or plain_kind(), code)
            words = {label.lower(): value for value, label in choices}
            found[column] = words.get(found[column].lower(), found[column])
    return found


def as_use(text: str, code: Code) -> str:
    """A use as it is kept, from the words of the page or of the trade."""
    typed = text.strip().lower()
    words = {label.lower(): value for value, label in uses(code).choices}
    known = {name: row.use for row in rows_of().values() for name in row.also}
    return words.get(typed) or known.get(typed) or typed


def document_of(use: str, texts: Mapping[str, str], code: Code) -> tuple[str, Document]:
    """Kind and entries for a row of texts by column. ``use`` may name a kind: motor, cooking."""
    typed = as_use(use, code)
    of = kinds_as_uses(code).get(typed, plain_kind())
    document: Document = {}
    if of == plain_kind():
        document["use"] = typed or "general"
    for column in columns_of(code):
        if column in ("name", "use"):
            continue
        entry = entry_of(of, document, column, code)
        text = texts.get(column, "").strip()
        if entry is None or not text:
            continue
        found = {words.lower(): value for value, words in _choices(entry, of, code)}
        document[entry] = found.get(text.lower(), text)
    return of, document


def _choices(entry: str, of: str, code: Code) -> tuple[tuple[str, str], ...]:
    model = kind(of).entries_in(code)
    spec = next((s for s in fields(model) if s.name == entry), None)
    return spec.choices if spec else ()
