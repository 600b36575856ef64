"""Tables from files and for spreadsheets: what every upload and download of rows has in common."""

from __future__ import annotations

import csv
import io
import json
import math
import re
import zipfile
from collections.abc import Collection, Iterable, Mapping, Sequence
from types import MappingProxyType
from typing import Any

from django.utils.translation import gettext
from openpyxl import Workbook, load_workbook
from openpyxl.styles import Font

from voltaje.web.http import intake

MOST_BYTES = 500_000
LONGEST_CELL = 200
MOST_COLUMNS = 40
# of a workbook, unpacked: a table of 300 rows is under a tenth of it
MOST_UNPACKED = 3_000_000
MOST_INSIDE = 60
# everything of it but rows and texts (formats, names): a table's are a tenth of it, and what is
# left out of a workbook here would take its dates for numbers
MOST_FORMATS = 250_000
# a spreadsheet takes a text that begins so for a formula
FORMULA = ("=", "+", "-", "@", "\t", "\r")


class UnreadableFileError(ValueError):
    """A file that is not the table that is wanted. ``str()`` says what is."""


def is_number(text: str) -> bool:
    """Whether a cell is a plain number."""
    try:
        return math.isfinite(float(text))
    except ValueError:
        return False


def plain(text: str) -> str:
    """A cell that no spreadsheet takes for a formula, with an apostrophe before it. One that has an
    apostrophe of its own gets another, so that :func:`cleaned` gives back every text."""
    formula = text.startswith(FORMULA) and not is_number(text)
    return f"'{text}" if formula or text.startswith("'") else text


def cleaned(text: str) -> str:
    """A cell as it was before :func:`plain`, as text comes in everywhere."""
    found = text.strip()
    if found.startswith("'") and found[1:].startswith((*FORMULA, "'")):
        found = found[1:]
    return intake.one_line(found, LONGEST_CELL)


def uploaded(upload: Any, most_rows: int) -> list[list[str]]:
    """The rows of a file that somebody sent: CSV or XLSX, by the file's name. See
    :func:`read_table`."""
    if upload.size is not None and upload.size > MOST_BYTES:
        raise _too_large()
    return read_table(upload.name or "", upload.read(), most_rows)


def read_table(name: str, content: bytes, most_rows: int) -> list[list[str]]:
    """The one way in for tables: the rows of a CSV or XLSX file with their cells as they are kept,
    those in which nothing is written left out; the first names the columns.

    Raises :class:`UnreadableFileError` for what is larger than 500 kB, holds nothing or more rows
    than ``most_rows`` below the first.
    """
    if len(content) > MOST_BYTES:
        raise _too_large()
    is_book = name.lower().endswith(".xlsx")
    table = read_xlsx(content, most_rows) if is_book else read_csv(content)
    table = [row for row in table if any(text.strip() for text in row)]
    if not table:
        raise UnreadableFileError(gettext("The file is empty."))
    many = len(table) - 1
    if many > most_rows:
        # of a workbook only so many and a few more were read
        words = gettext("more than {most:,}").format(most=most_rows) if is_book else f"{many:,}"
        raise UnreadableFileError(
            gettext("{many} rows: at most {most:,} are taken.").format(many=words, most=most_rows)
        )
    # a workbook's texts are texts; only CSV needs an apostrophe before what looks like a formula
    clean = (lambda text: intake.one_line(text, LONGEST_CELL)) if is_book else cleaned
    return [[clean(text) for text in row] for row in table]


def by_column(
    table: Sequence[Sequence[str]], names: Mapping[str, str], needed: Collection[str] = ()
) -> list[dict[str, str]]:
    """The rows below the first by what their column is called in the program; ``names`` has that by
    the titles in small letters. What has no known title is passed over.

    Raises :class:`UnreadableFileError` where one of the ``needed`` columns is missing, or all are.
    """
    titled = [title_of(text, names) for text in table[0]]
    heads = [name for name, _ in titled]
    if not any(heads) or not set(needed) <= set(heads):
        known = ", ".join(dict.fromkeys(names))
        least = [title for title, name in names.items() if name in needed]
        if least:
            raise UnreadableFileError(
                gettext(
                    "The first row must name the columns, at least {needed}; known are {known}."
                ).format(needed=", ".join(least), known=known)
            )
        raise UnreadableFileError(
            gettext("The first row must name the columns; known are {known}.").format(known=known)
        )
    return [
        {
            head: with_unit(text, unit)
            for (head, unit), text in zip(titled, row, strict=False)
            if head
        }
        for row in table[1:]
    ]


# units that a title may carry for the bare figures below it
UNITS = {
    "kva": "kVA", "va": "VA", "kw": "kW", "w": "W", "watts": "W", "a": "A", "amps": "A", "amp": "A",
    "hp": "hp", "ft": "ft", "feet": "ft", "m": "m", "metres": "m", "meters": "m",
}  # fmt: skip
LENGTHS, LOADS = ("ft", "m"), ("load", "nameplate", "power")
_UNIT = re.compile(rf"[\s,(/\[]*\b({'|'.join(UNITS)})\.?[)\]]?$")
_BARE = re.compile(r"[\d.,½¼¾/ -]*\d[\d.,½¼¾/ -]*")


def title_of(text: str, names: Mapping[str, str]) -> tuple[str, str]:
    """What a column is called in the program, ``""`` where nothing is known of it, and the unit
    that its title carries: ``Load (kVA)``, ``Length, ft``."""
    plain = " ".join(text.lower().split())
    if plain in names:
        return names[plain], UNITS.get(plain, "")
    if (unit := _UNIT.search(plain)) and (name := names.get(plain[: unit.start()])):
        fits = name == "length" if UNITS[unit[1]] in LENGTHS else name in LOADS
        return (name, UNITS[unit[1]]) if fits else ("", "")  # "Phase A" is no line
    return "", ""


def with_unit(text: str, unit: str) -> str:
    """A bare figure with the unit of its column's title."""
    return f"{text} {unit}" if unit and _BARE.fullmatch(text) else text


def left_out(titles: Sequence[str], names: Mapping[str, str]) -> list[str]:
    """The titles that nothing is known of: their columns are passed over."""
    return [text for text in titles if text.strip() and not title_of(text, names)[0]]


def _too_large() -> UnreadableFileError:
    return UnreadableFileError(
        gettext("The file is larger than 500 kB: is it a table of this kind?")
    )


def read_csv(content: bytes) -> list[list[str]]:
    """The lines of a CSV file with commas, semicolons or tabs, in UTF-8 or Windows' own encoding.

    Raises :class:`UnreadableFileError`.
    """
    for encoding in ("utf-8-sig", "cp1252"):
        try:
            text = content.decode(encoding)
            break
        except UnicodeDecodeError:
            continue
    else:
        text = "\0"
    if "\0" in text:
        raise UnreadableFileError(gettext("The file is not text: save it as CSV."))
    head = text.split("\n", 1)[0]
    try:
        return list(csv.reader(io.StringIO(text), delimiter=max(",;\t", key=head.count)))
    except csv.Error as error:
        raise UnreadableFileError(
            gettext("This file cannot be read, because {error}.").format(error=error)
        ) from None


def read_xlsx(content: bytes, most_rows: int) -> list[list[str]]:
    """The lines of a workbook's first sheet, at most so many and a few more.

    Raises :class:`UnreadableFileError`, for a workbook that unpacks to more than such a table
    can be before any of it is unpacked.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            inside = archive.infolist()
            if len(inside) > MOST_INSIDE or sum(i.file_size for i in inside) > MOST_UNPACKED:
                raise UnreadableFileError(
                    gettext(
                        "This file cannot be read, because it unpacks to more than a table of this"
                        " kind can be: save the one sheet as CSV."
                    )
                )
            formats = [i for i in inside if not _holds_cells(i.filename)]
            if sum(i.file_size for i in formats) > MOST_FORMATS:
                raise UnreadableFileError(
                    gettext(
                        "This file cannot be read, because it holds more formats than a table of"
                        " this kind needs: save the one sheet as CSV."
                    )
                )
            # the directory may lie about the sizes: what is read is counted too
            for item in inside:
                with archive.open(item) as file:
                    if len(file.read(item.file_size + 1)) > item.file_size:
                        raise zipfile.BadZipFile(gettext("sizes that do not agree"))
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        lines = sheet.iter_rows(values_only=True, max_row=most_rows + 50, max_col=MOST_COLUMNS)
        return [[_cell(value) for value in line] for line in lines]
    except UnreadableFileError:
        raise
    except Exception as error:  # a broken workbook fails in whatever way its breach allows
        why = str(error).split("\n")[0][:80] or type(error).__name__
        raise UnreadableFileError(
            gettext(
                "This file cannot be read, because it does not open as XLSX ({why}): save it anew."
            ).format(why=why)
        ) from None


def _holds_cells(name: str) -> bool:
    return name.startswith("xl/worksheets/") or name == "xl/sharedStrings.xml"


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)


def write_csv(lines: Iterable[Sequence[str]]) -> str:
    """Lines of texts as CSV; the first holds the titles."""
    file = io.StringIO()
    csv.writer(file).writerows([[plain(text) for text in line] for line in lines])
    return file.getvalue()


def write_xlsx(
    lines: Sequence[Sequence[str]],
    title: str,
    numbers: int,
    formats: Mapping[int, str] = MappingProxyType({}),
    total: tuple[str, Sequence[int]] = ("", ()),
) -> bytes:
    """Lines of texts as a workbook of one sheet; the first holds the titles. Only the columns
    from ``numbers`` on may become numbers: a circuit named ``007`` stays that. ``formats`` are
    those of numbers by column, ``total`` the words of a last row and the columns that it adds up,
    as formulas; columns are counted from 1."""
    book = Workbook()
    sheet = book.active
    sheet.title = "".join(c for c in title if c.isprintable() and c not in "[]:*?/\\'")[
        :31
    ] or gettext("Board")
    for row, line in enumerate(lines, 1):
        for column, text in enumerate(line, 1):
            cell = sheet.cell(row, column)
            if column > numbers and is_number(text):
                cell.value = float(text)
                cell.number_format = formats.get(column, "General")
            elif text:
                cell.value = intake.text(text)
                cell.data_type = "s"  # a name is never a formula
    words, added = total
    if added and len(lines) > 1:
        end = len(lines) + 1
        sheet.cell(end, 1).value = words
        for column in added:
            cell = sheet.cell(end, column)
            cell.value = f"=SUM({cell.column_letter}2:{cell.column_letter}{end - 1})"
            cell.number_format = formats.get(column, "General")
        for cell in sheet[end]:
            cell.font = Font(bold=True)
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for column in sheet.columns:
        width = max(len(str(cell.value or "")) for cell in column)
        sheet.column_dimensions[column[0].column_letter].width = min(40, width + 2)
    sheet.freeze_panes = "B2"
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def posted_rows(text: str, most: int) -> list[dict[str, Any]]:
    """The rows that a preview carried along, read as warily as a file: a list of objects.

    Raises :class:`UnreadableFileError`.
    """
    try:
        found = json.loads(text)
    except (ValueError, RecursionError):
        found = None
    known = isinstance(found, list) and len(found) <= most
    if not known or not all(isinstance(row, dict) for row in found):
        raise UnreadableFileError(gettext("The preview is out of date: choose the file again."))
    rows: list[dict[str, Any]] = found
    return rows


def texts_of(row: dict[str, Any], columns: Iterable[str]) -> dict[str, str]:
    """The texts of a carried row, by the columns that are known."""
    return {c: cleaned(row[c]) for c in columns if isinstance(row.get(c), str)}
