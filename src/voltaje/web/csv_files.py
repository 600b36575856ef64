"""Tables from files and for spreadsheets: what every upload and download of rows has in common."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Collection

MOST_BYTES = 500_000
LONGEST_CELL = 200
# a spreadsheet takes a text that begins so for a formula
FORMULA = ("=", "+", "-", "@", "\t", "\r")


class UnreadableFileError(ValueError):
    """A file that is not the table that is wanted. ``str()`` says what is."""


def is_number(text: str) -> bool:
    """Whether a cell is a plain number."""
    try:
        float(text)
    except ValueError:
        return False
    return True


def plain(text: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(FORMULA) and not is_number(text) else text


def cleaned(text: str) -> str:
    """A cell as it was before :func:`plain`, without what a database cannot hold."""
    return text.strip().removeprefix("'").replace("\0", "")[:LONGEST_CELL]


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
        raise UnreadableFileError("The file is not text: save it as CSV.")
    head = text.split("\n", 1)[0]
    try:
        return list(csv.reader(io.StringIO(text), delimiter=max(",;\t", key=head.count)))
    except csv.Error as error:
        raise UnreadableFileError(f"The file does not read as CSV: {error}.") from None


def posted_rows(text: str, columns: Collection[str], most: int) -> list[dict[str, str]]:
    """The rows that a preview carried along, read as warily as a file.

    Raises :class:`UnreadableFileError`.
    """
    try:
        found = json.loads(text)
    except (ValueError, RecursionError):
        found = None
    if not isinstance(found, list) or len(found) > most:
        raise UnreadableFileError("The preview is out of date: choose the file again.")
    return [
        {str(k): str(v).replace("\0", "")[:LONGEST_CELL] for k, v in row.items() if k in columns}
        for row in found
        if isinstance(row, dict)
    ]
