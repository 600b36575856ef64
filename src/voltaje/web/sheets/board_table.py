"""A board's circuits as a table: its columns, what each cell stands for, its rows as written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from voltaje.core.entries import Document, FieldSpec, fields
from voltaje.core.parts import Evaluated, kind
from voltaje.core.worksheet import Worked, figure
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.patch import as_text
from voltaje.web.sheets.templatetags.voltaje import shape

EDITED = {
    "name": "Name", "use": "Use", "load": "Load", "connection": "Connection", "line": "Line",
    "length": "Length", "multiwire": "Shares neutral", "together": "Never runs with",
}  # fmt: skip
WORKED = {
    "amperes": "Amperes", "device": "Device A", "conductor": "Conductors",
    "drop_percent": "Drop %", "drop_total": "From the supply %", "volts_at_load": "Volts there",
    "at": "On line",
}  # fmt: skip
EXAMPLES = {"load": "1.8 kW", "length": "80 ft", "multiwire": "K1", "together": "Kilns"}
# kinds that are rows of the table; their one load column stands for an entry of each
LOADS = {"circuit": "load", "motor": "horsepower", "cooking": "nameplate"}


def load_entry(of: str, document: Mapping[str, Any]) -> str | None:
    """The entry that the load column stands for, ``None`` where there are several."""
    if of == "circuit":
        use = document.get("use", "general")
        return {"receptacles": "outlets", "air conditioning": None}.get(str(use), "load")
    if of == "cooking" and document.get("layout") == "together":
        return None
    return LOADS.get(of)


def entry_of(of: str, document: Mapping[str, Any], column: str) -> str | None:
    """The entry that a cell stands for, ``None`` where the kind has none."""
    if column == "load":
        return load_entry(of, document)
    if column == "use" and of != "circuit":
        return None
    names = {spec.name for spec in fields(kind(of).entries)}
    return column if column in names else None


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell: its text as kept, the choices where there are any, its problem."""

    column: str
    text: str
    spec: FieldSpec | None
    problem: str = ""


@dataclass(frozen=True, slots=True)
class Row:
    """One circuit of the board."""

    part: Part
    label: str
    cells: tuple[Cell, ...]
    worked: Worked | None
    at: str
    problems: str


def rows(job: Job, board: Part, found: Mapping[str, Evaluated]) -> list[Row]:
    """What stands on the board, in its order."""
    mine = found[str(board.pk)].worked
    made = []
    for part in job.under(board):
        evaluated = found[str(part.pk)]
        words = {problem.path: problem.words for problem in evaluated.problems}
        specs = {spec.name: spec for spec in fields(kind(part.kind).entries)}
        cells = [Cell("name", part.name, None)]
        shown: set[str] = set()
        for column in list(EDITED)[1:]:
            entry = entry_of(part.kind, part.entries, column)
            if entry is None:
                text = _fixed(part, column)
                cells.append(Cell(column, text, None))
                continue
            spec = specs[entry]
            text = as_text(part.entries.get(entry, spec.default))
            shown.add(entry)
            cells.append(Cell(column, text, spec, words.get(entry, "")))
        line = mine.results.get(f"line_of_{part.pk}") if mine else None
        loose = " ".join(text for path, text in words.items() if path not in shown)
        made.append(
            Row(part, kind(part.kind).label, tuple(cells), evaluated.worked,
                str(line.value) if line else "", loose)
        )  # fmt: skip
    return made


def _fixed(part: Part, column: str) -> str:
    """What a cell says that cannot be typed into: the kind, or a load of several entries."""
    if column == "use":
        return kind(part.kind).label
    if column == "load" and part.kind == "circuit":
        return as_text(part.entries.get("minimum_ampacity", ""))
    if column == "load" and part.kind == "cooking":
        return "see its sheet"
    return ""


def answers(found: list[Row]) -> dict[str, dict[str, str]]:
    """The worked columns of each row, as the page shows them."""
    return {str(row.part.pk): answer(row) for row in found}


def answer(row: Row) -> dict[str, str]:
    """The worked columns of one row."""
    worked = row.worked
    if worked is None:
        return {"status": "empty", "amperes": "", "device": "", "conductor": "", "drop_percent": "",
                "drop_total": "", "volts_at_load": "",
                "at": row.at, "words": row.problems}  # fmt: skip
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
    bad = [str(f.words) for f in worked.findings if f.severity == worked.status != "holds"]
    return {"status": worked.status, **texts, "at": row.at, "words": " ".join(bad)}


def _text(worked: Worked, name: str) -> str:
    result = worked.results.get(name)
    if result is None:
        return ""
    return result.value if isinstance(result.value, str) else figure(result.value, 1)


def context(job: Job, board: Part, found: Mapping[str, Evaluated]) -> dict[str, Any]:
    """What the board's page shows besides its sheet."""
    made = rows(job, board, found)
    above = board.parent
    worked = found[str(above.pk)].worked if above else None
    return {
        "table_rows": mark_safe("".join(written(row, job) for row in made)),
        "table_columns": EDITED,
        "blank_row": blank(),
        "row_count": len(made),
        "above": above,
        "above_head": worked.headline if worked else "",
    }


def written(row: Row, job: Job) -> SafeString:
    """A row as HTML. Written here and not in a template, for 84 of them come at once."""
    key = str(row.part.pk)
    name = escape(row.part.name)
    found = answer(row)
    cells = "".join(_cell(key, cell, name) for cell in row.cells)
    url = f"/jobs/{job.pk}/parts/{key}/"
    return mark_safe(
        f'<tr data-part="{key}"><td class="n"><a href="{url}" aria-label="Sheet of {name}"'
        f' data-status="{found["status"]}">{shape(found["status"])}</a></td>{cells}'
        f"{_answer_cells(found)}</tr>"
    )


def _answer_cells(found: Mapping[str, str]) -> str:
    numbers = "".join(
        f'<td class="num out" data-out="{column}">{escape(found[column])}</td>'
        for column in (
            "amperes",
            "device",
            "conductor",
            "drop_percent",
            "drop_total",
            "volts_at_load",
        )
    )
    return (
        f'<td class="out" data-out="at">{escape(found["at"])}</td>{numbers}'
        f'<td class="words" data-out="words" title="{escape(found["words"])}">'
        f"{escape(found['words'])}</td>"
    )


def _cell(key: str, cell: Cell, row_name: str) -> str:
    label = f"{EDITED[cell.column]} of {row_name}" if row_name else EDITED[cell.column]
    if cell.column != "name" and cell.spec is None:
        return f'<td class="fixed" data-col="{cell.column}">{escape(cell.text)}</td>'
    name = f"{key}:{cell.column}"
    text = escape(cell.text)
    bad = ' aria-invalid="true"' if cell.problem else ""
    hint = f' title="{escape(cell.problem)}"' if cell.problem else ""
    if cell.spec is not None and cell.spec.kind == "choice":
        found = "".join(
            f'<option value="{escape(value)}"{" selected" if value == cell.text else ""}>'
            f"{escape(words)}</option>"
            for value, words in cell.spec.choices
        )
        control = (
            f'<select name="{name}" data-base="{text}" aria-label="{label}"{bad}>{found}</select>'
        )
    else:
        quantity = ' class="q"' if cell.column in ("load", "length") else ""
        limit = 80 if cell.column == "name" else 200
        control = (
            f'<input name="{name}" value="{text}" data-base="{text}" maxlength="{limit}"'
            f' autocomplete="off" spellcheck="false" aria-label="{label}"{quantity}{bad}{hint}>'
        )
    return f'<td data-col="{cell.column}">{control}</td>'


def blank() -> SafeString:
    """The empty row at the foot, from which new circuits are made."""
    specs = {spec.name: spec for spec in fields(kind("circuit").entries)}
    cells = [Cell("name", "", None)]
    cells += [Cell(column, specs[column].default, specs[column]) for column in list(EDITED)[1:]]
    names = ("status", *WORKED, "words")
    found = dict.fromkeys(names, "")
    inside = "".join(_cell("new", cell, "") for cell in cells)
    return mark_safe(
        f'<tr data-part="new" class="new"><td class="n">+</td>{inside}{_answer_cells(found)}</tr>'
    )


def document_of(use: str, texts: Mapping[str, str]) -> tuple[str, Document]:
    """Kind and entries for a row of texts by column. ``use`` may name a kind: motor, cooking."""
    typed = use.strip().lower()
    labels = {words.lower(): value for value, words in _choices("use")}
    of = {"motor": "motor", "motor circuit": "motor", "cooking": "cooking", "range": "cooking",
          "cooking circuit": "cooking"}.get(typed, "circuit")  # fmt: skip
    document: Document = {}
    if of == "circuit":
        document["use"] = labels.get(typed, typed or "general")
    for column in ("load", "connection", "line", "length", "multiwire", "together"):
        entry = entry_of(of, document, column)
        text = texts.get(column, "").strip()
        if entry is None or not text:
            continue
        found = {words.lower(): value for value, words in _choices(entry, of)}
        document[entry] = found.get(text.lower(), text)
    return of, document


def _choices(entry: str, of: str = "circuit") -> tuple[tuple[str, str], ...]:
    spec = next((s for s in fields(kind(of).entries) if s.name == entry), None)
    return spec.choices if spec else ()
