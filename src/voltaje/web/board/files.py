"""A board's circuits as CSV and XLSX: written out, and read back with what would change.

A preview carries what it showed: the cells that the file names, the texts that were kept then.
When it is agreed to, these cells go the way of cells typed into the table, so what another tab
has changed since is a conflict, not overwritten.
"""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.utils.translation import gettext

from voltaje.core.electrical.systems import SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.interface import Code
from voltaje.web.board import cells as board_patch
from voltaje.web.board import table as board_table
from voltaje.web.board.table import CHARTED, NAME_LIMIT, WORKED, CircuitRow, columns_of
from voltaje.web.http import intake
from voltaje.web.http.table_files import (
    UnreadableFileError,
    by_column,
    left_out,
    posted_rows,
    texts_of,
    uploaded,
    write_csv,
    write_xlsx,
)
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import rows_of

MOST_ROWS = 300


@dataclass(slots=True)
class Change:
    """What one row of a file would do to the part ``key``: ``what`` is new, changed, same or
    wrong. ``texts`` are the cells it names, ``bases`` what was kept when the preview was made."""

    number: int
    name: str
    what: str
    words: list[str]
    key: str
    texts: dict[str, str] = field(default_factory=dict)
    bases: dict[str, str] = field(default_factory=dict)
    clashes: list[str] = field(default_factory=list)

    @property
    def takes(self) -> bool:
        """Whether it would change anything."""
        return self.what in ("new", "changed")


def header(code: Code) -> list[str]:
    """The columns of a file; those after the entries are for reading only."""
    beside = CHARTED if board_table.charted(code) else {}
    return [*columns_of(code).values(), *WORKED.values(), *beside.values()]


def lines(rows: Sequence[CircuitRow], code: Code) -> list[list[str]]:
    """The rows of a file under their titles, choices in the words of the page."""
    found = [header(code)]
    beside = CHARTED if board_table.charted(code) else {}
    for row in rows:
        texts = []
        for cell in (*row.cells, *row.more):
            words = dict(cell.spec.choices) if cell.spec else {}
            texts.append(words.get(cell.text, cell.text))
        worked = board_table.answer(row)
        charted = (board_table.result_text(row.report, name, 2) for name in beside)
        found.append([*texts, *(worked[name] for name in WORKED), *charted])
    return found


def to_csv(rows: Sequence[CircuitRow], code: Code) -> str:
    """The table as CSV."""
    return write_csv(lines(rows, code))


def to_xlsx(rows: Sequence[CircuitRow], title: str, code: Code) -> bytes:
    """The table as a workbook of one sheet."""
    return write_xlsx(lines(rows, code), title, len(columns_of(code)))


def read(upload: Any, code: Code) -> list[dict[str, str]]:
    """The rows of a file that was sent, by column. Raises :class:`UnreadableFileError`."""
    return read_and_passed(upload, code)[0]


def read_and_passed(upload: Any, code: Code) -> tuple[list[dict[str, str]], list[str]]:
    """The same, and the titles of the columns that are passed over."""
    table, titles = uploaded(upload, MOST_ROWS), board_table.titles_of(code)
    worked = {title.lower() for title in WORKED.values()}  # what the program itself writes besides
    passed = [text for text in left_out(table[0], titles) if text.strip().lower() not in worked]
    return by_column(table, titles, ("name",)), passed


def carried(text: str, code: Code) -> list[Change]:
    """The rows that a preview carried along. Raises :class:`UnreadableFileError`."""
    found, known = [], columns_of(code)
    for row in posted_rows(text, MOST_ROWS):
        key = intake.key(row.get("key"))
        number = row.get("number")
        texts, bases = row.get("texts"), row.get("bases")
        if key is None or not isinstance(number, int) or not 0 < number < 10**6:
            raise UnreadableFileError(gettext("The preview is out of date: choose the file again."))
        found.append(
            Change(
                number,
                "",
                str(row.get("what", ""))[:10],
                [],
                str(key),
                texts_of(texts, known) if isinstance(texts, dict) else {},
                texts_of(bases, known) if isinstance(bases, dict) else {},
            )
        )
    return found


def to_carry(changes: Iterable[Change]) -> str:
    """The other way: what a preview carries along."""
    return json.dumps(
        [
            {"key": c.key, "number": c.number, "what": c.what, "texts": c.texts, "bases": c.bases}
            for c in changes
            if c.takes
        ]
    )


def compare(
    job: Job,
    board: Part,
    found: Sequence[Mapping[str, str]],
    rows: Sequence[CircuitRow],
    point: SupplyPoint,
) -> list[Change]:
    """What each row of a file would change on the board; rows are known by their names."""
    by_name = {row.part.name.lower(): row for row in rows}
    seen: set[str] = set()
    changes = []
    for number, texts in enumerate(found, 2):
        name = texts.get("name", "")
        row = by_name.get(name.lower())
        key = str(row.part.pk) if row else str(uuid.uuid4())
        change = Change(number, name[:NAME_LIMIT], "wrong", [], key)
        changes.append(change)
        if not name or len(name) > NAME_LIMIT:
            change.words = [
                gettext("Needed: a name of 1 to {name_limit} characters.").format(
                    name_limit=NAME_LIMIT
                )
            ]
        elif name.lower() in seen:
            change.words = [gettext("The same name stands in a row above.")]
        else:
            change.texts = board_table.read_texts(texts, row.part if row else None, job.family)
            look(job, board, change, row, point)
        seen.add(name.lower())
    return changes


def look(job: Job, board: Part, change: Change, row: CircuitRow | None, point: SupplyPoint) -> None:
    """Works out what a row of a file would do to a circuit as it is now: its words, its bases."""
    kept = {cell.column: cell for cell in (*row.cells, *row.more)} if row else {}
    change.bases = {column: cell.text for column, cell in kept.items() if column in change.texts}
    change.name = change.texts.get("name", row.part.name if row else "")
    cells = board_patch.Cells({change.key: change.texts}, made=[] if row else [change.key])
    state = board_patch.wanted(job, board, cells, [])[change.key] or {}
    of, titles = kind(state["kind"]), columns_of(job.family)
    context = Context(job.code(), job.units, point, shop=job.shop())
    problems = [p.words for p in evaluate(of, state["entries"], context).problems]
    if problems and of.name in rows_of():
        change.what, change.words = "wrong", problems
    elif row is None:
        change.what = "new"
        change.words = [", ".join(f"{k} {v}" for k, v in state["entries"].items())]
    else:
        change.words = [
            f"{titles[column]} {cell.text or 'empty'} → {change.texts[column]}"
            for column, cell in kept.items()
            if column in change.texts and _differs(job, row.part, state, column)
        ]
        change.what = "changed" if change.words else "same"


def _differs(job: Job, part: Part, state: Mapping[str, Any], column: str) -> bool:
    if column == "name":
        return bool(state["name"] != part.name)
    if column == "use" and state["kind"] != part.kind:
        return True
    code, of = job.family, state["kind"]
    entry = board_table.entry_of(part.kind, {**part.entries, **state["entries"]}, column, code)
    was = board_table.text_of(part.kind, part.entries, entry, code)
    return entry is not None and was != board_table.text_of(of, state["entries"], entry, code)


def cells(changes: Iterable[Change], taken: Iterable[str]) -> board_patch.Cells:
    """The cells of the rows that are taken, as the table would send them."""
    wanted = set(taken)
    found = board_patch.Cells()
    for change in changes:
        if change.key not in wanted:
            continue
        found.texts[change.key] = change.texts
        if change.what == "new":
            found.made.append(change.key)
        for column, base in change.bases.items():
            found.bases[change.key, column] = (base,)
    return found
