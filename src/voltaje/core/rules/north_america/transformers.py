"""Transformers: rated current, the most that their devices may be rated, sizes, impedance."""

from __future__ import annotations

from cmath import rect
from dataclasses import dataclass
from math import atan, sqrt
from typing import Literal

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.electrical.fault import FaultCurrent, behind
from voltaje.core.report import Rule, figure, fits, say
from voltaje.core.rules.north_america.overcurrent import standard_ratings

Scheme = Literal["primary only", "primary and secondary"]
Side = Literal["primary", "secondary"]


@dataclass(frozen=True, slots=True)
class Limit:
    """The most one side's device may be: ``percent`` of the rated current, the ``exact`` amperes,
    the ``standard`` rating it comes to, whether it is the next one up, and the rules."""

    percent: float
    exact: float
    standard: float
    next_size: bool
    rules: tuple[Rule, ...]


def rated_current(kva: float, volts: float, three_phase: bool) -> float:
    """kVA × 1000 ÷ V, or ÷ (√3 × V)."""
    return kva * 1000 / (sqrt(3) * volts if three_phase else volts)


def ratings_with_fuses(edition: Edition) -> list[float]:
    """All standard ratings, the small ones and 601 A that only fuses have among them, A."""
    fuses = edition.cells("fuse_ratings", "A").values()
    return sorted({*standard_ratings(edition), *(cell.value for cell in fuses)})


def protection(
    current: float, scheme: Scheme, side: Side, edition: Edition, control: bool = False
) -> Limit | None:
    """450.3(B) for a side of that rated current, A; ``None`` where it asks for no device.

    The next standard rating only where the table says 125 %; elsewhere the largest that is not
    above the figure. ``control`` is a motor control-circuit transformer.
    Raises :class:`NotCoveredError` where no standard rating is small enough.
    """
    topic, row = "transformer_protection", _row(current, scheme, side, edition)
    cell = edition.cell_or_none(topic, row, side)
    if cell is None:
        return None
    percent, rules = cell.value, (cell.rule,)
    may = edition.word(topic, row, f"{side} next") == "yes"
    if control and side == "primary" and not fits(edition.value("transformer_two"), current):
        most = edition.limit("transformer_control")
        percent, may = most.value, False
        rules = (most.rule,)
    return _standard(current, percent, may, rules, edition)


def _row(current: float, scheme: Scheme, side: Side, edition: Edition) -> str:
    at_9 = fits(edition.value("transformer_nine"), current)
    if scheme == "primary only":
        if at_9:
            return "primary only 9"
        two = fits(edition.value("transformer_two"), current)
        return "primary only 2" if two else "primary only 0"
    # the primary's 250 % stands in both rows; the secondary's own current chooses its row
    return "primary and secondary 9" if at_9 or side == "primary" else "primary and secondary 0"


def _standard(
    current: float, percent: float, may: bool, rules: tuple[Rule, ...], edition: Edition
) -> Limit:
    exact = current * percent / 100
    ratings = ratings_with_fuses(edition)
    below = [r for r in ratings if fits(r, exact)]
    if below and abs(below[-1] - exact) <= 1e-9 * exact:
        return Limit(percent, exact, below[-1], False, rules)
    if may:
        above = [r for r in ratings if not fits(r, exact)]
        if not above:
            raise NotCoveredError(
                edition.title, say("a device for {exact} A", exact=figure(exact, 0))
            )
        return Limit(percent, exact, above[0], True, (*rules, edition.rule("transformer_note_1")))
    if not below:
        raise NotCoveredError(
            edition.title, say("a standard device not above {exact} A", exact=f"{exact:.2f}")
        )
    return Limit(percent, exact, below[-1], False, rules)


def protection_high(
    current: float,
    impedance: float,
    supervised: bool,
    fuse: bool,
    secondary: bool,
    edition: Edition,
) -> tuple[Limit, Cell | None, bool]:
    """450.3(A): the primary above 1,000 V, the secondary's percent at 1,000 V and below (``None``:
    none asked), and whether the secondary's next standard size may be used: the rows of any
    location and of supervised primary-only protection allow it, the supervised rows with both
    sides protected do not. Raises :class:`NotCoveredError` above 10 % impedance."""
    if supervised and not secondary:
        row = "supervised primary only"
    else:
        place = "supervised" if supervised else "any location"
        rows = edition.rows("transformer_protection_high")
        # the rows of a place end in the impedance that they go to, in percent
        marks = sorted(
            float(r.split()[-1]) for r in rows if r.startswith(place) and r.split()[-1].isdigit()
        )
        mark = next((m for m in marks if fits(impedance, m)), None)
        if mark is None:
            raise NotCoveredError(
                edition.title, say("a transformer of {impedance} % impedance", impedance=impedance)
            )
        row = f"{place} {mark:g}"
    column = "primary fuse" if fuse else "primary breaker"
    topic = "transformer_protection_high"
    cell = edition.cell(topic, row, column)
    may = edition.word(topic, row, "primary next") == "yes"
    limit = _standard(current, cell.value, may, (cell.rule,), edition)
    second = edition.cell_or_none(topic, row, "secondary")
    return limit, second, edition.word(topic, row, "secondary next") == "yes"


def limit_at(current: float, percent: Cell, next_size: bool, edition: Edition) -> Limit:
    """A secondary at 1,000 V and below under 450.3(A)."""
    return _standard(current, percent.value, next_size, (percent.rule,), edition)


def standard_kva(needed: float, three_phase: bool, edition: Edition) -> float:
    """The smallest usual size that carries ``needed`` kVA. Raises :class:`NotCoveredError`."""
    column = "three-phase" if three_phase else "single-phase"
    for size in edition.cells("transformer_sizes", column).values():
        if fits(needed, size.value):
            return size.value
    raise NotCoveredError(
        edition.title,
        say("a usual {column} size for {needed} kVA", column=column, needed=figure(needed, 0)),
    )


def fault_at_secondary(
    kva: float,
    volts: float,
    three_phase: bool,
    impedance: float,
    source: complex = 0j,
    xr: float = 0.0,
    tolerance: float = 0.0,
) -> FaultCurrent:
    """The fault current at the secondary terminals: rated current ÷ per-unit impedance, behind the
    ``source``'s own, per unit of the transformer's rating (0: an infinite bus). ``impedance`` in
    percent, less its ``tolerance`` in percent of it, at X/R ``xr``."""
    rated = rated_current(kva, volts, three_phase)
    own = rect(impedance / 100 * (1 - tolerance / 100), atan(xr))
    return behind((source + own) * volts / rated, volts)


HOLDS_AT = 0.1  # s; common practice, no code figure


def lets_pass(rating: float, holds: float, seconds: float) -> float:
    """Amperes that a device of ``rating`` lets pass for ``seconds``, when it lets ``holds`` times
    its rating pass for 0.1 s: a curve of constant I²t, as a device's thermal part has. Common
    practice for a first look; the maker's curve decides."""
    return rating * holds * sqrt(HOLDS_AT / seconds)
