"""Terms of cables against the term of a conduit or a trunking."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.trunking.entries import CableInside, TrunkingEntries
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context

# sizes that have a table's figures of their own, and those that take a multiple of the largest
TABLED = ("16", "20", "25", "32")
LARGER = {"38": "conduit_38", "50": "conduit_50", "63": "conduit_63"}


@dataclass(frozen=True, slots=True)
class Termed:
    """Cables that are alike, with the cell of the term of one."""

    row: CableInside
    each: Cell

    @property
    def term(self) -> float:
        """The terms of all of them."""
        return self.row.count * self.each.value


@dataclass(frozen=True, slots=True)
class Room:
    """An enclosure's ``term``, by the cell of a table and the cell of a multiple of it (``None``:
    the table's own)."""

    size: str
    cell: Cell
    times: Cell | None = None

    @property
    def term(self) -> float:
        """What the terms of its cables may be together."""
        return self.cell.value * (self.times.value if self.times else 1.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class TrunkingOutcome(Outcome):
    """The ``rows`` of cables and what they come to (``term``), the enclosure that was taken
    (``room``), how many ``more`` of the last row go in; ``short``: a straight conduit to which the
    terms of short runs apply, up to the cell of ``straight`` metres."""

    rows: tuple[Termed, ...]
    term: float
    room: Room
    more: int
    short: bool
    straight: Cell | None

    @property
    def holds(self) -> bool:
        """Whether the cables go in."""
        return fits(self.term, self.room.term)


def calculate(entries: TrunkingEntries, context: Context) -> TrunkingOutcome:
    """Raises :class:`WrongEntryError` where no cable is entered or an entry clashes,
    ``NotCoveredError`` where no enclosure takes them."""
    edition = context.edition
    if not entries.cables:
        raise WrongEntryError("cables", say("Needed: the cables in it."))
    conduit = entries.what == "conduit"
    straight = edition.limit("conduit_straight") if conduit else None
    short = conduit and straight is not None and _short(entries, straight)
    rows = tuple(_termed(row, entries, short, edition) for row in entries.cables)
    term = sum(one.term for one in rows)
    rooms = _conduits(entries, short, edition) if conduit else _trunkings(edition)
    wanted = entries.conduit if conduit else entries.trunking
    if wanted == "auto":
        room = next((one for one in rooms if fits(term, one.term)), None)
        if room is None:
            words = say("a conduit or a trunking for all of these")
            raise NotCoveredError(edition.title, words)
    else:
        room = next((one for one in rooms if one.size == wanted), None)
        if room is None:
            words = say("There is no term for this size at that length and with these bends.")
            raise WrongEntryError("conduit" if conduit else "trunking", words)
    return TrunkingOutcome(
        rows=rows,
        term=term,
        room=room,
        more=max(0, int((room.term - term) / rows[-1].each.value + 1e-9)),
        short=short,
        straight=straight,
    )


def _short(entries: TrunkingEntries, straight: Cell) -> bool:
    """Whether the terms of short straight runs apply."""
    if entries.bends != "0":
        return False
    return entries.length is None or fits(entries.length, straight.value)


def _termed(row: CableInside, entries: TrunkingEntries, short: bool, edition: Edition) -> Termed:
    if entries.what == "trunking":
        cell = edition.cell_or_none("trunking_cables", row.size, f"{row.strands} {row.insulation}")
    elif short:
        cell = edition.cell_or_none("conduit_short", row.size, row.strands)
    else:
        cell = edition.cell_or_none("conduit_cables", row.size, "term")
    if cell is None:
        words = say("There is no term for a cable of this size and make.")
        raise WrongEntryError(f"cables.{row.id}.size", words)
    return Termed(row, cell)


def _trunkings(edition: Edition) -> list[Room]:
    return [Room(size, cell) for size, cell in edition.cells("trunking_terms", "term").items()]


def _conduits(entries: TrunkingEntries, short: bool, edition: Edition) -> list[Room]:
    """Those that have a term, the smallest first."""
    if short:
        cells = edition.cells("conduit_short", "conduit")
        return [Room(size, cell) for size, cell in cells.items()]
    if entries.length is None:
        raise WrongEntryError("length", say("Needed: the length of a run with bends."))
    rows = edition.rows("conduit_terms")
    row = next((row for row in rows if fits(entries.length, float(row))), None)
    if row is None:
        words = say("A draw-in box is needed: there are terms up to {most} m.", most=rows[-1])
        raise WrongEntryError("length", words)
    columns = {size: f"{entries.bends} bends {size}" for size in TABLED}
    found = [
        Room(size, cell)
        for size, column in columns.items()
        if (cell := edition.cell_or_none("conduit_terms", row, column))
    ]
    if not found:
        words = say("A draw-in box is needed: there is no term for so many bends at this length.")
        raise WrongEntryError("length", words)
    last = found[-1].cell
    return found + [Room(size, last, edition.limit(name)) for size, name in LARGER.items()]
