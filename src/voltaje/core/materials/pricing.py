"""Prices and hours of an order, by a catalogue of the user's own: what has no price is named, and a
sum without it is "at least". Amounts are rounded once a line, so that a paper adds up."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import ceil

from voltaje.core.materials.takeoff import GROUPS, MaterialLine, Takeoff, by_size
from voltaje.core.quantities import METRES_PER_FOOT, UnreadableError, read_number
from voltaje.core.report import Text, say

# what a price is for, as it is written, with the metres that it is for (0: a piece)
PER: Mapping[str, float] = {
    "": 0.0,
    "1": 0.0,
    "each": 0.0,
    "m": 1.0,
    "100 m": 100.0,
    "ft": METRES_PER_FOOT,
    "100 ft": 100 * METRES_PER_FOOT,
    "1000 ft": 1000 * METRES_PER_FOOT,
}
MOST_PRICE, MOST_HOURS = 1e7, 1e4  # no code figures: above them a figure is a slip
CENT = Decimal("0.01")
NOTHING = 1e-9  # no code figure: of a length that is whole but for the last digit


class PriceError(ValueError):
    """A row of a catalogue that cannot be read; ``words`` say what is accepted."""

    def __init__(self, words: Text) -> None:
        super().__init__(str(words))
        self.words = words


@dataclass(frozen=True, slots=True)
class CatalogueRow:
    """What one material costs: the ``price`` and the ``hours`` (``None``: not told) for as much as
    ``per`` says, and who supplies it."""

    key: str
    price: Decimal | None
    hours: Decimal | None
    per: str
    supplier: str = ""

    @property
    def metres(self) -> float:
        """The length that the price is for, m; 0 for a piece."""
        return PER[self.per]


@dataclass(frozen=True, slots=True)
class PricedLine:
    """A line of an order with what it comes to; ``None`` where that is not known."""

    line: MaterialLine
    row: CatalogueRow | None
    ordered: float
    amount: Decimal | None
    hours: Decimal | None


@dataclass(frozen=True, slots=True)
class PricedOrder:
    """All lines, what the materials and the hours come to, with the ``mark_up`` on materials and
    the ``labour`` at the rate; how many lines have no price, or no hours."""

    lines: tuple[PricedLine, ...]
    materials: Decimal
    mark_up: Decimal
    hours: Decimal
    labour: Decimal
    unpriced: int
    untimed: int

    @property
    def total(self) -> Decimal:
        """Everything together; at least that, where a line has no price."""
        return self.materials + self.mark_up + self.labour


def read_row(texts: Mapping[str, str]) -> CatalogueRow:
    """A row of a catalogue from its texts: ``key``, ``price``, ``hours``, ``per``, ``supplier``.
    Raises :class:`PriceError`."""
    key, per = texts.get("key", "").strip(), " ".join(texts.get("per", "").lower().split())
    if not key:
        raise PriceError(say("No key: take it from the list of a job’s materials."))
    if per not in PER:
        known = ", ".join(one for one in PER if one)
        words = say("Per “{per}”: one of {known}.", per=texts.get("per", ""), known=known)
        raise PriceError(words)
    price = _figure(texts.get("price", ""), MOST_PRICE, say("Price"))
    hours = _figure(texts.get("hours", ""), MOST_HOURS, say("Hours"))
    return CatalogueRow(key, price, hours, per, texts.get("supplier", "").strip())


def _figure(text: str, most: float, name: Text) -> Decimal | None:
    """A figure that is not below zero; ``None`` where nothing is given."""
    if not text.strip():
        return None
    try:
        value = read_number(text.strip())
    except (UnreadableError, ValueError, OverflowError):
        value = -1.0
    if not 0 <= value <= most:
        words = say(
            "{name}: “{text}” is no figure from 0 to {most}.", name=name, text=text, most=most
        )
        raise PriceError(words)
    return Decimal(f"{value:.10g}")


def priced(
    order: Takeoff,
    catalogue: Mapping[str, CatalogueRow],
    us: bool,
    rate: Decimal = Decimal(0),
    mark_up: Decimal = Decimal(0),
) -> PricedOrder:
    """An order at a catalogue's prices, lengths in whole feet or metres; ``rate`` for an hour,
    ``mark_up`` in percent of the materials. A price for a piece does not fit a length, nor the
    reverse: such a line has none."""
    lines = tuple(_line(line, catalogue.get(line.key), us) for line in order.lines)
    materials = sum((one.amount for one in lines if one.amount is not None), Decimal(0))
    hours = sum((one.hours for one in lines if one.hours is not None), Decimal(0))
    return PricedOrder(
        lines,
        materials,
        _cents(materials * mark_up / 100),
        hours,
        _cents(hours * rate),
        sum(one.amount is None for one in lines),
        sum(one.hours is None for one in lines),
    )


def ordered(line: MaterialLine, us: bool) -> float:
    """How much is ordered: whole feet or metres, never short; pieces as they are."""
    if line.unit != "m":
        return line.quantity
    unit = METRES_PER_FOOT if us else 1.0
    return float(ceil(line.quantity / unit - NOTHING))


def _line(line: MaterialLine, row: CatalogueRow | None, us: bool) -> PricedLine:
    amount, length = ordered(line, us), line.unit == "m"
    if row is None or (row.metres > 0) != length:
        return PricedLine(line, None, amount, None, None)
    unit = METRES_PER_FOOT if us else 1.0
    share = Decimal(repr(amount * unit / row.metres if length else amount))
    return PricedLine(
        line,
        row,
        amount,
        None if row.price is None else _cents(row.price * share),
        None if row.hours is None else _cents(row.hours * share),
    )


@dataclass(frozen=True, slots=True)
class ChangedLine:
    """A material of which two orders have not the same: how much ``before`` and ``after``, and what
    the difference comes to (``None``: it has no price)."""

    line: MaterialLine
    before: float
    after: float
    difference: Decimal | None


def compared(before: PricedOrder, after: PricedOrder) -> tuple[ChangedLine, ...]:
    """What the second order has more or less of, in the order of their lines; what only the first
    has stands where it would."""
    then = {one.line.key: one for one in before.lines}
    now = {one.line.key: one for one in after.lines}
    ranked = list(GROUPS)
    lines = {one.line.key: one.line for one in (*before.lines, *after.lines)}
    found = []
    for line in sorted(lines.values(), key=lambda one: (ranked.index(one.group), by_size(one))):
        had, has = then.get(line.key), now.get(line.key)
        amounts = [Decimal(0) if one is None else one.amount for one in (had, has)]
        known = amounts[0] is not None and amounts[1] is not None
        one, other = had.ordered if had else 0.0, has.ordered if has else 0.0
        if one != other:
            difference = (amounts[1] or Decimal(0)) - (amounts[0] or Decimal(0)) if known else None
            found.append(ChangedLine(line, one, other, difference))
    return tuple(found)


def _cents(value: Decimal) -> Decimal:
    return value.quantize(CENT, ROUND_HALF_UP)


def by_supplier(lines: Iterable[PricedLine]) -> Sequence[tuple[str, tuple[PricedLine, ...]]]:
    """The lines by who supplies them, in the order of the names; those without one last."""
    found: dict[str, list[PricedLine]] = {}
    for one in lines:
        found.setdefault(one.row.supplier if one.row else "", []).append(one)
    names = sorted(found, key=lambda name: (not name, name.lower()))
    return tuple((name, tuple(found[name])) for name in names)
