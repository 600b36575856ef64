"""A board's circuits as CSV and XLSX: written out, and read back with what would change."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from openpyxl import Workbook, load_workbook
from openpyxl.styles import Font
from openpyxl.utils.exceptions import InvalidFileException

from voltaje.core.electrical.systems import SupplyPoint
from voltaje.core.entries import Document, name_units
from voltaje.core.parts import Context, evaluate, kind
from voltaje.web.csv_files import (
    MOST_BYTES,
    UnreadableFileError,
    cleaned,
    is_number,
    plain,
    read_csv,
)
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.patch import as_text
from voltaje.web.sheets import board_table
from voltaje.web.sheets.board_table import EDITED, WORKED, Row

MOST_ROWS = 500


@dataclass(frozen=True, slots=True)
class Change:
    """What one row of a file would do: ``what`` is new, changed, same or wrong."""

    number: int
    name: str
    what: str
    words: tuple[str, ...]
    kind: str
    document: Document
    part_id: str = ""


def header() -> list[str]:
    """The columns of a file; those after the entries are for reading only."""
    return [*EDITED.values(), *WORKED.values()]


def lines(rows: Sequence[Row]) -> list[list[str]]:
    """The rows of a file, choices in the words of the page."""
    found = []
    for row in rows:
        texts = []
        for cell in row.cells:
            words = dict(cell.spec.choices) if cell.spec else {}
            texts.append(words.get(cell.text, cell.text))
        worked = board_table.answer(row)
        found.append([*texts, *(worked[name] for name in WORKED)])
    return found


def to_csv(rows: Sequence[Row]) -> str:
    """The table as CSV."""
    file = io.StringIO()
    writer = csv.writer(file)
    writer.writerow(header())
    writer.writerows([[plain(text) for text in line] for line in lines(rows)])
    return file.getvalue()


def to_xlsx(rows: Sequence[Row], title: str) -> bytes:
    """The table as a workbook of one sheet."""
    book = Workbook()
    sheet = book.active
    sheet.title = "".join(c for c in title if c not in "[]:*?/\\")[:31] or "Board"
    sheet.append(header())
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for line in lines(rows):
        sheet.append([float(text) if is_number(text) else text for text in line])
        for cell in sheet[sheet.max_row]:
            if cell.data_type == "f":  # a name is never a formula
                cell.data_type = "s"
    for column in sheet.columns:
        width = max(len(str(cell.value or "")) for cell in column)
        sheet.column_dimensions[column[0].column_letter].width = min(40, width + 2)
    sheet.freeze_panes = "B2"
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def read(name: str, content: bytes) -> list[dict[str, str]]:
    """The rows of a file by column. Raises :class:`UnreadableFileError`."""
    if len(content) > MOST_BYTES:
        raise UnreadableFileError("The file is larger than 500 kB: is it a table of circuits?")
    table = _xlsx(content) if name.lower().endswith(".xlsx") else read_csv(content)
    if not table:
        raise UnreadableFileError("The file is empty.")
    wanted = {title.lower(): column for column, title in EDITED.items()}
    heads = [wanted.get(text.strip().lower(), "") for text in table[0]]
    if "name" not in heads:
        raise UnreadableFileError(
            "The first row must name the columns, at least Name; known are "
            f"{', '.join(EDITED.values())}."
        )
    found = [
        {head: cleaned(text) for head, text in zip(heads, row, strict=False) if head}
        for row in table[1:]
        if any(text.strip() for text in row)
    ]  # fmt: skip
    if len(found) > MOST_ROWS:
        raise UnreadableFileError(f"{len(found):,} rows: at most {MOST_ROWS} are taken.")
    return found


def _xlsx(content: bytes) -> list[list[str]]:
    try:
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, OSError):
        raise UnreadableFileError("The file does not open as XLSX: save it anew.") from None
    sheet = book.worksheets[0]
    return [
        [_cell(value) for value in row[:40]]
        for row in sheet.iter_rows(values_only=True, max_row=MOST_ROWS + 50)
    ]


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)


def compare(
    job: Job, found: Sequence[Mapping[str, str]], rows: Sequence[Row], point: SupplyPoint
) -> list[Change]:
    """What each row of a file would change on the board; rows are known by their names."""
    by_name = {row.part.name.lower(): row for row in rows}
    seen: set[str] = set()
    context = Context(job.code(), job.units, point, shop=job.shop())
    changes = []
    for index, texts in enumerate(found):
        name = texts.get("name", "").strip()
        number = index + 2
        if not name or len(name) > 80:
            words = "Needed: a name of 1 to 80 characters."
            changes.append(Change(number, name[:80], "wrong", (words,), "circuit", {}))
            continue
        if name.lower() in seen:
            words = "The same name stands in a row above."
            changes.append(Change(number, name, "wrong", (words,), "circuit", {}))
            continue
        seen.add(name.lower())
        row = by_name.get(name.lower())
        changes.append(_change(number, name, texts, row, job, context))
    return changes


def _change(
    number: int, name: str, texts: Mapping[str, str], row: Row | None, job: Job, context: Context
) -> Change:
    if row is None:
        of, typed = board_table.document_of(texts.get("use", ""), texts)
        document: Document = typed
        part: Part | None = None
    else:
        part = row.part
        of = part.kind
        use = texts.get("use") or as_text(part.entries.get("use", ""))
        _, typed = board_table.document_of(use if of == "circuit" else of, texts)
        if of == "circuit" and not texts.get("use"):
            typed.pop("use", None)
        known = set(kind(of).entries.model_fields)
        document = {**part.entries, **{k: v for k, v in typed.items() if k in known}}
    document = name_units(kind(of).entries, document, job.units)
    words = [p.words for p in evaluate(kind(of), document, context).problems]
    if words and kind(of).name in ("circuit", "motor", "cooking"):
        return Change(number, name, "wrong", tuple(words), of, document,
                      str(part.pk) if part else "")  # fmt: skip
    if part is None:
        shown = ", ".join(f"{key} {value}" for key, value in document.items())
        return Change(number, name, "new", (shown,), of, document)
    differing = tuple(
        f"{key} {as_text(part.entries.get(key, '')) or 'empty'} → {as_text(value) or 'empty'}"
        for key, value in document.items()
        if as_text(part.entries.get(key, "")) != as_text(value)
        and not _same_default(of, key, part.entries, value)
    )
    return Change(number, name, "changed" if differing else "same", differing, of, document,
                  str(part.pk))  # fmt: skip


def _same_default(of: str, key: str, entries: Document, value: object) -> bool:
    """An entry that is not there stands at its default: writing that out changes nothing."""
    info = kind(of).entries.model_fields.get(key)
    return key not in entries and info is not None and as_text(info.default) == as_text(value)
