"""What conductors fill of a raceway: their areas, the trade size, how many more go in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import floor, pi, sqrt

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.raceway_fill.entries import FilledRaceway, FilledWith
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True)
class FilledRow:
    """Conductors that are alike, with the cell of the area of one, in²."""

    row: FilledWith
    each: Cell

    @property
    def area(self) -> float:
        """in² of all of them."""
        return self.row.count * self.each.value

    @property
    def diameter(self) -> float:
        """in, of one."""
        return 2 * sqrt(self.each.value / pi)


@dataclass(frozen=True, slots=True, kw_only=True)
class RacewayFillOutcome(Outcome):
    """The ``rows``, how ``many`` conductors and their ``area``, in²; the trade size with the cell
    of its ``inside``, in², what may be filled (``allowed``, percent), the most ``alike`` conductors
    where all are alike (``None``: they are not), with the cell of the fraction that was rounded up
    (``None``: it was not); whether they ``fit``; how many ``more`` of the last row go in; the
    ``current`` carrying ones and the cell of their adjustment, with that of how many go
    ``unadjusted`` (``None``: no such rule); the ratio of diameters at which
    three alike may ``jam`` (``None``: not three)."""

    rows: tuple[FilledRow, ...]
    many: int
    area: float
    trade_size: str
    inside: Cell
    allowed: Cell
    alike: int | None
    rounded: Cell | None
    fit: bool
    more: int
    current: int
    adjustment: Cell | None
    unadjusted: Cell | None
    jam: float | None

    @property
    def percent(self) -> float:
        """What is filled, percent."""
        return 100 * self.area / self.inside.value


def calculate(entries: FilledRaceway, context: Context) -> RacewayFillOutcome:
    """Raises :class:`WrongEntryError` where no conductor is entered, ``NotCoveredError`` where no
    trade size takes them."""
    edition = context.edition
    rows = tuple(_filled(row, edition) for row in entries.conductors)
    if not rows:
        raise WrongEntryError("conductors", say("Needed: the conductors in it."))
    many, area = sum(one.row.count for one in rows), sum(one.area for one in rows)
    inside = _insides(entries, edition)
    field, trade = "trade_size", str(entries.trade_size)
    if entries.raceway == "wireway":
        field, trade = "wireway_size", str(entries.wireway_size)
    if trade != "auto":
        if trade not in inside:
            words = say("It is not made in that trade size.")
            raise WrongEntryError(field, words)
    else:
        sizes = (
            size for size, cell in inside.items() if _takes(rows, many, cell, entries, edition)[0]
        )
        trade = next(sizes, "")
        if not trade:
            words = say("a raceway for {count} conductors like these", count=many)
            raise NotCoveredError(edition.title, words)
    fit, alike, rounded = _takes(rows, many, inside[trade], entries, edition)
    allowed = _allowed(many, entries, edition)
    current = sum(one.row.count for one in rows if one.row.carries == "yes")
    free = _unadjusted(entries, edition)
    none = current < 1 or _nipple(entries) or (free is not None and fits(current, free.value))
    span = "" if none else edition.row_for("adjustment", current)
    last = rows[-1]
    return RacewayFillOutcome(
        rows=rows,
        many=many,
        area=area,
        trade_size=trade,
        inside=inside[trade],
        allowed=allowed,
        alike=alike,
        rounded=rounded,
        fit=fit,
        more=_more(rows, many, inside[trade], entries, edition),
        current=current,
        adjustment=edition.cell("adjustment", span, "percent") if span else None,
        unadjusted=free,
        jam=_inside_diameter(inside[trade]) / last.diameter
        if many == 3 and entries.raceway != "wireway" and len({r.each.value for r in rows}) == 1
        else None,
    )


def _insides(entries: FilledRaceway, edition: Edition) -> Mapping[str, Cell]:
    """The inside areas of the raceway's sizes, in²."""
    if entries.raceway == "wireway":
        return edition.cells("wireways", "in²")
    return edition.cells("raceways", f"{entries.raceway} in²")


def _nipple(entries: FilledRaceway) -> bool:
    return entries.nipple and entries.raceway != "wireway"


def _unadjusted(entries: FilledRaceway, edition: Edition) -> Cell | None:
    """How many current-carrying conductors of a wireway are not adjusted (376.22(B)); ``None``:
    none. A nipple's are not whatever their number."""
    return edition.limit("wireway_many") if entries.raceway == "wireway" else None


def _filled(row: FilledWith, edition: Edition) -> FilledRow:
    if row.size == "auto":
        words = say("Needed: the size of these conductors.")
        raise WrongEntryError(f"conductors.{row.id}.size", words)
    column = f"{edition.word('insulations', row.insulation, 'dimensions')} in²"
    return FilledRow(row, edition.cell("conductor_areas", Size(row.size), column))


def _allowed(many: int, entries: FilledRaceway, edition: Edition) -> Cell:
    """Percent that may be filled: of a nipple more (note 4)."""
    if entries.raceway == "wireway":
        return edition.limit("wireway_fill")
    if _nipple(entries):
        return edition.limit("nipple_fill")
    return edition.cell("raceway_fill", edition.row_for("raceway_fill", many), "percent")


def _takes(
    rows: tuple[FilledRow, ...],
    many: int,
    inside: Cell,
    entries: FilledRaceway,
    edition: Edition,
) -> tuple[bool, int | None, Cell | None]:
    """Whether a raceway takes the conductors; of conductors that are alike how many, and the cell
    of the fraction that was rounded up for it (note 7)."""
    allowed = _allowed(many, entries, edition).value * inside.value / 100
    area = sum(one.area for one in rows)
    if entries.raceway == "wireway" or len({one.each.value for one in rows}) > 1:
        return fits(area, allowed), None, None
    exact = allowed / rows[0].each.value
    most = floor(exact + 1e-9)
    up = edition.limit("fill_round_up") if edition.has_limit("fill_round_up") else None
    if up is not None and fits(up.value, exact - most):
        return many <= most + 1, most + 1, up
    return many <= most, most, None


def _more(
    rows: tuple[FilledRow, ...],
    many: int,
    inside: Cell,
    entries: FilledRaceway,
    edition: Edition,
) -> int:
    """How many more of the last row go in."""
    found = 0
    while found < MOST_MORE:
        last = rows[-1]
        row = last.row.model_copy(update={"count": last.row.count + found + 1})
        tried = (*rows[:-1], FilledRow(row, last.each))
        if not _takes(tried, many + found + 1, inside, entries, edition)[0]:
            break
        found += 1
    return found


MOST_MORE = 400  # no code figure: as many as an entry takes


def _inside_diameter(inside: Cell) -> float:
    return 2 * sqrt(inside.value / pi)
